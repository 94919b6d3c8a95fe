import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { XMLParser } from 'fast-xml-parser'
import { xlsxFile } from '@/adapters'
import { ordersById, type ImportRow } from '@/data'
import { deskStandIn } from '../../../standins/channels/desk'
import { saveConnection, testConnection, type ConnectionInput } from '../intake/connections'
import { importOrders, requestImport } from '../intake/importOrders'
import { showImportProblems } from '../intake/showIntake'
import { buyBatch } from '../dispatch/buyBatch'
import { planBatch } from '../dispatch/planBatch'
import { requestVoid } from '../dispatch/voidLabel'
import { workImport } from '../worker/work'
import { ublOrder } from './ublOrder.test-help'
import { makeRig, type Rig } from './rig'

let rig: Rig
let folder: string
let desk: ReturnType<typeof deskStandIn>
let http: string
let port: number
let fingerprint: string
const credentials = { user: 'mossgill', password: 'a password' }
beforeAll(async () => {
  rig = await makeRig()
  folder = mkdtempSync(join(tmpdir(), 'gharry-desk-'))
  desk = deskStandIn({ folder, ...credentials })
  http = await desk.app.listen({ host: '127.0.0.1', port: 0 })
  port = await desk.listen(0)
  fingerprint = ((await (await fetch(`${http}/admin/key`)).json()) as { fingerprint: string }).fingerprint
  expect(await saveConnection(rig.gharry, null, input())).toMatchObject({ ok: true, id: 'wholesale' })
})
afterAll(async () => {
  await desk.app.close()
  await rig.close()
  rmSync(folder, { recursive: true, force: true })
})

