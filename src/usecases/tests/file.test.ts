import { createReadStream, createWriteStream } from 'node:fs'
import { join } from 'node:path'
import { Readable } from 'node:stream'
import { importById, ordersById, problemsOf } from '@/data'
import { showOrder } from '@/usecases/desk/showOrder'
import { leftRows, receiveFile, requestFileImport } from '@/usecases/intake/importFile'
import { orderPattern } from '@/usecases/intake/orderPattern'
import { makeRig, type Rig } from './rig'

let rig: Rig
beforeEach(async () => {
  rig = await makeRig()
})
afterEach(() => rig.close())

const importText = async (text: string | Buffer) => {
  const received = await receiveFile(rig.gharry, Readable.from([Buffer.isBuffer(text) ? text : Buffer.from(text)]))
  if (!received.ok) throw new Error(received.sentence)
  const asked = await requestFileImport(rig.gharry, {
    channel: 'trade-desk',
    file: received.file,
    fileName: 'orders.csv',
    mapping: received.preview.mapping,
  })
  if (!asked.ok) throw new Error(asked.sentence)
  await rig.workAll()
  return {
    done: (await importById(rig.gharry.db, asked.id))!,
    problems: await problemsOf(rig.gharry.db, asked.id, 100),
    preview: received.preview,
  }
}

test('a byte-order mark, semicolons, quotes and line breaks in cells; bad rows are named, good ones go in', async () => {
  const { done, problems, preview } =
    await importText(`\uFEFFOrder number;SKU;Qty;Name;Street;Postcode;City;Country;E-mail;Price;Weight
T-1;TLS-TWEEZ;2;"Aqua ""Atelier""; Ann";"Kouter 1
bus 3";9000;Gent;Belgium;a@b.example;9,90;
T-1;CAR-FERT-500;1;"Aqua ""Atelier""; Ann";Kouter 1 bus 3;9000;Gent;Belgium;a@b.example;15,80;
T-2;TLS-TWEEZ;two;Bob;Kouter 2;9000;Gent;BE;;9,90;
T-3;TLS-TWEEZ;1;Cy;Kouter 3;9000;Gent;Atlantis;;9,90;
T-4;TLS-TWEEZ;1;Di;;9000;Gent;BE;;9,90;
T-5;NEW-1;1;Ed;Kouter 5;9000;Gent;BE;;9,90;1.2 kg
T-6;NEW-1;1;Flo;Kouter 6;9000;Gent;BE;;9,90;heavy
T-1;TLS-TWEEZ;1;Ann;Kouter 1;9000;Gent;BE;;9,90;
`)
  expect(preview).toMatchObject({ delimiter: ';', missing: [] })
  expect(done).toMatchObject({ state: 'done', created: 3, bad: 4 })
  expect(problems.map((problem) => `${problem.line}: ${problem.reason}`)).toEqual([
    '5: The quantity "two" is no whole number from 1 to 99,999.',
    '7: Street is empty.',
    '9: The weight "heavy" is no weight: write 250 g, or 1.2 kg.',
    '10: Order T-1 is further up already: the rows of one order must follow each other.',
  ])
  const orders = await rig.orders()
  expect(orders.map((order) => [order.number, order.state, order.quantity])).toEqual([
    ['T-1', 'ready', 3],
    ['T-3', 'attention', 1],
    ['T-5', 'ready', 1],
  ])
  expect(orders[0]!.buyer).toBe('Aqua "Atelier"; Ann')
})

test('the same file twice is one set of orders', async () => {
  const text = 'order,sku,qty,name,street,city,country\nX-1,TLS-TWEEZ,1,Ann,Kouter 1,Gent,BE\n'
  await importText(text)
  rig.put(60 * 24)
  expect((await importText(text)).done).toMatchObject({ created: 0, updated: 0, unchanged: 1 })
})

test('10 MB in one cell, an open quotation mark, a Latin-1 file', async () => {
  const head = 'order,sku,qty,name,street,city,country\n'
  const long = await importText(
    `${head}L-1,TLS-TWEEZ,1,Ann,Kouter 1,Gent,BE\nL-2,TLS-TWEEZ,1,"${'x'.repeat(10_000_000)}",Kouter 1,Gent,BE\nL-3,TLS-TWEEZ,1,Ann,Kouter 1,Gent,BE\n`,
  )
  expect(long.done.created).toBeGreaterThanOrEqual(1)
  expect(long.problems.map((problem) => problem.reason)).toContain(
    'A row is longer than 1 MB: probably a quotation mark is missing.',
  )
  const open = await importText(
    `${head}Q-1,TLS-TWEEZ,1,Ann,Kouter 1,Gent,BE\nQ-2,TLS-TWEEZ,1,"Ann,Kouter 1,Gent,BE\nQ-3,TLS-TWEEZ,1,Ann,Kouter 1,Gent,BE\n`,
  )
  expect(open.done.bad + (open.done.problem ? 1 : 0)).toBeGreaterThan(0)
  expect((await rig.orders()).map((order) => order.number)).toContain('Q-1')
  await importText(Buffer.from(`${head}B-1,TLS-TWEEZ,1,Jürgen Weiß,Gartenstraße 4,Köln,DE\n`, 'latin1'))
  expect((await rig.orders()).find((order) => order.number === 'B-1')).toMatchObject({
    buyer: 'Jürgen Weiß',
    city: 'Köln',
  })
})

