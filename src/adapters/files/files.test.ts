import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { stringify } from 'csv-stringify/sync'
import fc from 'fast-check'
import {
  csvFile,
  fileFields,
  missingFields,
  previewOrderFile,
  readOrderFile,
  readSheet,
  xlsxFile,
  type FileMapping,
  type FileOrder,
  type FileProblem,
} from '../index'

const folder = mkdtempSync(join(tmpdir(), 'gharry-files-'))
afterAll(() => rmSync(folder, { recursive: true }))
let files = 0
const stored = (content: string | Buffer): string => {
  const path = join(folder, `${files++}.csv`)
  writeFileSync(path, content)
  return path
}
const readAll = async (
  content: string | Buffer,
  given?: FileMapping,
): Promise<{ orders: FileOrder[]; problems: FileProblem[] }> => {
  const path = stored(content)
  const mapping = given ?? (await previewOrderFile(path)).mapping
  const [orders, problems]: [FileOrder[], FileProblem[]] = [[], []]
  for await (const order of readOrderFile(
    path,
    mapping,
    { currency: 'EUR', now: '2026-11-25T08:00:00Z', zone: 'Europe/Brussels' },
    (problem) => void problems.push(problem),
    () => undefined,
  ))
    orders.push(order)
  return { orders, problems }
}

// Cells as people write them: with whatever separates, quotes and breaks lines.
const cell = fc
  .string({
    unit: fc.constantFrom('a', 'B', 'é', 'ß', '7', ' ', ',', ';', '"', "'", '\n', '|'),
    minLength: 1,
    maxLength: 12,
  })
  .map((text) => `x${text}x`)
const plain = (text: string): string => text.replace(/\s+/g, ' ').trim()