const input = (more: Record<string, string> = {}): ConnectionInput => ({
  role: 'channel',
  kind: 'sftp-folder',
  name: 'Wholesale',
  on: true,
  settings: {
    ...{ host: '127.0.0.1', port: String(port), ...credentials, hostKey: fingerprint },
    ...{ folder: '', seller: 'Mossgill Aquatics', answers: 'ubl', ...more },
  },
})
const tell = (path: string, body: unknown): Promise<Response> =>
  fetch(`${http}${path}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  })
const put = (name: string, content: string, more: object = {}): Promise<Response> =>
  tell('/admin/files', { name, content, ...more })
const files = async () => (await (await fetch(`${http}/admin/files`)).json()) as Record<string, Record<string, string>>
const names = async () => {
  const now = await files()
  return Object.fromEntries(Object.entries(now).map(([room, of]) => [room, Object.keys(of).sort()]))
}
const ordersHere = async () => (await rig.orders()).filter(({ channelId }) => channelId === 'wholesale')
const importNow = async (): Promise<number> => {
  await requestImport(rig.gharry, 'wholesale')
  await rig.workAll()
  const [last] = (await rig.gharry.db('imports').where({ channelId: 'wholesale' }).orderBy('id', 'desc').limit(1)) as {
    id: number
  }[]
  return last!.id
}
const csv = (number: string, country = 'BE'): string =>
  `order number,sku,quantity,name,street,postcode,city,country,weight\n${number},W-1,2,Kiosk Gent,Coupure Links 88,9000,Gent,${country},3 kg\n`

test('files of all four forms come in once, the oldest first, and are put away', async () => {
  expect(await testConnection(rig.gharry, null, input())).toMatchObject({ works: true, sentence: /answers/ })
  await put('a.csv', csv('WD-1'), { age: 900 })
  const sheet = await xlsxFile(
    'Orders',
    ['order number', 'sku', 'quantity', 'name', 'street', 'postcode', 'city', 'country', 'weight'],
    [
      {
        ...{ 'order number': 'WD-2', sku: 'W-1', quantity: '1', name: 'Kiosk Brugge', street: 'Langestraat 5' },
        ...{ postcode: '8000', city: 'Brugge', country: 'BE', weight: '800 g' },
      },
    ],
  )
  await put('b.xlsx', sheet.toString('base64'), { base64: true, age: 800 })
  const line = (number: string): string =>
    JSON.stringify({
      number,
      shipTo: { name: 'Kiosk Aalst', lines: ['Markt 3'], postcode: '9300', city: 'Aalst', country: 'BE' },
      items: [{ sku: 'W-1', quantity: 1, weight: 700, weightUnit: 'g' }],
    })
  await put('c.jsonl', `${line('WD-3')}\n{"number":"WD-4"}\nnot json\n${line('WD-5')}\n`, { age: 700 })
  await put('d.xml', ublOrder('WD-6'), { age: 600 })
  const done = await importNow()
  expect((await ordersHere()).map(({ number }) => number)).toEqual(['WD-1', 'WD-2', 'WD-3', 'WD-5', 'WD-6'])
  const problems = await showImportProblems(rig.gharry, done)
  expect(problems.map(({ reason }) => reason)).toEqual([
    expect.stringMatching(/^Line 2: shipTo/),
    expect.stringMatching(/^Line 3: the line/),
  ])
  // What is in the books is put away with the next look.
  await importNow()
  expect(await names()).toMatchObject({ in: [], done: ['a.csv', 'b.xlsx', 'c.jsonl', 'd.xml'] })
  const row = (await ordersHere()).at(-1)!
  const order = (await ordersById(rig.gharry.db, [row.id]))[0]!.order
  expect(order).toMatchObject({
    promisedBy: '2026-12-10',
    value: { minor: 5000, currency: 'EUR' },
    shipTo: {
      name: 'Lotte Maes',
      company: 'Kiosk Leuven BV',
      lines: ['Bondgenotenlaan 20'],
      city: 'Leuven',
      country: 'BE',
    },
    items: [{ line: '10', sku: 'W-1', quantity: 2, unitPrice: { minor: 2500, currency: 'EUR' } }],
  })
})

test('a file is put away only when its orders are in the books, though they could not be written at first', async () => {
  await put('first.csv', csv('WD-7'), { age: 900 })
  await put('second.csv', csv('WD-8'), { age: 800 })
  await requestImport(rig.gharry, 'wholesale')
  const row = (await rig.gharry
    .db('imports')
    .where({ channelId: 'wholesale' })
    .orderBy('id', 'desc')
    .first()) as ImportRow
  const full = new Proxy(rig.gharry.db, {
    get: (db, name) =>
      name === 'transaction' ? () => Promise.reject(new Error('the disk is full')) : db[name as 'raw'],
  })
  await expect(importOrders({ ...rig.gharry, db: full }, row)).rejects.toThrow('the disk is full')
  expect((await names()).in).toEqual(['first.csv', 'second.csv'])
  await importNow()
  await importNow()
  expect((await ordersHere()).map(({ number }) => number).slice(-2)).toEqual(['WD-7', 'WD-8'])
  expect((await names()).in).toEqual([])
})

test('a file that is written anew under the same name before it was put away is read, too', async () => {
  await put('daily.csv', csv('WD-13'), { age: 900 })
  await importNow()
  await put('daily.csv', csv('WD-14'), { age: 60 })
  await importNow()
  await importNow()
  expect((await ordersHere()).map(({ number }) => number).slice(-2)).toEqual(['WD-13', 'WD-14'])
  const now = await names()
  expect([now.in, now.done!.filter((name) => name.endsWith('daily.csv'))]).toEqual([[], ['daily.csv']])
})

test('half written, hidden, empty, of another ending, twice, of the same name: nothing is lost and nothing comes twice', async () => {
  const before = (await ordersHere()).length
  // Written a moment ago by a server whose clock is ahead: it stays young however long this file of tests takes.
  await put('young.csv', csv('WD-10'), { age: -600 })
  await put('.hidden.csv', csv('WD-11'))
  await put('notes.txt', 'hello')
  await put('empty.csv', '')
  await put('again.csv', csv('WD-1'))
  await put('a.csv', csv('WD-12'))
  await importNow()
  await importNow()
  expect((await ordersHere()).map(({ number }) => number).slice(before)).toEqual(['WD-12'])
  const now = await names()
  expect(now.in).toEqual(['.hidden.csv', 'notes.txt', 'young.csv'])
  expect(now.refused).toEqual(['empty.csv'])
  expect(now.done!.filter((name) => name.endsWith('a.csv'))).toHaveLength(2)
})

test('documents that are no orders are refused with why: another name space, entities, a bomb of them, no XML, no columns', async () => {
  const bad: Record<string, readonly [string, RegExp]> = {
    'space.xml': [ublOrder('X1').replace('xsd:Order-2', 'xsd:Invoice-2'), /its name space is not/],
    'entity.xml': [
      ublOrder('X2').replace('?>', '?><!DOCTYPE Order [<!ENTITY x SYSTEM "file:///etc/passwd">]>').replace('X2', '&x;'),
      /entities or a document type/,
    ],
    'bomb.xml': [
      `<?xml version="1.0"?><!DOCTYPE a [<!ENTITY b "${'c'.repeat(100)}">]><a>&b;</a>`,
      /entities or a document type/,
    ],
    'invoice.xml': ['<?xml version="1.0"?><Invoice><ID>1</ID></Invoice>', /its root is Invoice/],
    'broken.xml': ['<Order><ID>1</Order>', /not well-formed/],
    'large.xml': ['x'.repeat(20_000_001), /larger than 20 MB/],
    'columns.csv': ['a,b\n1,2\n', /No column gives Order number/],
  }
  for (const [name, [content]] of Object.entries(bad)) await put(name, content)
  const before = (await ordersHere()).length
  const done = await importNow()
  const problems = await showImportProblems(rig.gharry, done)
  for (const [name, [, reason]] of Object.entries(bad))
    expect(problems.find(({ row }) => row.startsWith(name))?.reason).toMatch(reason)
  expect(await ordersHere()).toHaveLength(before)
})

test('what has left is told by a UBL despatch advice that another program reads, once; taken back, it is cancelled', async () => {
  const ready = (await ordersHere()).find(({ number }) => number === 'WD-1')!
  const plan = await planBatch(rig.gharry, [ready.id])
  expect(await buyBatch(rig.gharry, [ready.id], plan.total)).toMatchObject({ ok: true })
  await tell('/admin/faults', { full: true })
  const { workOnce } = await import('../worker/work')
  for (let i = 0; i < 6; i++) await workOnce(rig.gharry)
  expect((await names()).out).toEqual([])
  await tell('/admin/faults', { full: false })
  await rig.workAll()
  const { out } = await files()
  const [name, content] = Object.entries(out!)[0]!
  expect(Object.keys(out!)).toEqual([name])
  const [label] = await rig.labels()
  const read = (
    new XMLParser({ ignoreAttributes: false, removeNSPrefix: true, parseTagValue: false }).parse(content) as {
      DespatchAdvice: Record<string, unknown>
    }
  ).DespatchAdvice
  expect(read).toMatchObject({
    UBLVersionID: '2.1',
    OrderReference: { ID: 'WD-1' },
    DespatchSupplierParty: { Party: { PartyName: { Name: 'Mossgill Aquatics' } } },
    DeliveryCustomerParty: { Party: { PartyName: { Name: 'Kiosk Gent' } } },
    Shipment: { TransportHandlingUnit: { ID: (await rig.carrierLabels()).at(-1)!.trackingNumber } },
    DespatchLine: { DeliveredQuantity: { '#text': '2', '@_unitCode': 'EA' } },
  })
  expect(label!.state).toBe('bought')
  // The elements of the header, in the order of the schema of the standard (UBL-DespatchAdvice-2.1).
  const schema = [
    ...['UBLVersionID', 'CustomizationID', 'ProfileID', 'ID', 'IssueDate', 'IssueTime', 'DocumentStatusCode'],
    ...['DespatchAdviceTypeCode', 'Note', 'OrderReference', 'DespatchSupplierParty', 'DeliveryCustomerParty'],
    ...['Shipment', 'DespatchLine'],
  ]
  const used = Object.keys(read).filter((each) => !each.startsWith('@'))
  expect(used).toEqual(schema.filter((each) => used.includes(each)))

  await requestVoid(rig.gharry, label!.id)
  await rig.workAll()
  const after = Object.entries((await files()).out!).find(([each]) => each !== name)!
  expect(after[1]).toContain('<cbc:DocumentStatusCode>Cancelled</cbc:DocumentStatusCode>')
  expect(after[1]).toContain('<cbc:ID>WD-1</cbc:ID>')
})

test('another host key is not called, also by an import; a line that ends in the middle of a file loses nothing', async () => {
  await put('cut.csv', `${csv('WD-20')}${'x'.repeat(200_000)}\n`)
  await tell('/admin/faults', { cutAfter: 1000 })
  await requestImport(rig.gharry, 'wholesale')
  await workImport(rig.gharry)
  expect((await ordersHere()).some(({ number }) => number === 'WD-20')).toBe(false)
  await tell('/admin/faults', { cutAfter: 0 })
  await rig.workAll()
  expect((await ordersHere()).some(({ number }) => number === 'WD-20')).toBe(true)

  const { fingerprint: other } = (await (await tell('/admin/key', {})).json()) as { fingerprint: string }
  expect(await testConnection(rig.gharry, 'wholesale', input())).toMatchObject({
    works: false,
    sentence: expect.stringContaining(other) as string,
  })
  expect(await testConnection(rig.gharry, null, input({ hostKey: other }))).toMatchObject({ works: true })
  expect(await testConnection(rig.gharry, null, input({ hostKey: other, password: 'wrong' }))).toMatchObject({
    works: false,
    sentence: /refuses user or password/,
  })
  expect(await testConnection(rig.gharry, null, input({ hostKey: 'nonsense' }))).toMatchObject({
    fields: { hostKey: /SHA256: and 43 signs/ },
  })
})