test('a missing column is asked for, and nothing is imported before', async () => {
  const received = await receiveFile(
    rig.gharry,
    Readable.from([Buffer.from('order,thing,qty,name,street,city,country\nX,1,1,a,b,c,BE\n')]),
  )
  if (!received.ok) throw new Error(received.sentence)
  expect(received.preview.missing).toEqual(['SKU'])
  expect(
    await requestFileImport(rig.gharry, {
      channel: 'trade-desk',
      file: received.file,
      fileName: 'x',
      mapping: received.preview.mapping,
    }),
  ).toMatchObject({ ok: false, sentence: 'Choose the column for: SKU.' })
  expect(
    await requestFileImport(rig.gharry, {
      channel: 'trade-desk',
      file: '../../etc/passwd',
      fileName: 'x',
      mapping: received.preview.mapping,
    }),
  ).toMatchObject({ ok: false, code: 'unknown-file' })
  expect(await receiveFile(rig.gharry, Readable.from([Buffer.from('')]))).toMatchObject({
    ok: false,
    code: 'empty-file',
  })
  expect(await receiveFile(rig.gharry, Readable.from([Buffer.from('just one line of prose')]))).toMatchObject({
    ok: false,
    code: 'no-columns',
  })
})

test('50,000 rows go through in a stream', async () => {
  const path = join(rig.gharry.settings.dataDir, 'big.csv')
  const file = createWriteStream(path)
  file.write('order,sku,qty,name,street,postcode,city,country\n')
  for (let i = 0; i < 50_000; i++)
    if (
      !file.write(
        `BIG-${Math.floor(i / 5)},${i % 2 ? 'TLS-TWEEZ' : 'CAR-FERT-500'},1,Ann ${Math.floor(i / 5)},Kouter ${Math.floor(i / 5) % 90},9000,Gent,BE\n`,
      )
    )
      await new Promise<void>((resolve) => void file.once('drain', () => resolve()))
  await new Promise<void>((resolve) => void file.end(() => resolve()))
  const received = await receiveFile(rig.gharry, createReadStream(path))
  if (!received.ok) throw new Error(received.sentence)
  const asked = await requestFileImport(rig.gharry, {
    channel: 'trade-desk',
    file: received.file,
    fileName: 'big.csv',
    mapping: received.preview.mapping,
  })
  if (!asked.ok) throw new Error(asked.sentence)
  await rig.workAll()
  expect(await importById(rig.gharry.db, asked.id)).toMatchObject({ state: 'done', created: 10_000, bad: 0 })
}, 120_000)

test('a spreadsheet is taken as the table it holds; the pattern that is handed out comes in as it is', async () => {
  for (const format of ['xlsx', 'csv'] as const) {
    const { done, preview } = await importText(await orderPattern(rig.gharry, format))
    expect(preview.missing).toEqual([])
    expect(done).toMatchObject({ state: 'done', bad: 0 })
  }
  expect((await rig.orders()).map(({ number, city }) => [number, city])).toEqual([['EXAMPLE-1', 'Gent']])
  const broken = await receiveFile(rig.gharry, Readable.from([Buffer.from('PK\u0003\u0004 no archive')]))
  expect(broken).toMatchObject({ ok: false, code: 'unreadable-file' })
})

test('how a sender’s columns were taken is remembered for the next file with the same header row, and for no other', async () => {
  const text = (number: string, extra = ''): Buffer =>
    Buffer.from(`Beleg;Was;Wieviel;Wer;Wo;Stadt;Staat${extra}\n${number};NEW-1;1;Ed;Kouter 5;Gent;BE\n`)
  const receive = async (content: Buffer) => {
    const received = await receiveFile(rig.gharry, Readable.from([content]))
    if (!received.ok) throw new Error(received.sentence)
    return received
  }
  const first = await receive(text('B-1'))
  expect(first.channel).toBeNull()
  expect(first.preview.missing.length).toBeGreaterThan(0)
  const mapping = {
    ...{ number: 'Beleg', sku: 'Was', quantity: 'Wieviel', name: 'Wer', street: 'Wo', city: 'Stadt', country: 'Staat' },
    decimal: ',' as const,
  }
  const request = { channel: 'trade-desk', fileName: 'b.csv', mapping }
  expect(await requestFileImport(rig.gharry, { ...request, file: first.file })).toMatchObject({ ok: true })
  const second = await receive(text('B-2'))
  expect(second).toMatchObject({ channel: 'trade-desk', preview: { mapping, missing: [] } })
  expect((await receive(text('B-3', ';Mehr'))).channel).toBeNull()
})

