import { createReadStream, createWriteStream } from 'node:fs'
import { join } from 'node:path'
import { Readable } from 'node:stream'
import { importById, problemsOf } from '@/data'
import { receiveFile, requestFileImport } from '@/usecases/intake/importFile'
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
