import { execFileSync } from 'node:child_process'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Readable } from 'node:stream'
import { buyBatch } from '@/usecases/dispatch/buyBatch'
import { followParcels } from '@/usecases/tracking/followParcels'
import { requestImport } from '@/usecases/intake/importOrders'
import { lookAtInvoice } from '@/usecases/ledger/invoices'
import { pinDecision } from '@/usecases/desk/pinDecision'
import { planBatch } from '@/usecases/dispatch/planBatch'
import { printBatch, printLabel, usualProfile, type PrintProfile } from '@/usecases/dispatch/printBatch'
import { showOrder } from '@/usecases/desk/showOrder'
import { showPacking } from '@/usecases/desk/showPacking'
import { removeSlip, previewSlip, saveSlip, showSlips } from '@/usecases/dispatch/slips'
import { trackByLink } from '@/usecases/tracking/trackParcel'
import { requestVoid } from '@/usecases/dispatch/voidLabel'
import { demoCarriers } from '../../../demo/carriers'
import { demoItems } from '../../../demo/items'
import { demoRulebook } from '../../../demo/rulebook'
import type { ShopOrder } from '../../../standins/channels/shop'
import { isPrinted, makeRig, soundOrders, type Rig } from './rig'

let rig: Rig
afterEach(() => rig.close())

const plain = soundOrders(1)[0]!
/** An order of these SKUs to a place. */
function orderOf(
  id: string,
  skus: readonly (readonly [sku: string, quantity: number])[],
  to: Partial<ShopOrder['ship_to']> = {},
): ShopOrder {
  return {
    ...plain,
    id,
    number: `MG-${id}`,
    payment: 'card',
    ship_to: {
      name: 'Noor Van Acker',
      company: '',
      street: ['Coupure Links 88'],
      city: 'Gent',
      postcode: '9000',
      region: '',
      country: 'BE',
      ...to,
    },
    lines: skus.map(([sku, quantity], i) => {
      const item = demoItems.find((candidate) => candidate.sku === sku)!
      return {
        id: String(i + 1),
        sku,
        title: item.title,
        quantity,
        price: item.price,
        weight_grams: item.weight,
        size_mm: [...item.size],
        tags: [...item.tags],
        un_number: item.dangerousGoods,
        hs_code: item.hsCode,
        origin: item.origin,
      }
    }),
  }
}
async function begin(...orders: ShopOrder[]): Promise<number[]> {
  rig = await makeRig({ rulebook: { ...demoRulebook, rules: [] } })
  await rig.stockShop(orders)
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  return (await rig.orders()).map(({ id }) => id)
}
async function buyAll(ids: readonly number[]): Promise<number> {
  const plan = await planBatch(rig.gharry, ids)
  expect(plan.blocked).toEqual([])
  const answer = await buyBatch(rig.gharry, ids, plan.total)
  if (!answer.ok) throw new Error(answer.sentence)
  await rig.workAll()
  return answer.batch
}
const folder = mkdtempSync(join(tmpdir(), 'gharry-print-'))
async function printed(batch: number, more: Partial<PrintProfile> = {}): Promise<string> {
  const file = isPrinted(await printBatch(rig.gharry, batch, { ...usualProfile, ...more }))
  const path = join(folder, `${batch}-${JSON.stringify(more).replace(/\W/g, '')}.${file.extension}`)
  writeFileSync(path, await bytesOf(file.content))
  return path
}
async function bytesOf(stream: Readable): Promise<Buffer> {
  const parts: Buffer[] = []
  for await (const part of stream) parts.push(Buffer.from(part as Buffer))
  return Buffer.concat(parts)
}
const textOf = (pdf: string): string => execFileSync('pdftotext', ['-layout', pdf, '-'], { encoding: 'utf8' })

