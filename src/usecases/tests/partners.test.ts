import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { XMLParser, XMLValidator } from 'fast-xml-parser'
import { parse } from 'csv-parse/sync'
import { readUblOrder } from '@/adapters/channels/sftp-folder/ublOrder'
import { connectionById, handOversOfOrder, stockPage } from '@/data'
import { warehouseStandIn } from '../../../standins/warehouse'
import { buyBatch } from '../dispatch/buyBatch'
import { answerByHand, hearPartners } from '../dispatch/partnerNews'
import { planBatch } from '../dispatch/planBatch'
import { requestVoid } from '../dispatch/voidLabel'
import { pinDecision } from '../desk/pinDecision'
import { removeConnection, saveConnection, testConnection, type ConnectionInput } from '../intake/connections'
import { retryWork } from '../intake/changeChannel'
import { requestImport } from '../intake/importOrders'
import { changeList } from '../setup/changeList'
import { currentWorld } from '../shared/changeWorld'
import { workOnce } from '../worker/work'
import { takeNumbers } from '../tracking/manyNumbers'
import { makeRig, soundOrders, type Rig } from './rig'

/* A location that is somebody else's: what is bought there is handed over, answered, taken back, sent under other numbers. */

let rig: Rig
let folder: string
let warehouse: ReturnType<typeof warehouseStandIn>
let http: string
let port: number
let hostKey: string
const credentials = { user: 'mossgill', password: 'a password' }

beforeEach(async () => {
  rig = await makeRig()
  folder = mkdtempSync(join(tmpdir(), 'gharry-partner-'))
  warehouse = warehouseStandIn({ folder, ...credentials })
  http = await warehouse.app.listen({ host: '127.0.0.1', port: 0 })
  port = await warehouse.listen(0)
  hostKey = ((await (await fetch(`${http}/admin/key`)).json()) as { fingerprint: string }).fingerprint
})
afterEach(async () => {
  await rig.close()
  await warehouse.app.close()
  rmSync(folder, { recursive: true, force: true })
})

const bySftp = (more: Record<string, string> = {}): ConnectionInput => ({
  role: 'partner',
  kind: 'sftp-warehouse',
  name: 'Aire Storage',
  on: true,
  settings: {
    ...{ host: '127.0.0.1', port: String(port), ...credentials, hostKey, folder: '' },
    ...{ order: 'json', papers: 'pdf', ...more },
  },
})
const tell = async <T = unknown>(path: string, body: object): Promise<T> =>
  (
    await fetch(`${http}${path}`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    })
  ).json() as Promise<T>
const files = async () => (await (await fetch(`${http}/admin/files`)).json()) as Record<string, Record<string, string>>

/** Makes Ghent, where all orders leave from, a partner's place. */
async function partnered(input: ConnectionInput): Promise<string> {
  const saved = await saveConnection(rig.gharry, null, input)
  if (!saved.ok) throw new Error(saved.sentence)
  const ghent = (await currentWorld(rig.gharry.db)).world.locations[0]!
  const changed = await changeList(rig.gharry, {
    list: 'locations',
    before: { ...ghent },
    after: { ...ghent, partner: saved.id },
  })
  expect(changed).toMatchObject({ ok: true })
  return saved.id
}
async function bought(count: number): Promise<number[]> {
  await rig.stockShop(soundOrders(count))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  const ids = (await rig.orders()).map(({ id }) => id)
  const plan = await planBatch(rig.gharry, ids)
  expect(await buyBatch(rig.gharry, ids, plan.total)).toMatchObject({ ok: true, labels: count })
  await rig.workAll()
  return ids
}
const handOvers = async (order: number) => handOversOfOrder(rig.gharry.db, order)
const logOf = async (order: number): Promise<string[]> =>
  ((await rig.gharry.db('order_log').where({ orderId: order }).orderBy('id')) as { sentence: string }[]).map(
    ({ sentence }) => sentence,
  )
const flagOf = async (order: number): Promise<string | null> =>
  (await rig.orders()).find(({ id }) => id === order)!.flag

