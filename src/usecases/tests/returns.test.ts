import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import sharp from 'sharp'
import { squareCode } from '@/core/papers'
import { bookingsPage, type ReturnRow, returnsOf, lapseReturns } from '@/data'
import { demoRulebook } from '../../../demo/rulebook'
import { withReturnRules } from '../../../demo/returns'
import type { CarrierReturn } from '../../../standins/carrier'
import { pinDecision } from '../desk/pinDecision'
import { find } from '../shared/find'
import { lookAtInvoice } from '../ledger/invoices'
import { answerReturn } from '../tracking/returns/answerReturn'
import { askReturn } from '../tracking/returns/askReturn'
import { checkReturn, findReturn } from '../tracking/returns/checkReturn'
import { paidByHand } from '../tracking/returns/payBack'
import { takePhoto } from '../tracking/returns/photo'
import { returnLabelFor } from '../tracking/returns/returnPapers'
import { showReturns } from '../tracking/returns/showReturns'
import { followParcels } from '../tracking/followParcels'
import { trackByLink } from '../tracking/trackParcel'
import { buyReady, makeRig, orderTo, type Rig } from './rig'

let rig: Rig
beforeEach(async () => {
  rig = await makeRig({ rulebook: withReturnRules(demoRulebook) })
})
afterEach(() => rig.close())

type ShopOrder = ReturnType<typeof orderTo>

/**
 * An order of two tweezers and a lamp-free line, bought and delivered. Gives its label, by whose link its buyer asks.
 */
async function delivered(more: Partial<ShopOrder> = {}, pin?: readonly [string, unknown]) {
  const base = orderTo('BE')
  const [line] = base.lines
  const order: ShopOrder = {
    ...base,
    ...{ total_items: '30.00', discount: '3.00', shipping: '4.95', currency: 'EUR' },
    lines: [
      { ...line!, id: '1', sku: 'TLS-TWEEZ', title: 'Tweezers', quantity: 2, price: '10.00', tags: [] },
      { ...line!, id: '2', sku: 'TLS-STRIP', title: 'Test strips', quantity: 1, price: '10.00', tags: [] },
    ],
    ...more,
  }
  if (pin) {
    await rig.stockShop([order])
    const { requestImport } = await import('../intake/importOrders')
    await requestImport(rig.gharry, 'mossgill-shop')
    await rig.workAll()
    await pinDecision(rig.gharry, (await rig.orders())[0]!.id, pin[0] as never, pin[1])
  }
  await pinned(order)
  const [label] = await rig.labels()
  for (let i = 0; i < 6; i++) await rig.nextDay()
  await followParcels(rig.gharry, label!.carrier)
  const [now] = await rig.labels()
  expect(now!.deliveredAt).not.toBeNull()
  return now!
}
async function pinned(order: ShopOrder): Promise<void> {
  await rig.stockShop([order])
  const { requestImport } = await import('../intake/importOrders')
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  await pinDecision(rig.gharry, (await rig.orders())[0]!.id, 'picks', [{ by: 'service', service: 'heron-road' }])
  await buyReady(rig, [order])
}

const asked = (more: object = {}): Parameters<typeof askReturn>[2] => ({
  ...{ pieces: [{ item: 0, quantity: 1 }], reason: 'wrong item', words: '', photo: null },
  ...more,
})
const theReturn = async (label: { id: number }): Promise<ReturnRow> =>
  (await returnsOf(rig.gharry.db, { labelId: label.id })).at(-1)!
const carrierReturns = (): Promise<CarrierReturn[]> => rig.ask('heron', '/admin/returns')
const refunds = async (): Promise<{ minor: number; lines: object[]; reason: string }[]> =>
  (await rig.shopOrders()).flatMap((order) => (order.refunds ?? []) as never)
const drop = (number: string): Promise<object> => rig.ask('heron', '/admin/returns/drop', { trackingNumber: number })
const subjects = async (): Promise<string[]> => (await rig.mails()).map(({ subject }) => subject)
const comesHome = async (row: ReturnRow): Promise<void> => {
  await drop(row.trackingNumber!)
  for (let i = 0; i < 4; i++) await rig.nextDay()
  await followParcels(rig.gharry, 'heron')
  // Letters are an hour apart.
  rig.put(70)
  await rig.workAll()
}
const found = (...list: readonly (readonly [number, number, string, boolean])[]): never =>
  list.map(([item, quantity, condition, kept]) => ({ item, quantity, condition, kept })) as never