describe('order files', () => {
  const line = fc.record({
    sku: fc.constantFrom('A', 'B-2', 'C 3'),
    quantity: fc.integer({ min: 1, max: 99_999 }),
    weight: fc.option(fc.integer({ min: 1, max: 30_000 })),
  })
  const order = fc.record({
    name: cell,
    street: cell,
    city: cell,
    country: fc.constantFrom('BE', 'GB'),
    lines: fc.array(line, { minLength: 1, maxLength: 4 }),
  })

  test('what is written with any separator is read back, order by order and line by line', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(order, { minLength: 1, maxLength: 6 }),
        fc.constantFrom(',', ';', '\t', '|'),
        fc.constantFrom('\n', '\r\n'),
        async (given, delimiter, end) => {
          const rows = given.flatMap(({ lines, ...head }, i) =>
            lines.map((own) => [
              `N-${i}`,
              own.sku,
              String(own.quantity),
              head.name,
              head.street,
              head.city,
              head.country,
              own.weight === null ? '' : `${own.weight} g`,
            ]),
          )
          const { orders, problems } = await readAll(
            `\uFEFF${stringify([['Order no.', 'Article', 'Pieces', 'Ship-to name', 'Address', 'Town', 'Country code', 'Unit weight'], ...rows], { delimiter, record_delimiter: end, quoted_match: /\n/ })}`,
          )
          expect(problems).toEqual([])
          expect(
            orders.map(({ order: { number, buyer, shipTo, items } }) => ({
              number,
              name: buyer!.name,
              street: shipTo!.lines![0],
              city: shipTo!.city,
              country: shipTo!.country,
              lines: items!.map(({ sku, quantity, weight }) => ({ sku, quantity, weight: weight ?? null })),
            })),
          ).toEqual(
            given.map(({ name, street, city, ...rest }, i) => ({
              number: `N-${i}`,
              name: plain(name),
              street: plain(street),
              city: plain(city),
              ...rest,
            })),
          )
        },
      ),
      { numRuns: 60 },
    )
  })

  test('headers are recognised in several languages and spellings, each column once', async () => {
    const preview = await previewOrderFile(
      stored(
        'Bestellnummer;Artikel;Menge;Empfänger;Straße;Ort;Land;PLZ;E-Mail;Notes\n1;A;1;Ann;Kaai 1;Gent;BE;9000;a@b.example;x\n',
      ),
    )
    expect(preview).toMatchObject({
      delimiter: ';',
      missing: [],
      mapping: {
        number: 'Bestellnummer',
        sku: 'Artikel',
        quantity: 'Menge',
        name: 'Empfänger',
        street: 'Straße',
        city: 'Ort',
        country: 'Land',
        postcode: 'PLZ',
        email: 'E-Mail',
      },
    })
    expect(Object.values(preview.mapping)).not.toContain('Notes')
    expect(new Set(Object.values(preview.mapping)).size).toBe(Object.values(preview.mapping).length)
    expect(preview.rows).toEqual([['1', 'A', '1', 'Ann', 'Kaai 1', 'Gent', 'BE', '9000', 'a@b.example', 'x']])
  })

  test('what an import needs and nobody gives is named as people know it', () => {
    expect(missingFields({})).toEqual(fileFields.filter(({ needed }) => needed).map(({ name }) => name))
    expect(missingFields({ number: 'a', sku: 'b', quantity: 'c', name: 'd', street: 'e', city: 'f' })).toEqual([
      'Country',
    ])
  })

  test('a mapping that somebody chose goes before what the headers suggest', async () => {
    const { orders } = await readAll('order,other,sku,qty,name,street,city,country\n1,Z-9,A,1,Ann,Kaai 1,Gent,BE\n', {
      number: 'order',
      sku: 'other',
      quantity: 'qty',
      name: 'name',
      street: 'street',
      city: 'city',
      country: 'country',
    })
    expect(orders[0]!.order.items![0]!.sku).toBe('Z-9')
  })

  test.each([
    ['quantity', '0', 'The quantity "0" is no whole number from 1 to 99,999.'],
    ['quantity', '1.5', 'The quantity "1.5" is no whole number from 1 to 99,999.'],
    ['quantity', '100000', 'The quantity "100000" is no whole number from 1 to 99,999.'],
    ['quantity', '', 'Quantity is empty.'],
    ['price', 'dear', 'The price "dear" is no amount of EUR.'],
    ['weight', 'light', 'The weight "light" is no weight: write 250 g, or 1.2 kg.'],
    ['placed', 'yesterday', 'The order time "yesterday" is no date: write YYYY-MM-DD.'],
    ['due', '2026-02-30', 'The promised day "2026-02-30" is no date: write YYYY-MM-DD.'],
    ['placed', 'order 66', 'The order time "order 66" is no date: write YYYY-MM-DD.'],
    ['placed', '5', 'The order time "5" is no date: write YYYY-MM-DD.'],
    ['weight', '0.5 g', 'The weight "0.5 g" is no weight: write 250 g, or 1.2 kg.'],
    ['country', ' ', 'Country is empty.'],
  ])('a row whose %s is “%s” is named with its line, and the others go in', async (column, value, reason) => {
    const row = {
      order: '2',
      sku: 'A',
      quantity: '1',
      name: 'Ann',
      street: 'Kaai 1',
      city: 'Gent',
      country: 'BE',
      price: '',
      weight: '',
      placed: '',
      due: '',
    }
    const { orders, problems } = await readAll(
      csvFile(Object.keys(row), [
        { ...row, order: '1' },
        { ...row, [column]: value },
        { ...row, order: '3', price: '1.234,50', weight: '1,2 kg', placed: '2026-11-20', due: '2026-11-30' },
      ]),
    )
    expect(problems.map(({ line: at, reason: why }) => [at, why])).toEqual([[3, reason]])
    expect(orders.map(({ order: { number } }) => number)).toEqual(['1', '3'])
    expect(orders[1]!.order).toMatchObject({
      promisedBy: '2026-11-30',
      placedAt: '2026-11-19T23:00:00.000Z',
      items: [{ weight: 1200, weightUnit: 'g', price: '1234.50' }],
    })
  })
})