test('order and papers go to the partner of the location; its acknowledgement and refusal are on the order', async () => {
  expect(await testConnection(rig.gharry, null, bySftp())).toMatchObject({
    works: true,
    sentence: 'The partner answers.',
  })
  await partnered(bySftp())
  await tell('/admin/manners', { refuses: 2, twice: true })
  const [first, second] = await bought(2)
  const [sent] = await handOvers(first!)
  expect(sent).toMatchObject({ state: 'sent', kind: 'hand over', receipt: `orders/${sent!.reference}.json` })

  const there = await files()
  const order = JSON.parse(there.orders![`${sent!.reference}.json`]!) as Record<string, unknown>
  const label = (await rig.labels()).find(({ orderId }) => orderId === first)!
  expect(order).toMatchObject({
    reference: sent!.reference,
    location: 'Ghent',
    parcels: [{ trackingNumber: label.trackingNumber }],
    recipient: { country: 'BE' },
  })
  expect(order).not.toHaveProperty('answerUrl')
  const paper = join(folder, 'files', 'papers', `${sent!.reference}.pdf`)
  execFileSync('qpdf', ['--check', paper])
  const text = execFileSync('pdftotext', ['-layout', paper, '-'], { encoding: 'utf8' })
  expect(text).toContain(String(order.order))
  // Both the slip and the label; nothing is marked as printed here.
  expect(execFileSync('qpdf', ['--show-npages', paper], { encoding: 'utf8' }).trim()).toBe('2')
  expect(label.printedAt).toBeNull()

  await tell('/admin/work', {})
  await hearPartners(rig.gharry)
  await hearPartners(rig.gharry)
  expect((await handOvers(first!))[0]).toMatchObject({ answer: 'acknowledged' })
  expect((await handOvers(second!))[0]).toMatchObject({ answer: 'refused', answerText: 'We have none left.' })
  // Said twice by the partner, once on the order.
  expect((await logOf(first!)).filter((line) => line === 'Aire Storage has the papers')).toHaveLength(1)
  expect(await flagOf(second!)).toContain('Aire Storage does not send it: We have none left.')
  expect(Object.keys((await files()).answers!)).toEqual([])
})

test('a voided label is taken back at the partner, after the hand-over', async () => {
  await partnered(bySftp())
  const [order] = await bought(1)
  const label = (await rig.labels())[0]!
  expect(await requestVoid(rig.gharry, label.id)).toMatchObject({ ok: true })
  await rig.workAll()
  const rows = await handOvers(order!)
  expect(rows.map(({ kind, state }) => [kind, state])).toEqual([
    ['hand over', 'sent'],
    ['take back', 'sent'],
  ])
  expect((await files()).orders).toHaveProperty([`${rows[0]!.reference}.cancelled.json`])
})

test('it left under a number of the partner’s own: the label is voided, channel and customer hear of the other', async () => {
  await partnered(bySftp())
  await tell('/admin/manners', { ownNumbers: 1 })
  const [order] = await bought(1)
  await tell('/admin/work', {})
  await hearPartners(rig.gharry)
  await hearPartners(rig.gharry)
  await rig.workAll()
  const labels = await rig.labels()
  expect(labels.map(({ state, own, carrier }) => ({ state, own, carrier }))).toEqual([
    { state: 'voided', own: false, carrier: labels[0]!.carrier },
    { state: 'bought', own: true, carrier: 'corvid' },
  ])
  const [, own] = labels
  expect(own!.trackingNumber).toMatch(/^CV3\d{8}GB$/)
  expect((await rig.orders())[0]).toMatchObject({ state: 'dispatched', flag: null })
  // The carrier's books: the unused label was given back.
  expect((await rig.carrierLabels()).map(({ state }) => state)).toEqual(['voided'])
  // The shop's books: one fulfilment, under the partner's number.
  const [shop] = await rig.shopOrders()
  expect(shop!.fulfilments.filter(({ withdrawn }) => !withdrawn).map((one) => one.tracking_number)).toEqual([
    own!.trackingNumber,
  ])
  // Nobody tells the partner not to send what has left.
  expect((await handOvers(order!)).map(({ kind }) => kind)).toEqual(['hand over'])
  // Refunds of nothing are not in the books.
  const ledger = (await rig.gharry.db('ledger').where({ labelId: own!.id })) as unknown[]
  expect(ledger).toEqual([])
})