test('asked on the page, taken by a rule, labelled, followed, looked at, and paid back by the channel, each once', async () => {
  const label = await delivered()
  const page = await trackByLink(rig.gharry, label.token)
  expect(page!.back.can.map(({ title, quantity }) => [title, quantity])).toEqual([
    ['Tweezers', 2],
    ['Test strips', 1],
  ])
  expect(await askReturn(rig.gharry, label.token, asked())).toEqual({ ok: true })
  expect(await theReturn(label)).toMatchObject({
    state: 'making',
    why: 'Taken back within 30 days',
    service: 'heron-road',
  })
  await rig.workAll()
  const row = await theReturn(label)
  const [made] = await carrierReturns()
  expect(await carrierReturns()).toHaveLength(1)
  expect(row).toMatchObject({ state: 'ready', trackingNumber: made!.trackingNumber, charge: made!.charged.minor })
  // Nothing is booked for a label that nobody has used.
  const booked = async (): Promise<object[]> =>
    (await bookingsPage(rig.gharry.db, 50, 0)).filter(({ kind }) => kind === 'return')
  expect(await booked()).toEqual([])

  const mail = (await rig.mails()).find(({ subject }) => subject.startsWith('U kunt het terugsturen'))!
  expect(mail.text).toContain(made!.trackingNumber)
  const pdf = (await returnLabelFor(rig.gharry, label.token, row.id))!
  const folder = mkdtempSync(join(tmpdir(), 'gharry-return-'))
  writeFileSync(join(folder, 'label.pdf'), pdf)
  const text = execFileSync('pdftotext', ['-layout', join(folder, 'label.pdf'), '-'], { encoding: 'utf8' })
  expect(text.indexOf('Ada Sample')).toBeGreaterThan(-1)
  expect(text.indexOf('Ada Sample')).toBeLessThan(text.indexOf('Mossgill'))
  execFileSync('pdftoppm', ['-r', '203', '-png', join(folder, 'label.pdf'), join(folder, 'label')])
  const bars = execFileSync('sh', ['-c', `zbarimg -q --raw ${join(folder, 'label')}*.png`], { encoding: 'utf8' })
  expect(bars).toContain(made!.trackingNumber)
  // The code that is shown at the carrier's counter reads as what it says.
  const square = squareCode(row.code)!
  const cell = 8
  const side = (square.side + 8) * cell
  const dots = square.dark.map((on, i) =>
    on
      ? `<rect x="${(4 + (i % square.side)) * cell}" y="${(4 + Math.floor(i / square.side)) * cell}" width="${cell}" height="${cell}"/>`
      : '',
  )
  await sharp(
    Buffer.from(
      `<svg xmlns="http://www.w3.org/2000/svg" width="${side}" height="${side}"><rect width="100%" height="100%" fill="#fff"/>${dots.join('')}</svg>`,
    ),
  )
    .png()
    .toFile(join(folder, 'code.png'))
  expect(
    execFileSync('zbarimg', ['-q', '--raw', join(folder, 'code.png')])
      .toString()
      .trim(),
  ).toBe(row.code)
  rmSync(folder, { recursive: true })
  // Another buyer's link does not lead to it.
  expect(await returnLabelFor(rig.gharry, 'x'.repeat(32), row.id)).toBeNull()

  await comesHome(row)
  expect(await theReturn(label)).toMatchObject({ state: 'coming', status: 'delivered' })
  expect(await booked()).toMatchObject([{ amount: made!.charged.minor, carrier: 'heron' }])
  expect(
    await lookAtInvoice(
      rig.gharry,
      'heron',
      Buffer.from(`tracking number,amount\n${made!.trackingNumber},${(made!.charged.minor / 100).toFixed(2)}\n`),
    ),
  ).toMatchObject({ ok: true, differing: [] })
  expect((await find(rig.gharry, made!.trackingNumber.slice(0, -2))).parcels).toMatchObject([
    { trackingNumber: made!.trackingNumber, number: 'N-1', status: 'coming back' },
  ])
  const seen = await findReturn(rig.gharry, { code: made!.trackingNumber })
  expect(seen).toMatchObject({
    ok: true,
    found: [{ id: row.id, reason: 'wrong item', shipping: 0, off: 0, paidByChannel: true }],
  })

  const settle = { id: row.id, found: found([0, 1, 'as new', true]), amount: null, withShipping: true, note: '' }
  expect(await checkReturn(rig.gharry, settle)).toEqual({ ok: true, amount: 900, currency: 'EUR', paidByChannel: true })
  expect(await checkReturn(rig.gharry, settle)).toMatchObject({ ok: false, code: 'taken-before' })
  rig.put(70)
  await rig.workAll()
  expect(await refunds()).toMatchObject([{ minor: 900, lines: [{ line: '1', quantity: 1 }], reason: 'wrong item' }])
  const said = await subjects()
  for (const words of ['U kunt het terugsturen', 'Uw retour van bestelling', 'U krijgt €9.00 terug'])
    expect(said.filter((subject) => subject.startsWith(words))).toHaveLength(1)
  expect(await findReturn(rig.gharry, { code: made!.trackingNumber })).toMatchObject({
    ok: false,
    code: 'taken-before',
  })

  // The rest comes back, too: then shipping is due as well, and all together is what was paid.
  await askReturn(
    rig.gharry,
    label.token,
    asked({
      pieces: [
        { item: 0, quantity: 1 },
        { item: 1, quantity: 1 },
      ],
    }),
  )
  await rig.workAll()
  const rest = await theReturn(label)
  await comesHome(rest)
  expect(
    await checkReturn(rig.gharry, {
      ...{ id: rest.id, found: found([0, 1, 'opened', false], [1, 1, 'as new', true]), amount: null },
      ...{ withShipping: true, note: '' },
    }),
  ).toMatchObject({ ok: true, amount: 1800 + 495 })
  await rig.workAll()
  expect((await refunds()).reduce((sum, { minor }) => sum + minor, 0)).toBe(3000 - 300 + 495)
})