describe('what can be read in two ways', () => {
  const head = 'order,sku,qty,name,street,city,country,price,weight,placed\n'
  const row = (n: number, price: string, weight: string, placed: string): string =>
    `${n},A,1,Ann,Kaai 1,Gent,BE,"${price}","${weight}",${placed}\n`
  test('is asked for, or refused with its line; the rest of the column says how it is meant', async () => {
    const asked = await previewOrderFile(stored(head + row(1, '9.999', '1,500 kg', '03/04/2026')))
    expect([asked.decimal, asked.dates, asked.mapping.decimal, asked.mapping.dates]).toEqual([
      { proposed: null, asked: '9.999' },
      { proposed: null, asked: '03/04/2026' },
      undefined,
      undefined,
    ])
    const { orders, problems } = await readAll(
      head +
        row(1, '9.999', '', '') +
        row(2, '', '1,500 kg', '') +
        row(3, '', '', '03/04/2026') +
        row(4, '9.90', '', '2026-04-03'),
      asked.mapping,
    )
    expect(problems.map(({ line, reason }) => [line, reason])).toEqual([
      [2, '"9.999" could be 9999 or 9.9990: write it without the point, or with another number of decimals.'],
      [3, '"1,500 kg" could be 1500 or 1.5000: write it without the comma, or with another number of decimals.'],
      [
        4,
        'The order time "03/04/2026" could be two days: say for the file whether day or month comes first, or write YYYY-MM-DD.',
      ],
    ])
    expect(orders.map(({ order: { number } }) => number)).toEqual(['4'])
  })
  test('by the sign that is chosen, or by what other cells show', async () => {
    const text = head + row(1, '9.999', '1.500 kg', '03/04/2026') + row(2, '12,50', '2,5 kg', '25/04/2026')
    const preview = await previewOrderFile(stored(text))
    expect([preview.mapping.decimal, preview.mapping.dates]).toEqual([',', 'dmy'])
    const { orders, problems } = await readAll(text)
    expect(problems).toEqual([])
    expect(orders.map(({ order }) => [order.items![0]!.price, order.items![0]!.weight, order.placedAt])).toEqual([
      ['9999.00', 1_500_000, '2026-04-02T22:00:00.000Z'],
      ['12.50', 2500, '2026-04-24T22:00:00.000Z'],
    ])
    const american = await readAll(head + row(1, '', '', '03/04/2026'), { ...preview.mapping, dates: 'mdy' })
    expect(american.orders[0]!.order.placedAt).toBe('2026-03-03T23:00:00.000Z')
  })
})

describe('one bad row loses no other', () => {
  const head = 'order,sku,qty,name,street,city,country\n'
  const row = (n: number, name = 'Ann', qty = '1'): string => `${n},A,${qty},${name},Kaai 1,Gent,BE\n`
  test('a forgotten quote, a row above the limit, a mark within a cell', async () => {
    const { orders, problems } = await readAll(
      `${head}${row(1)}2,A,1,"Ann,Kaai 1,Gent,BE\n${row(3)}${row(4, 'x'.repeat(1_100_000))}${row(5)}6,A,1,5" pot,Kaai 1,Gent,BE\n${row(7)}${Array.from({ length: 200 }, (_, i) => row(100 + i)).join('')}`,
    )
    expect(problems.map(({ line, reason }) => [line, reason])).toEqual([
      [3, 'A quotation mark is opened and never closed.'],
      [5, 'A row is longer than 1 MB: probably a quotation mark is missing.'],
    ])
    expect(orders.map(({ order: { number } }) => number).slice(0, 5)).toEqual(['1', '3', '5', '6', '7'])
    expect(orders).toHaveLength(205)
    expect(orders[3]!.order.buyer!.name).toBe('5" pot')
  })
  test('a quote that is opened on every line is named on every line, once', async () => {
    const { orders, problems } = await readAll(
      `${head}${Array.from({ length: 5 }, (_, i) => `${i},A,1,"Ann ${i},Kaai 1,Gent,BE\n`).join('')}${row(9)}`,
    )
    expect(problems.map(({ line }) => line)).toEqual([2, 3, 4, 5, 6])
    expect(orders.map(({ order: { number } }) => number)).toEqual(['9'])
  })
  test('an order with a row that cannot be used is not taken by halves; rows of one order name one address', async () => {
    const { orders, problems } = await readAll(
      `${head}1,A,1,Ann,Kaai 1,Gent,BE\n1,B,none,Ann,Kaai 1,Gent,BE\n1,C,1,Ann,Kaai 1,Gent,BE\n2,A,1,Bob,Kaai 2,Gent,BE\n2,B,1,Bob,Kaai 9,Gent,BE\n3,A,1,Cy,Kaai 3,Gent,BE\n3,B,1,CY,kaai 3,Gent,BE\n`,
    )
    expect(problems.map(({ line, reason }) => `${line}: ${reason}`)).toEqual([
      '3: The quantity "none" is no whole number from 1 to 99,999.',
      '2: Order 1 is not taken, as line 3 of it cannot be used: correct that line and send the file again.',
      '6: Street is "Kaai 9", but "Kaai 2" on line 5 of the same order: its rows must name the same.',
      '5: Order 2 is not taken, as line 6 of it cannot be used: correct that line and send the file again.',
    ])
    expect(orders.map(({ order: { number, items } }) => [number, items!.length])).toEqual([['3', 2]])
  })
  test('columns named as the documentation names them are read', async () => {
    const names = fileFields.map(({ name }) => name)
    expect((await previewOrderFile(stored(`${names.map((name) => `"${name}"`).join(',')}\n`))).mapping).toEqual(
      Object.fromEntries(fileFields.map(({ id, name }) => [id, name])),
    )
  })
})