test.each(['csv', 'ubl'] as const)('the order as %s is read by a program that did not write it', async (format) => {
  await partnered(bySftp({ order: format, papers: 'zpl' }))
  const [order] = await bought(1)
  const [row] = await handOvers(order!)
  const there = await files()
  const label = (await rig.labels())[0]!
  const number = (await rig.orders())[0]!.number
  const zpl = there.papers![`${row!.reference}.zpl`]!
  expect(zpl.match(/\^XA/g)).toHaveLength(2)
  if (format === 'csv') {
    const [line] = parse(there.orders![`${row!.reference}.csv`]!, { columns: true, bom: true }) as Record<
      string,
      string
    >[]
    expect(line).toMatchObject({ order: number, 'tracking number': label.trackingNumber, quantity: '1', country: 'BE' })
  } else {
    const xml = there.orders![`${row!.reference}.xml`]!
    expect(XMLValidator.validate(xml)).toBe(true)
    // The header in the order of the schema's sequence.
    const parsed = new XMLParser({ preserveOrder: true }).parse(xml) as Record<string, Record<string, unknown>[]>[]
    const names = parsed.find((node) => 'Order' in node)!.Order!.map((node) => Object.keys(node)[0])
    expect(names).toEqual([
      ...['cbc:UBLVersionID', 'cbc:ID', 'cbc:IssueDate', 'cbc:Note', 'cbc:CustomerReference'],
      ...['cac:BuyerCustomerParty', 'cac:SellerSupplierParty', 'cac:Delivery', 'cac:OrderLine'],
    ])
    const read = readUblOrder(xml)
    expect(read).toMatchObject({ order: { id: row!.reference, shipTo: { country: 'BE' }, items: [{ quantity: '1' }] } })
  }
})

test('by mail: papers and order are attached, people answer on a page, and a wrong number is said', async () => {
  const partner = await partnered({
    ...{ role: 'partner', kind: 'mail-papers', name: 'Small Sheds', on: true },
    settings: { to: 'packing@sheds.example', order: 'csv', papers: 'pdf' },
  })
  const [order] = await bought(1)
  const mail = (await rig.mails()).find(({ to }) => to === 'packing@sheds.example')!
  const [row] = await handOvers(order!)
  expect(mail.copies).toBe(1)
  expect(mail.subject).toContain(row!.reference)
  expect(mail.text).toContain(`/partner/${row!.token}`)
  expect(mail.attachments.map(({ name }) => name)).toEqual([`${row!.reference}.pdf`, `${row!.reference}.csv`])
  const paper = join(folder, 'mailed.pdf')
  writeFileSync(paper, Buffer.from(mail.attachments[0]!.content, 'base64'))
  execFileSync('qpdf', ['--check', paper])

  const answer = (given: Parameters<typeof answerByHand>[2]) => answerByHand(rig.gharry, row!.token, given)
  expect(await answer({ kind: 'refused', text: '' })).toMatchObject({ sentence: 'Say why you cannot send it.' })
  expect(await answer({ kind: 'acknowledged', text: '' })).toMatchObject({ ok: true })
  expect(await answer({ kind: 'despatched', carrier: 'Corvid Post', numbers: ['CV000000010BE'] })).toMatchObject({
    ok: false,
    sentence: expect.stringContaining('check digit') as string,
  })
  const label = (await rig.labels())[0]!
  // Its own number, blanks and all: nothing is voided.
  expect(
    await answer({ kind: 'despatched', carrier: '', numbers: [label.trackingNumber!.replace(/(.{4})/g, '$1 ')] }),
  ).toMatchObject({ ok: true })
  expect((await rig.labels()).map(({ state }) => state)).toEqual(['bought'])
  expect(await answerByHand(rig.gharry, 'nobody', { kind: 'acknowledged', text: '' })).toMatchObject({
    code: 'not-found',
  })
  expect(await removeConnection(rig.gharry, partner, 1)).toMatchObject({ ok: false, sentence: /Ghent is theirs/ })
})