test('a split order: each parcel has its number, its papers and its post; one mail; delivered when all are', async () => {
  const [id] = await begin(
    orderOf('split', [
      ['SUB-20KG', 2],
      ['TLS-TWEEZ', 1],
    ]),
  )
  expect(
    (await showPacking(rig.gharry, id!))!.parcels
      .map(({ parcel }) => parcel.contents.map(({ quantity }) => quantity).reduce((a, b) => a + b, 0))
      .reduce((a, b) => a + b, 0),
  ).toBe(3)
  const batch = await buyAll([id!])
  const [label] = await rig.labels()
  const view = (await showOrder(rig.gharry, id!))!
  expect(view.labels[0]!.parcels).toHaveLength(2)
  expect(label!.charged).toBe(label!.quoted)
  const [shop] = await rig.shopOrders()
  expect(shop!.status).toBe('fulfilled')
  expect(shop!.fulfilments.map((fulfilment) => fulfilment.tracking_number).sort()).toEqual(
    view.labels[0]!.parcels.map(({ number }) => number).sort(),
  )
  expect(
    shop!.fulfilments.flatMap((fulfilment) => fulfilment.lines).reduce((sum, line) => sum + line.quantity, 0),
  ).toBe(3)
  const mails = await rig.mails()
  expect(mails).toHaveLength(1)
  for (const { number } of view.labels[0]!.parcels) expect(mails[0]!.text).toContain(number)
  const text = textOf(await printed(batch))
  for (const part of ['Parcel 1 of 2', 'Parcel 2 of 2', '1 of 2', '2 of 2']) expect(text).toContain(part)
  for (let day = 0; day < 6; day++) await rig.nextDay()
  await followParcels(rig.gharry, label!.carrier)
  expect((await rig.orders())[0]!.state).toBe('delivered')
  expect((await trackByLink(rig.gharry, label!.token))!.parcels).toHaveLength(2)
})

test('a voided split label is taken back parcel by parcel', async () => {
  const [id] = await begin(orderOf('void', [['SUB-20KG', 2]]))
  await buyAll([id!])
  expect(await requestVoid(rig.gharry, (await rig.labels())[0]!.id)).toMatchObject({ ok: true })
  await rig.workAll()
  expect((await rig.shopOrders())[0]!.fulfilments.map((fulfilment) => fulfilment.withdrawn)).toEqual([true, true])
  expect((await rig.labels())[0]!.state).toBe('voided')
})

test('the whole way runs through all six carriers, with their faults on', async () => {
  const wanted: readonly (readonly [service: string, order: ShopOrder])[] = [
    ['heron-road', orderOf('heron', [['CO2-CART-3', 1]])],
    ['corvid-packet', orderOf('corvid', [['TLS-SCISS', 2]], { street: ['Postbus 44'] })],
    [
      'northlight-day',
      orderOf('north', [['PLT-ANUB-NANA', 2]], {
        country: 'FR',
        postcode: '75011',
        city: 'Paris',
        street: ['12 rue des Tilleuls'],
      }),
    ],
    [
      'skua-world',
      orderOf('skua', [['FLT-EXT-250', 1]], {
        country: 'US',
        postcode: '97205',
        city: 'Portland',
        region: 'OR',
        street: ['1250 Alder Street'],
      }),
    ],
    ['bramble-freight', orderOf('bramble', [['TNK-120', 1]])],
    ['dray-same-day', orderOf('dray', [['FLT-SPONGE', 1]])],
  ]
  const ids = await begin(...wanted.map(([, order]) => order))
  for (const { id } of demoCarriers) await rig.faults(id, { timeOutAfterWork: 2, serverError: 3 })
  for (const [i, [service]] of wanted.entries())
    expect(await pinDecision(rig.gharry, ids[i]!, 'picks', [{ by: 'service', service }])).toMatchObject({ ok: true })
  const batch = await buyAll(ids)
  const labels = await rig.labels()
  expect(labels.map(({ service, state }) => [service, state])).toEqual(wanted.map(([service]) => [service, 'bought']))
  expect((await rig.carrierLabels()).length).toBe(6)
  // A dollar tariff is brought into euros line by line, the charge as a whole: a cent a line at most.
  for (const label of labels)
    expect(Math.abs(label.charged! - label.quoted)).toBeLessThanOrEqual(label.carrier === 'skua' ? 4 : 0)
  expect(
    (await rig.shopOrders()).every((order) => order.status === 'fulfilled' && order.fulfilments.length === 1),
  ).toBe(true)
  const text = textOf(await printed(batch))
  for (const part of [
    'CUSTOMS DECLARATION',
    'CN 23',
    'Commercial invoice',
    'UNITED STATES',
    'HS tariff number 8421.21',
    'UN 1013',
  ])
    expect(text).toContain(part)
  expect(
    execFileSync('qpdf', ['--check', await printed(batch, { layout: 'a4-4', start: 2 })], { encoding: 'utf8' }),
  ).toContain('No syntax or stream encoding errors found')
  const zpl = (
    await bytesOf(
      isPrinted(await printBatch(rig.gharry, batch, { ...usualProfile, format: 'zpl', parts: 'labels' })).content,
    )
  ).toString()
  for (const label of labels) expect(zpl).toContain(label.trackingNumber!)
  for (const { id } of demoCarriers) await rig.faults(id, { timeOutAfterWork: 0, serverError: 0 })
})

