import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Readable } from 'node:stream'
import { logOf } from '@/data'
import { buyBatch } from '@/usecases/dispatch/buyBatch'
import { combine, combineGroups, takeApart } from '@/usecases/desk/combineOrders'
import { requestImport } from '@/usecases/intake/importOrders'
import { pinDecision } from '@/usecases/desk/pinDecision'
import { setCredit, topUp } from '@/usecases/ledger/balances'
import { planBatch } from '@/usecases/dispatch/planBatch'
import { printBatch, printLabel, usualProfile, type PrintProfile } from '@/usecases/dispatch/printBatch'
import type { ShopOrder } from '../../../standins/channels/shop'
import { isPrinted, makeRig, soundOrders, type Rig } from './rig'

/* What a dispatcher is told before anything is bought, and in which order things are printed after. */

let rig: Rig
afterEach(() => rig.close())
async function begin(orders: readonly ShopOrder[], more: Parameters<typeof makeRig>[0] = {}): Promise<number[]> {
  rig = await makeRig(more)
  await rig.stockShop(orders)
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  return (await rig.orders()).map(({ id }) => id)
}
const reasons = async (ids: readonly number[]): Promise<string[]> =>
  (await planBatch(rig.gharry, ids)).blocked.map(({ reason }) => reason)

describe('a batch plan', () => {
  test('says of each order that cannot be bought why, and plans the others', async () => {
    const [good, cancelled, held, stuck] = soundOrders(4)
    const ids = await begin([
      good!,
      { ...cancelled!, status: 'cancelled' },
      held!,
      { ...stuck!, ship_to: { ...stuck!.ship_to, country: 'Atlantis' } },
    ])
    await pinDecision(rig.gharry, ids[2]!, 'hold', 'ask the buyer')
    await rig.workAll()
    const plan = await planBatch(rig.gharry, [...ids, 4711])
    expect(plan.labels.map(({ order }) => order)).toEqual([ids[0]])
    expect(plan.blocked.map(({ reason }) => reason)).toEqual([
      'It is cancelled.',
      'It is held: ask the buyer.',
      expect.stringContaining('Atlantis') as string,
      'There is no such order.',
    ])
    expect(plan.total).toBe(plan.labels[0]!.cost)
    expect(plan.byService).toEqual([{ service: plan.labels[0]!.service, count: 1, cost: plan.total }])
  })

  test('what is being bought, or bought already, is not bought again; a total that moved is confirmed anew', async () => {
    const ids = await begin(soundOrders(2))
    const { total } = await planBatch(rig.gharry, ids)
    expect(await buyBatch(rig.gharry, ids, total + 1)).toMatchObject({
      ok: false,
      code: 'total-moved',
      sentence: expect.stringMatching(/^The total is .* now, not .*: look once more and confirm\.$/) as string,
    })
    expect(await rig.labels()).toEqual([])
    expect(await buyBatch(rig.gharry, ids, total)).toMatchObject({ ok: true, labels: 2, total })
    expect(await reasons(ids)).toEqual(['It is being bought already.', 'It is being bought already.'])
    await rig.workAll()
    expect(await reasons(ids)).toEqual(['It is labelled already.', 'It is labelled already.'])
    expect(await buyBatch(rig.gharry, ids, 0)).toMatchObject({ ok: false })
    expect(await rig.labels()).toHaveLength(2)
  })

  test('says what is left at each prepaid carrier, without what is on order', async () => {
    const ids = await begin(soundOrders(3))
    const [carrier] = (await planBatch(rig.gharry, ids)).labels.map((label) => label.carrier)
    expect((await planBatch(rig.gharry, ids)).balances).toEqual({ [carrier!]: 0 })
    await topUp(rig.gharry, carrier!, 5000, 'key-number-1')
    const plan = await planBatch(rig.gharry, ids)
    expect(plan.balances).toEqual({ [carrier!]: 5000 })
    const [first, ...rest] = plan.labels
    expect(await buyBatch(rig.gharry, [first!.order], first!.cost)).toMatchObject({ ok: true })
    const others = rest.map(({ order }) => order)
    // On order, then bought and booked: the same is left.
    expect((await planBatch(rig.gharry, others)).balances).toEqual({ [carrier!]: 5000 - first!.cost })
    await rig.workAll()
    expect((await planBatch(rig.gharry, others)).balances).toEqual({ [carrier!]: 5000 - first!.cost })
  })

  test('a credit limit counts as what is left, also where nothing is paid in advance', async () => {
    const ids = await begin(soundOrders(2))
    const [carrier] = (await planBatch(rig.gharry, ids)).labels.map((label) => label.carrier)
    expect(await setCredit(rig.gharry, carrier!, 2000)).toMatchObject({ ok: true })
    expect((await planBatch(rig.gharry, ids)).balances).toEqual({ [carrier!]: 2000 })
    expect(await setCredit(rig.gharry, carrier!, -1)).toMatchObject({ ok: false, code: 'bad-amount' })
    expect(await setCredit(rig.gharry, carrier!, null)).toMatchObject({ ok: true })
    expect((await planBatch(rig.gharry, ids)).balances).toEqual({ [carrier!]: 0 })
  })

  test('a carrier refuses what the balance does not reach for; topped up, it is bought, and both books agree', async () => {
    const ids = await begin(soundOrders(1))
    const { labels, total } = await planBatch(rig.gharry, ids)
    const url = rig.carrierUrls.get(labels[0]!.carrier)!
    const pay = (minor: number) =>
      fetch(`${url}/admin/balance`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ minor }),
      })
    await pay(total - 1)
    expect(await buyBatch(rig.gharry, ids, total)).toMatchObject({ ok: true })
    await rig.workAll()
    expect((await rig.orders())[0]).toMatchObject({
      state: 'attention',
      problem: expect.stringContaining('The balance is 0.01 EUR short: top it up.') as string,
    })
    await topUp(rig.gharry, labels[0]!.carrier, 5000, 'key-number-2')
    expect(await buyBatch(rig.gharry, ids, total)).toMatchObject({ ok: true })
    await rig.workAll()
    expect((await rig.labels()).map(({ state }) => state)).toEqual(['failed', 'bought'])
    expect((await rig.carrierLabels()).filter(({ state }) => state === 'bought')).toHaveLength(1)
  })

  test('urgent orders stand first, later ones last, the rest as they were given', async () => {
    const ids = await begin(soundOrders(4))
    await pinDecision(rig.gharry, ids[2]!, 'priority', 'urgent')
    await pinDecision(rig.gharry, ids[0]!, 'priority', 'later')
    await rig.workAll()
    expect((await planBatch(rig.gharry, ids)).labels.map(({ order }) => order)).toEqual([
      ids[2],
      ids[1],
      ids[3],
      ids[0],
    ])
  })

  test('a carrier without a connection is named, and nothing goes to it', async () => {
    const ids = await begin(soundOrders(1), { unconnected: true })
    expect(await reasons(ids)).toEqual([
      expect.stringMatching(/^The carrier ".*" has no connection: choose another service\.$/) as string,
    ])
  })

  test('what the carrier is asked for follows the decisions: cover, signature, reference, what is collected', async () => {
    const ids = await begin(soundOrders(1).map((order) => ({ ...order, payment: 'cash on delivery', currency: 'EUR' })))
    for (const [decision, value] of [
      ['insurance', { cover: 'amount', amount: { minor: 12_000, currency: 'GBP' } }],
      ['signature', true],
      ['reference', '{channel} {number} {sku}'],
    ] as const)
      expect(await pinDecision(rig.gharry, ids[0]!, decision, value)).toMatchObject({ ok: true })
    await rig.workAll()
    const {
      labels: [label],
      blocked,
    } = await planBatch(rig.gharry, ids)
    const [row] = await rig.orders()
    expect(blocked).toEqual([])
    expect(label!.request).toMatchObject({ signature: true, toCollect: row!.value, toCountry: 'BE', customs: null })
    expect(label!.request.insured).toBeGreaterThan(12_000)
    expect(label!.request.reference).toMatch(new RegExp(`^mossgill-shop ${row!.number} `))
    expect(label!.lines.reduce((sum, { minor }) => sum + minor, 0)).toBe(label!.cost)
  })
})