const head =
  'number,sku,quantity,name,street,postcode,city,country,price,package,parcel weight,parcel size,insurance,gift message'
const line = (number: string, wishes: string): string =>
  `${number},TLS-TWEEZ,1,Ann,Kouter 1,9000,Gent,BE,9.90,${wishes}`

test('one file holds orders in different packages, insured, with a message on the slip', async () => {
  const { done, problems } = await importText(
    [
      head,
      line('W-1', 'Box L,,,,'),
      line('W-2', 'box-m,2 kg,,yes,'),
      line('W-3', ',1 lb 4 oz,12 × 9 × 4 in,120.00,For you'),
      line('W-4', ',,,no,'),
    ].join('\n'),
  )
  expect([done.created, problems]).toEqual([4, []])
  const orders = await rig.orders()
  expect(orders.map(({ number, preset, state }) => [number, preset, state])).toEqual([
    ['W-1', 'box-l', 'ready'],
    ['W-2', 'box-m', 'ready'],
    ['W-3', '', 'ready'],
    ['W-4', expect.any(String), 'ready'],
  ])
  const [, boxed, sized] = await Promise.all(orders.map(({ id }) => showOrder(rig.gharry, id)))
  // The weight is that of the parcel with its package; a rule puts 70 g in besides.
  expect(boxed!.parcels).toMatchObject([{ preset: 'box-m', weight: 2070 }])
  expect(sized!.parcels).toMatchObject([{ weight: 637, size: [305, 229, 102] }])
  expect(sized!.order.message).toBe('For you')
  expect(sized!.pins).toContainEqual(expect.objectContaining({ decision: 'insurance', author: 'The file' }))
  // The same file again changes nothing; another package is taken.
  expect((await importText([head, line('W-1', 'Box L,,,,')].join('\n'))).done).toMatchObject({ unchanged: 1 })
  await importText([head, line('W-1', 'Box M,,,,')].join('\n'))
  expect((await rig.orders())[0]!.preset).toBe('box-m')
})

test.each([
  ['Box L,,30 × 20 × 10 cm,,', /has one of them/],
  [',heavy,,,', /parcel weight "heavy" is no weight/],
  [',0 g,,,', /parcel weight "0 g" is no weight/],
  [',,30 × 20,,', /parcel size "30 × 20" is no size/],
  [',,,perhaps,', /neither yes, no nor an amount/],
  [',,,-5,', /neither yes, no nor an amount/],
])('wishes %s are refused with a reason', async (wishes, reason) => {
  const { done, problems } = await importText([head, line('W-9', wishes)].join('\n'))
  expect(done).toMatchObject({ created: 0, bad: 1 })
  expect(problems[0]!.reason).toMatch(reason)
})

test('a package that does not exist is told of at the order', async () => {
  await importText([head, line('W-8', 'Chest,,,,')].join('\n'))
  expect((await rig.orders())[0]).toMatchObject({
    state: 'attention',
    problem: expect.stringContaining('"Chest" does not exist') as string,
  })
})

test('rows that were not taken are a file, which is corrected and dropped again; nothing is taken twice', async () => {
  const bad = `number;sku;quantity;name;street;city;country;title
L-1;A;1;Ann;Kouter 1;Gent;BE;=1+1
L-2;A;1;Bob;Kouter 2;Gent;BE;"one; two"
L-2;B;two;Bob;Kouter 2;Gent;BE;"quote "" in it"
;A;1;Cy;Kouter 3;Gent;BE;no number
L-1;A;1;Ann;Kouter 1;Gent;BE;once more
`
  const { done } = await importText(bad)
  expect(done).toMatchObject({ created: 1, bad: 4 })
  const left = (await leftRows(rig.gharry, done.id))!.toString('utf8')
  expect(left.split('\n').filter(Boolean)).toHaveLength(5)
  const corrected = left
    .replace('two,Bob', '2,Bob')
    .replace(/^,A.*\n/m, '')
    .replace(/^L-1,.*\n/m, '')
  const again = await importText(corrected)
  expect(again.done).toMatchObject({ state: 'done', created: 1, bad: 0 })
  const [, order] = await ordersById(
    rig.gharry.db,
    (await rig.orders()).map(({ id }) => id),
  )
  expect(order!.order.items.map(({ title, quantity }) => [title, quantity])).toEqual([
    ['one; two', 1],
    ['quote " in it', 2],
  ])
  expect(await leftRows(rig.gharry, again.done.id)).toBeNull()
  expect(await leftRows(rig.gharry, 9999)).toBeNull()
})