test('what cannot be is refused: nothing chosen, too many, unknown, before it came, twice the same piece', async () => {
  const label = await delivered()
  const ask = (more: object): Promise<object> => askReturn(rig.gharry, label.token, asked(more))
  expect(await ask({ pieces: [] })).toMatchObject({ sentence: 'which-pieces' })
  expect(await ask({ pieces: [{ item: 0, quantity: 3 }] })).toMatchObject({ sentence: 'too-many-pieces' })
  expect(await ask({ pieces: [{ item: 9, quantity: 1 }] })).toMatchObject({ sentence: 'too-many-pieces' })
  expect(await ask({ reason: 'for fun' })).toMatchObject({ sentence: 'choose-reason' })
  expect(await ask({ words: 'x'.repeat(1001) })).toMatchObject({ sentence: 'too-long' })
  expect(await askReturn(rig.gharry, 'nobody', asked())).toMatchObject({ sentence: 'not-found' })
  const all = {
    pieces: [
      { item: 0, quantity: 2 },
      { item: 1, quantity: 1 },
    ],
    reason: 'damaged',
  }
  expect(await ask(all)).toEqual({ ok: true })
  expect(await ask({ pieces: [{ item: 1, quantity: 1 }] })).toMatchObject({ sentence: 'too-many-pieces' })
  expect(await takePhoto(Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"><script/></svg>'))).toBeNull()
  const drawn = await takePhoto(
    await sharp({ create: { width: 3000, height: 40, channels: 3, background: '#800' } })
      .png()
      .toBuffer(),
  )
  expect((await sharp(drawn!).metadata()).width).toBe(1280)
  // What is damaged no rule answers: a person does, and reads why not to the buyer.
  const row = await theReturn(label)
  expect(row.state).toBe('asked')
  const answer = { id: row.id, why: '', service: '', paidByBuyer: false }
  expect(await answerReturn(rig.gharry, { ...answer, take: false })).toMatchObject({ code: 'incomplete' })
  expect(await answerReturn(rig.gharry, { ...answer, take: true, service: 'corvid-letter' })).toMatchObject({
    code: 'unknown-service',
  })
  expect(await answerReturn(rig.gharry, { ...answer, take: false, why: 'It was used.' })).toEqual({ ok: true })
  await rig.workAll()
  expect((await rig.mails()).find(({ subject }) => subject.startsWith('Over uw retour'))!.text).toContain(
    'It was used.',
  )
  expect(await carrierReturns()).toEqual([])
  // What was refused holds nothing: it can be asked for again.
  expect(await ask(all)).toEqual({ ok: true })
})

test('nothing of a parcel that has not arrived can be sent back', async () => {
  await pinned(orderTo('BE'))
  const [label] = await rig.labels()
  expect((await trackByLink(rig.gharry, label!.token))!.back.can).toEqual([])
  expect(await askReturn(rig.gharry, label!.token, asked())).toMatchObject({ sentence: 'too-many-pieces' })
})

test('who changes their mind pays the label; a rule refuses plants; no amount goes beyond what was paid', async () => {
  const label = await delivered()
  await askReturn(rig.gharry, label.token, asked({ reason: 'changed mind', pieces: [{ item: 0, quantity: 2 }] }))
  await rig.workAll()
  const row = await theReturn(label)
  expect(row.paidByBuyer).toBe(true)
  await comesHome(row)
  const settle = { id: row.id, withShipping: true, note: '' }
  const there = found([0, 1, 'opened', false], [0, 1, 'not there', false])
  expect(
    await checkReturn(rig.gharry, { ...settle, found: found([0, 1, 'opened', false]), amount: null }),
  ).toMatchObject({ code: 'bad-value' })
  expect(await checkReturn(rig.gharry, { ...settle, found: there, amount: 901 })).toMatchObject({ code: 'bad-amount' })
  const answer = await checkReturn(rig.gharry, { ...settle, found: there, amount: null })
  expect(answer).toMatchObject({ ok: true, amount: Math.max(0, 900 - row.charge) })
  // The piece that was not there did not come back.
  expect((await trackByLink(rig.gharry, label.token))!.back.can).toMatchObject([{ quantity: 1 }, { quantity: 1 }])
})

test('carrier and channel fail, and answer twice: one label, one refund', async () => {
  const label = await delivered()
  await rig.faults('heron', { timeOutAfterWork: 2, serverError: 3 })
  await askReturn(rig.gharry, label.token, asked())
  await rig.workAll()
  await rig.faults('heron', { timeOutAfterWork: 0, serverError: 0 })
  await rig.workAll()
  expect(await carrierReturns()).toHaveLength(1)
  const row = await theReturn(label)
  expect(row.state).toBe('ready')
  await comesHome(row)
  await rig.faults('shop', { timeOutAfterWork: 2, serverError: 3, malformedBody: 4 })
  await checkReturn(rig.gharry, {
    id: row.id,
    found: found([0, 1, 'as new', true]),
    amount: null,
    withShipping: false,
    note: '',
  })
  await rig.workAll()
  await rig.faults('shop', { timeOutAfterWork: 0, serverError: 0, malformedBody: 0 })
  await rig.workAll()

  expect(await refunds()).toHaveLength(1)
})

test('the label from the box is used without a word: it is followed, and the invoice alone says what it costs', async () => {
  const back = {
    ...{ id: 'r', stage: 'papers' as const, name: 'Back', on: true, when: { all: [] } },
    then: [{ set: 'returnLabel', to: true }],
  }
  await rig.close()
  rig = await makeRig({ rulebook: withReturnRules({ ...demoRulebook, rules: [back, ...demoRulebook.rules] }) })
  const label = await delivered()
  const [parcel] = (await rig.carrierLabels())[0]!.parcels
  // A customer who asks is sent to the label that they have already.
  await askReturn(rig.gharry, label.token, asked())
  expect(await theReturn(label)).toMatchObject({ state: 'ready', trackingNumber: parcel!.returnNumber })
  await answerReturn(rig.gharry, {
    ...{ id: (await theReturn(label)).id, take: false, why: 'A mistake of ours.' },
    ...{ service: '', paidByBuyer: false },
  })
  await comesHome({ ...(await theReturn(label)), trackingNumber: parcel!.returnNumber! })
  expect(await theReturn(label)).toMatchObject({ state: 'coming', status: 'delivered', charge: 0 })
  expect((await showReturns(rig.gharry, 'coming')).rows).toHaveLength(1)
  // Behind the first one there is none, and the number of all stays.
  expect(await showReturns(rig.gharry, 'coming', 1)).toMatchObject({ rows: [], counts: { coming: 1 } })
})

test('a label that nobody uses lapses and costs nothing; where the channel pays nothing back, a person does, once', async () => {
  const label = await delivered()
  await askReturn(rig.gharry, label.token, asked())
  await rig.workAll()
  const unused = await theReturn(label)
  expect(await lapseReturns(rig.gharry.db, '2020-01-01')).toBe(0)
  expect(await lapseReturns(rig.gharry.db, '2099-01-01')).toBe(1)
  expect((await theReturn(label)).state).toBe('lapsed')
  // It comes all the same, and is taken in.
  await comesHome(unused)
  expect((await theReturn(label)).state).toBe('coming')
  await rig.gharry.db('channels').where({ id: 'mossgill-shop' }).update({ kind: 'by-hand' })
  const settle = { found: found([0, 1, 'as new', true]), amount: null, withShipping: false, note: '' }
  expect(await checkReturn(rig.gharry, { id: unused.id, ...settle })).toMatchObject({ ok: true, paidByChannel: false })
  expect((await showReturns(rig.gharry, 'settled')).rows[0]).toMatchObject({
    told: null,
    paidByHandAt: null,
    amount: 900,
  })
  expect(await paidByHand(rig.gharry, { id: unused.id })).toEqual({ ok: true })
  expect(await paidByHand(rig.gharry, { id: unused.id })).toMatchObject({ ok: false, code: 'taken-before' })
})