describe('orders that go together', () => {
  const twins = (): ShopOrder[] => {
    const [one, two, other] = soundOrders(3) as [ShopOrder, ShopOrder, ShopOrder]
    return [one, { ...two, customer: one.customer, ship_to: one.ship_to, currency: one.currency }, other]
  }

  test('only waiting orders of the same buyer and address, without decisions by hand', async () => {
    const [one, two, other] = (await begin(twins())) as [number, number, number]
    const refusal = async (ids: readonly number[]): Promise<unknown> => {
      const answer = await combine(rig.gharry, ids)
      return answer.ok ? answer : answer.sentence
    }
    expect(await refusal([one])).toBe(
      'One order alone cannot be combined: choose another of the same buyer and address.',
    )
    expect(await refusal([one, one])).toBe(
      'One order alone cannot be combined: choose another of the same buyer and address.',
    )
    expect(await refusal([one, other])).toBe(
      'They go to different buyers or addresses: only orders to the same buyer and address can be combined.',
    )
    expect(await combineGroups(rig.gharry, [[one, other]])).toMatchObject({ ok: false, code: 'not-together' })
    expect(await takeApart(rig.gharry, one)).toMatchObject({
      ok: false,
      sentence: 'This order is not made of several.',
    })
    await pinDecision(rig.gharry, two, 'priority', 'urgent')
    await rig.workAll()
    expect(await refusal([one, two])).toMatch(/^Order .* has decisions by hand: release them first/)
    expect((await rig.orders()).map(({ state }) => state)).toEqual(['ready', 'ready', 'ready'])
  })

  test('a group that cannot be made does not keep another one from it', async () => {
    const [one, two, other] = (await begin(twins())) as [number, number, number]
    expect((await planBatch(rig.gharry, [one, two, other])).together).toEqual([[one, two]])
    const made = await combineGroups(rig.gharry, [[one, two], [other]])
    expect(made).toMatchObject({
      ok: true,
      made: [{ of: [one, two] }],
      refused: ['One order alone cannot be combined: choose another of the same buyer and address.'],
    })
    expect(await reasons([one, two])).toEqual(Array(2).fill('It goes in the shipment of several orders: buy that one.'))
  })
})