test('a hand pin says who gets the papers, or nobody; a rule names no partner that does not exist', async () => {
  const partner = await partnered(bySftp())
  await rig.stockShop(soundOrders(2))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  const [first, second] = (await rig.orders()).map(({ id }) => id)
  expect(await pinDecision(rig.gharry, first!, 'handOver', 'nobody')).toMatchObject({ ok: true })
  expect(await pinDecision(rig.gharry, second!, 'handOver', 'no-such-partner')).toMatchObject({ ok: false })
  const plan = await planBatch(rig.gharry, [first!, second!])
  await buyBatch(rig.gharry, [first!, second!], plan.total)
  await rig.workAll()
  expect(await handOvers(first!)).toEqual([])
  expect(await handOvers(second!)).toMatchObject([{ partner, state: 'sent' }])
})

test('reported stock is what is at the place; nonsense, strangers’ references and files too large are said', async () => {
  const partner = await partnered(bySftp())
  const stockNow = async () =>
    Object.fromEntries((await stockPage(rig.gharry.db, {}, 0, 10)).map(({ sku, onHand }) => [sku, onHand]))
  await tell('/admin/answers', { kind: 'stock', items: [{ sku: 'W-1', quantity: 12 }] })
  await tell('/admin/files', {
    room: 'answers',
    name: 'count.csv',
    content: 'sku;quantity\nW-2;4\n'.replace(/;/g, ','),
    age: 50,
  })
  await tell('/admin/files', {
    room: 'answers',
    name: 'odd.json',
    content: '{"kind":"refused","reference":"H1-ffffff"}',
    age: 40,
  })
  await tell('/admin/files', { room: 'answers', name: 'broken.json', content: '{', age: 30 })
  await tell('/admin/files', {
    room: 'answers',
    name: 'negative.json',
    content: '{"kind":"stock","items":[{"sku":"W-1","quantity":-3}]}',
    age: 20,
  })
  await tell('/admin/files', { room: 'answers', name: 'huge.json', content: ' '.repeat(20_000_001), age: 10 })
  await hearPartners(rig.gharry)
  expect(await stockNow()).toEqual({ 'W-1': 12, 'W-2': 4 })
  const row = (await rig.gharry.db('connections').where({ id: partner }).first()) as { lastFailure: string }
  expect(row.lastFailure).toMatch(/could not be used/)
  await hearPartners(rig.gharry)
  const rooms = await files()
  expect(Object.keys(rooms.answers!)).toEqual([])
  expect(Object.keys(rooms['answers-refused']!).sort()).toEqual(['broken.json', 'huge.json', 'negative.json'])
  // The same count again changes nothing: no order is routed again for it.
  const jobs = async () => ((await rig.gharry.db('jobs').where({ kind: 'route again' })) as unknown[]).length
  const before = await jobs()
  await tell('/admin/answers', { kind: 'stock', items: [{ sku: 'W-1', quantity: 12 }] })
  await hearPartners(rig.gharry)
  expect(await jobs()).toBe(before)
  // A file that is written anew before it was put away is another one.
  for (const [count, age] of [
    [9, 50],
    [7, 20],
  ]) {
    await tell('/admin/files', { room: 'answers', name: 'count.csv', content: `sku,quantity\nW-2,${count}\n`, age })
    await hearPartners(rig.gharry)
  }
  expect(await stockNow()).toMatchObject({ 'W-2': 7 })
})