describe('tables for people', () => {
  const columns = ['sku', 'title', 'note']
  const rows = fc.array(
    fc.record({
      sku: fc.constantFrom('007', '1e5', 'A-1', '=1+1', '2026-01-02'),
      title: cell,
      note: fc.oneof(cell, fc.constant('')),
    }),
    { minLength: 1, maxLength: 8 },
  )
  const read = async (content: Buffer) => {
    const sheet = await readSheet(content, columns, ['sku'])
    if (!sheet.ok) throw new Error(sheet.sentence)
    return sheet.rows
  }

  test('a table comes back from CSV and from a spreadsheet as it was, with the lines of the file', async () => {
    await fc.assert(
      fc.asyncProperty(rows, async (given) => {
        for (const content of [csvFile(columns, given), await xlsxFile('Items', columns, given)])
          expect(await read(content)).toEqual(given.map((cells, i) => ({ line: i + 2, cells })))
      }),
      { numRuns: 40 },
    )
  })

  test.each([
    ['nothing', Buffer.alloc(0), 'The file is empty.'],
    ['too much', Buffer.alloc(20 * 1024 * 1024 + 1, 'a'), 'The file is larger than 20 MB: split it.'],
    ['a spreadsheet that is none', Buffer.from('PK not really'), /^The file cannot be read as a table: /],
    ['no row of names', Buffer.from('A-1,Fern\n'), /^The first row has no column "sku"/],
    [
      'a column that nobody knows',
      Buffer.from('sku,colour\nA,red\n'),
      'The column "colour" is not known. The columns are: sku, title, note.',
    ],
  ])('%s is refused with what to do', async (_, content, sentence) => {
    expect(await readSheet(content, columns, ['sku'])).toEqual({
      ok: false,
      sentence: typeof sentence === 'string' ? sentence : (expect.stringMatching(sentence) as string),
    })
  })

  test('Latin-1, semicolons and tabs, names in any case, empty rows', async () => {
    expect(await read(Buffer.from('SKU; Title \nA;Gläser\n;\nB;Töpfe\n', 'latin1'))).toEqual([
      { line: 2, cells: { sku: 'A', title: 'Gläser' } },
      { line: 4, cells: { sku: 'B', title: 'Töpfe' } },
    ])
    expect(await read(Buffer.from('sku\ttitle\nA\tFern, small\n'))).toEqual([
      { line: 2, cells: { sku: 'A', title: 'Fern, small' } },
    ])
  })
})