describe('what is printed', () => {
  const folder = mkdtempSync(join(tmpdir(), 'gharry-print-'))
  afterAll(() => rmSync(folder, { recursive: true }))
  const bytes = async (stream: Readable): Promise<Buffer> => {
    const parts: Buffer[] = []
    for await (const part of stream) parts.push(Buffer.from(part as Buffer))
    return Buffer.concat(parts)
  }
  const bought = async (): Promise<number> => {
    const orders = soundOrders(3).map((order, i) => ({
      ...order,
      number: `MG-${[12, 9, 100][i]}`,
      lines: order.lines.map((line) => ({ ...line, sku: ['C-1', 'A-10', 'A-9'][i]! })),
    }))
    const ids = await begin(orders)
    const plan = await planBatch(rig.gharry, ids)
    const batch = await buyBatch(rig.gharry, ids, plan.total)
    if (!batch.ok) throw new Error(`${batch.sentence} ${JSON.stringify(plan.blocked)}`)
    await rig.workAll()
    return batch.batch
  }
  const printed = async (
    batch: number,
    more: Partial<PrintProfile>,
  ): Promise<{ content: Buffer; extension: string }> => {
    const file = isPrinted(await printBatch(rig.gharry, batch, { ...usualProfile, ...more }))
    return { content: await bytes(file.content), extension: file.extension }
  }
  /** Order numbers in the order of the pages. */
  const numbersIn = (pdf: Buffer): string[] => {
    const path = join(folder, 'x.pdf')
    writeFileSync(path, pdf)
    return execFileSync('pdftotext', ['-layout', path, '-'], { encoding: 'utf8' })
      .split('\f')
      .flatMap((page) => /MG-\d+/.exec(page)?.[0] ?? [])
  }

  test('by batch, by number and by item as people count, slips and labels apart or together', async () => {
    const batch = await bought()
    expect(numbersIn((await printed(batch, { parts: 'slips' })).content)).toEqual(['MG-12', 'MG-9', 'MG-100'])
    expect(numbersIn((await printed(batch, { parts: 'slips', sort: 'number' })).content)).toEqual([
      'MG-9',
      'MG-12',
      'MG-100',
    ])
    expect(numbersIn((await printed(batch, { parts: 'slips', sort: 'sku' })).content)).toEqual([
      'MG-100',
      'MG-9',
      'MG-12',
    ])
    expect(numbersIn((await printed(batch, { parts: 'labels', sort: 'number' })).content)).toEqual([
      'MG-9',
      'MG-12',
      'MG-100',
    ])
    expect(numbersIn((await printed(batch, { sort: 'number' })).content)).toEqual([
      'MG-9',
      'MG-9',
      'MG-12',
      'MG-12',
      'MG-100',
      'MG-100',
    ])
    for (const sort of ['location', 'service'] as const)
      expect(numbersIn((await printed(batch, { sort })).content)).toHaveLength(6)
  })

  test('for label printers and as a picture; what is printed again says so; what is not bought is not printed', async () => {
    const batch = await bought()
    const zpl = await printed(batch, { format: 'zpl', parts: 'labels', dpi: 300 })
    expect(zpl.extension).toBe('zpl')
    expect(zpl.content.toString().match(/\^XA/g)).toHaveLength(3)
    const png = await printed(batch, { format: 'png', parts: 'labels' })
    expect([png.extension, png.content.subarray(1, 4).toString()]).toEqual(['png', 'PNG'])
    const path = join(folder, 'again.pdf')
    writeFileSync(path, (await printed(batch, { parts: 'labels' })).content)
    expect(execFileSync('pdftotext', [path, '-'], { encoding: 'utf8' })).toContain('REPRINT')

    expect(await printBatch(rig.gharry, 999)).toBeNull()
    expect(await printLabel(rig.gharry, 999)).toBeNull()
    const [first] = await rig.labels()
    expect((await logOf(rig.gharry.db, first!.orderId)).map(({ sentence }) => sentence)).toContain(
      'Slip and label printed again',
    )
    expect((await bytes(isPrinted(await printLabel(rig.gharry, first!.id)).content)).subarray(0, 5).toString()).toBe(
      '%PDF-',
    )
  })
})