test('a full server, another host key, a partner that is switched off: papers wait, and go once', async () => {
  const partner = await partnered(bySftp())
  await tell('/admin/faults', { full: true })
  await rig.stockShop(soundOrders(1))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  const [order] = (await rig.orders()).map(({ id }) => id)
  const plan = await planBatch(rig.gharry, [order!])
  await buyBatch(rig.gharry, [order!], plan.total)
  const works = async (): Promise<string | null> => {
    rig.put(2)
    for (let rounds = 0; rounds < 4; rounds++) await workOnce(rig.gharry)
    return (await handOvers(order!))[0]!.problem
  }
  expect(await works()).toContain('could not write')
  await tell('/admin/faults', { full: false })
  await tell('/admin/key', {})
  expect(await works()).toContain('another host key')
  const changed = async (more: Partial<ConnectionInput>, settings: Record<string, string> = {}): Promise<void> => {
    const row = await connectionById(rig.gharry.db, partner)
    const input = { ...bySftp(settings), ...more, version: row!.version }
    expect(await saveConnection(rig.gharry, partner, input)).toMatchObject({ ok: true })
  }
  await changed({ on: false })
  expect(await works()).toContain('is switched off')
  const { fingerprint } = (await (await fetch(`${http}/admin/key`)).json()) as { fingerprint: string }
  await changed({}, { hostKey: fingerprint })
  expect(await works()).toBeNull()
  expect(await handOvers(order!)).toMatchObject([{ state: 'sent' }])
  expect(Object.keys((await files()).orders!)).toHaveLength(1)
})

test('a partner that refuses the mail for good: it is said, and can be tried again', async () => {
  await partnered({
    ...{ role: 'partner', kind: 'mail-papers', name: 'Small Sheds', on: true },
    settings: { to: 'packing@sheds.example', order: 'ubl', papers: 'zpl' },
  })
  const [order] = await bought(1)
  const [row] = await handOvers(order!)
  await rig.gharry.db('handovers').where({ id: row!.id }).update({ state: 'failed', problem: 'refused' })
  expect(await retryWork(rig.gharry, 'handovers', row!.id)).toMatchObject({ ok: true })
  await rig.workAll()
  expect((await handOvers(order!))[0]).toMatchObject({ state: 'sent', problem: null })
  // The same Message-ID: it is the same mail, twice.
  const mails = (await rig.mails()).filter(({ to }) => to === 'packing@sheds.example')
  expect(mails.map(({ copies }) => copies)).toEqual([2])
})

test('a list of numbers: looked at line by line, then taken; what is wrong in one line is no harm to the others', async () => {
  await rig.stockShop(soundOrders(4))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  const [a, b, c] = (await rig.orders()).map(({ number }) => number)
  const dray = (n: number): string => `DL${String(n).padStart(7, '0')}`
  const lines = [
    { order: a!, number: ' DL 0000001 ', carrier: '' },
    { order: b!, number: dray(2), carrier: 'Dray Local' },
    { order: b!, number: dray(3), carrier: '' },
    { order: c!, number: 'DL000000O', carrier: 'dray' },
    { order: 'MG-0', number: dray(5), carrier: '' },
  ]
  const looked = await takeNumbers(rig.gharry, lines, false)
  expect(looked).toMatchObject({ ok: true, orders: 2, numbers: 3, badLines: 2 })
  expect(await rig.labels()).toEqual([])
  const taken = await takeNumbers(rig.gharry, lines, true)
  expect(taken).toMatchObject({
    ...{ orders: 2, numbers: 3 },
    bad: [
      { line: 4, sentence: expect.stringContaining('is it DL0000000?') as string },
      { line: 5, sentence: 'There is no order MG-0.' },
    ],
  })
  await rig.workAll()
  const told = (await rig.shopOrders()).flatMap(({ fulfilments }) => fulfilments.map((one) => one.tracking_number))
  expect(told.sort()).toEqual([dray(1), dray(2)])
  // The same list again takes nothing twice.
  expect(await takeNumbers(rig.gharry, lines, true)).toMatchObject({ orders: 0, badLines: 5 })
  expect(await takeNumbers(rig.gharry, Array(50_001).fill(lines[0]) as typeof lines, false)).toMatchObject({
    ok: false,
  })
})