test('what customs will ask is named before a label is bought', async () => {
  const order = orderOf('bare', [['FLT-EXT-250', 1]], {
    country: 'US',
    postcode: '97205',
    city: 'Portland',
    region: 'OR',
    street: ['1250 Alder Street'],
  })
  const [id] = await begin({
    ...order,
    lines: order.lines.map((line) => ({ ...line, sku: 'BARE', hs_code: '', origin: '' })),
  })
  expect((await rig.orders())[0]).toMatchObject({
    id,
    state: 'attention',
    problem: 'BARE has no HS code and no country of origin, which customs need: add it to the item list.',
  })
})

test('a rule’s extra documents are printed with the first parcel', async () => {
  rig = await makeRig({
    rulebook: {
      ...demoRulebook,
      rules: [
        {
          id: 'both',
          stage: 'papers',
          name: 'Both',
          on: true,
          when: { all: [] },
          then: [
            { set: 'slip', to: 'standard' },
            { set: 'documents', to: ['trade'] },
          ],
        },
      ],
    },
  })
  await rig.stockShop([orderOf('docs', [['SUB-20KG', 2]])])
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  const batch = await buyAll((await rig.orders()).map(({ id }) => id))
  expect(textOf(await printed(batch, { parts: 'slips' })).match(/Delivery note for order MG-docs/g)).toHaveLength(1)
  expect(await removeSlip(rig.gharry, 'trade', 1)).toMatchObject({ ok: false, code: 'in-use' })
})

test('papers come out sorted, and what was printed before says so', async () => {
  const ids = await begin(orderOf('2', [['TLS-TWEEZ', 1]]), orderOf('1', [['FLT-SPONGE', 1]]))
  const batch = await buyAll(ids)
  const first = textOf(await printed(batch, { sort: 'number', parts: 'slips' }))
  expect(first.indexOf('Order MG-1')).toBeLessThan(first.indexOf('Order MG-2'))
  expect(first).not.toContain('REPRINT')
  expect(textOf(await printed(batch, { sort: 'sku' })).match(/REPRINT/g)).toHaveLength(4)
  const asPicture: PrintProfile = { ...usualProfile, format: 'png', parts: 'labels', dpi: 300 }
  const image = isPrinted(await printLabel(rig.gharry, (await rig.labels())[0]!.id, asPicture))
  expect((await bytesOf(image.content)).subarray(1, 4).toString()).toBe('PNG')
  expect(
    (await showOrder(rig.gharry, ids[0]!))!.log.filter(({ sentence }) => sentence === 'Slip and label printed again')
      .length,
  ).toBeGreaterThan(0)
})

test('slip templates: seen before they are saved, refused when they make no sense, kept while a rule prints them', async () => {
  rig = await makeRig()
  await rig.stockShop([orderOf('1', [['PLT-ANUB-NANA', 3]])])
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  const view = (await showSlips(rig.gharry))!
  const slip = {
    ...view.slips[0]!,
    blocks: [
      { kind: 'text', text: 'Hello {{ buyer.firstName }}' },
      { kind: 'text', text: '{{ order.nonsense }}' },
      { kind: 'text', text: 'far', when: "order.country == 'US'" },
    ],
  }
  const preview = await previewSlip(rig.gharry, slip, 'MG-1')
  expect(preview).toMatchObject({ ok: true, number: 'MG-1', problems: [{ block: 1 }], left: [2] })
  expect(JSON.stringify(preview)).toContain(`Hello ${plain.customer.name.split(' ')[0]}`)
  expect(await previewSlip(rig.gharry, slip, 'MG-404')).toMatchObject({ ok: false, code: 'unknown-order' })
  expect(
    await saveSlip(rig.gharry, { ...slip, blocks: [{ kind: 'text', text: 'x'.repeat(1_000_000) }] }, view.version),
  ).toMatchObject({
    ok: false,
    sentence: expect.stringMatching(/^Block 1: text is longer than 20,000 characters/) as string,
  })
  // What cannot be read is said now, not at the next print.
  expect(await saveSlip(rig.gharry, slip, view.version)).toMatchObject({
    ok: false,
    code: 'bad-slip',
    sentence: expect.stringMatching(/^Block 2: /) as string,
  })
  const whole = { ...slip, blocks: slip.blocks.filter((_, i) => i !== 1) }
  expect(await saveSlip(rig.gharry, whole, view.version)).toMatchObject({ ok: true })
  expect(await saveSlip(rig.gharry, whole, view.version)).toMatchObject({ ok: false, code: 'world-changed' })
  expect(await removeSlip(rig.gharry, 'standard', view.version + 1)).toMatchObject({ ok: false, code: 'in-use' })
})

test('a return label goes into the box: its bars are read back, addressed to the location, and a service without returns is named', async () => {
  const returning = {
    id: 'r',
    stage: 'papers' as const,
    name: 'Back',
    on: true,
    when: { all: [] },
    then: [{ set: 'returnLabel', to: true }],
  }
  rig = await makeRig({ rulebook: { ...demoRulebook, rules: [returning] } })
  await rig.stockShop([orderOf('ret', [['TLS-TWEEZ', 1]])])
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  const [id] = (await rig.orders()).map((order) => order.id)
  await pinDecision(rig.gharry, id!, 'picks', [{ by: 'service', service: 'corvid-letter' }])
  expect((await rig.orders())[0]).toMatchObject({
    state: 'attention',
    problem: expect.stringContaining('Corvid Letter gives no return labels') as string,
  })
  await pinDecision(rig.gharry, id!, 'picks', [{ by: 'service', service: 'heron-road' }])
  const batch = await buyAll([id!])
  const back = (await rig.carrierLabels())[0]!.parcels[0]!
  expect(back.returnNumber).toMatch(/^00\d{18}$/)
  const path = await printed(batch)
  const text = textOf(path)
  expect(text).toContain('RETURN')
  const pages = text.split('\f')
  const returnPage = pages.find((page) => page.includes('RETURN'))!
  expect(returnPage.indexOf('Noor Van Acker')).toBeLessThan(returnPage.indexOf('Mossgill'))
  execFileSync('pdftoppm', ['-r', '203', '-png', path, join(folder, 'ret')])
  const read = execFileSync('sh', ['-c', `zbarimg -q --raw ${join(folder, 'ret')}*.png 2>/dev/null || true`], {
    encoding: 'utf8',
  })
  expect(read).toContain(back.returnNumber!)
  expect(read).toContain(back.trackingNumber)
  const invoice = Buffer.from(`tracking number,amount\n${back.returnNumber},4.20\n`)
  expect(await lookAtInvoice(rig.gharry, 'heron', invoice)).toMatchObject({
    ok: true,
    differing: [{ orderId: id, billed: 420, expected: null, what: 'the return label was used' }],
  })
})
