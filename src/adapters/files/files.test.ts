import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { stringify } from 'csv-stringify/sync'
import fc from 'fast-check'
import { csvFile, fileFields, missingFields, previewOrderFile, readOrderFile, readSheet, xlsxFile, type FileMapping, type FileOrder, type FileProblem } from '../index'

const folder = mkdtempSync(join(tmpdir(), 'gharry-files-'))
afterAll(() => rmSync(folder, { recursive: true }))
let files = 0
const stored = (content: string | Buffer): string => { const path = join(folder, `${files++}.csv`); writeFileSync(path, content); return path }
const readAll = async (content: string | Buffer, given?: FileMapping): Promise<{ orders: FileOrder[]; problems: FileProblem[] }> => {
  const path = stored(content)
  const mapping = given ?? (await previewOrderFile(path)).mapping
  const [orders, problems]: [FileOrder[], FileProblem[]] = [[], []]
  for await (const order of readOrderFile(path, mapping, { currency: 'EUR', now: '2026-11-25T08:00:00Z' }, (problem) => void problems.push(problem), () => undefined)) orders.push(order)
  return { orders, problems }
}

// Cells as people write them: with whatever separates, quotes and breaks lines.
const cell = fc.string({ unit: fc.constantFrom('a', 'B', 'é', 'ß', '7', ' ', ',', ';', '"', "'", '\n', '|'), minLength: 1, maxLength: 12 }).map((text) => `x${text}x`)
const plain = (text: string): string => text.replace(/\s+/g, ' ').trim()

describe('order files', () => {
  const line = fc.record({ sku: fc.constantFrom('A', 'B-2', 'C 3'), quantity: fc.integer({ min: 1, max: 99_999 }), weight: fc.option(fc.integer({ min: 1, max: 30_000 })) })
  const order = fc.record({ name: cell, street: cell, city: cell, country: fc.constantFrom('BE', 'GB'), lines: fc.array(line, { minLength: 1, maxLength: 4 }) })

  test('what is written with any separator is read back, order by order and line by line', async () => {
    await fc.assert(fc.asyncProperty(fc.array(order, { minLength: 1, maxLength: 6 }), fc.constantFrom(',', ';', '\t', '|'), fc.constantFrom('\n', '\r\n'), async (given, delimiter, end) => {
      const rows = given.flatMap(({ lines, ...head }, i) => lines.map((own) => [`N-${i}`, own.sku, String(own.quantity), head.name, head.street, head.city, head.country, own.weight === null ? '' : `${own.weight} g`]))
      const { orders, problems } = await readAll(`\uFEFF${stringify([['Order no.', 'Article', 'Pieces', 'Ship-to name', 'Address', 'Town', 'Country code', 'Unit weight'], ...rows], { delimiter, record_delimiter: end })}`)
      expect(problems).toEqual([])
      expect(orders.map(({ order: { number, buyer, shipTo, items } }) => ({ number, name: buyer!.name, street: shipTo!.lines![0], city: shipTo!.city, country: shipTo!.country, lines: items!.map(({ sku, quantity, weight }) => ({ sku, quantity, weight: weight ?? null })) })))
        .toEqual(given.map(({ name, street, city, ...rest }, i) => ({ number: `N-${i}`, name: plain(name), street: plain(street), city: plain(city), ...rest })))
    }), { numRuns: 60 })
  })

  test('headers are recognised in several languages and spellings, each column once', async () => {
    const preview = await previewOrderFile(stored('Bestellnummer;Artikel;Menge;Empfänger;Straße;Ort;Land;PLZ;E-Mail;Notes\n1;A;1;Ann;Kaai 1;Gent;BE;9000;a@b.example;x\n'))
    expect(preview).toMatchObject({ delimiter: ';', missing: [], mapping: { number: 'Bestellnummer', sku: 'Artikel', quantity: 'Menge', name: 'Empfänger', street: 'Straße', city: 'Ort', country: 'Land', postcode: 'PLZ', email: 'E-Mail' } })
    expect(Object.values(preview.mapping)).not.toContain('Notes')
    expect(new Set(Object.values(preview.mapping)).size).toBe(Object.values(preview.mapping).length)
    expect(preview.rows).toEqual([['1', 'A', '1', 'Ann', 'Kaai 1', 'Gent', 'BE', '9000', 'a@b.example', 'x']])
  })

  test('what an import needs and nobody gives is named as people know it', () => {
    expect(missingFields({})).toEqual(fileFields.filter(({ needed }) => needed).map(({ name }) => name))
    expect(missingFields({ number: 'a', sku: 'b', quantity: 'c', name: 'd', street: 'e', city: 'f' })).toEqual(['Country'])
  })

  test('a mapping that somebody chose goes before what the headers suggest', async () => {
    const { orders } = await readAll('order,other,sku,qty,name,street,city,country\n1,Z-9,A,1,Ann,Kaai 1,Gent,BE\n', { number: 'order', sku: 'other', quantity: 'qty', name: 'name', street: 'street', city: 'city', country: 'country' })
    expect(orders[0]!.order.items![0]!.sku).toBe('Z-9')
  })

  test.each([
    ['quantity', '0', 'The quantity "0" is no whole number from 1 to 99,999.'], ['quantity', '1.5', 'The quantity "1.5" is no whole number from 1 to 99,999.'], ['quantity', '100000', 'The quantity "100000" is no whole number from 1 to 99,999.'], ['quantity', '', 'Quantity is empty.'],
    ['price', 'dear', 'The price "dear" is no amount.'], ['weight', 'light', 'The weight "light" is no weight: write 250 g, or 1.2 kg.'], ['placed', 'yesterday', 'The order time "yesterday" is no date: write YYYY-MM-DD.'], ['due', '24.12.2026', 'The promised day "24.12.2026" is no date: write YYYY-MM-DD.'], ['country', ' ', 'Country is empty.'],
  ])('a row whose %s is “%s” is named with its line, and the others go in', async (column, value, reason) => {
    const row = { order: '2', sku: 'A', quantity: '1', name: 'Ann', street: 'Kaai 1', city: 'Gent', country: 'BE', price: '', weight: '', placed: '', due: '' }
    const { orders, problems } = await readAll(csvFile(Object.keys(row), [{ ...row, order: '1' }, { ...row, [column]: value }, { ...row, order: '3', price: '1.234,50', weight: '1,2 kg', placed: '2026-11-20', due: '2026-11-30' }]))
    expect(problems.map(({ line: at, reason: why }) => [at, why])).toEqual([[3, reason]])
    expect(orders.map(({ order: { number } }) => number)).toEqual(['1', '3'])
    expect(orders[1]!.order).toMatchObject({ promisedBy: '2026-11-30', placedAt: '2026-11-20', items: [{ weight: 1200, weightUnit: 'g', price: '1.234,50' }] })
  })
})

describe('tables for people', () => {
  const columns = ['sku', 'title', 'note']
  const rows = fc.array(fc.record({ sku: fc.constantFrom('007', '1e5', 'A-1', '=1+1', '2026-01-02'), title: cell, note: fc.oneof(cell, fc.constant('')) }), { minLength: 1, maxLength: 8 })
  const read = async (content: Buffer) => { const sheet = await readSheet(content, columns, ['sku']); if (!sheet.ok) throw new Error(sheet.sentence); return sheet.rows }

  test('a table comes back from CSV and from a spreadsheet as it was, with the lines of the file', async () => {
    await fc.assert(fc.asyncProperty(rows, async (given) => {
      for (const content of [csvFile(columns, given), await xlsxFile('Items', columns, given)]) expect(await read(content)).toEqual(given.map((cells, i) => ({ line: i + 2, cells })))
    }), { numRuns: 40 })
  })

  test.each([
    ['nothing', Buffer.alloc(0), 'The file is empty.'],
    ['too much', Buffer.alloc(20 * 1024 * 1024 + 1, 'a'), 'The file is larger than 20 MB: split it.'],
    ['a spreadsheet that is none', Buffer.from('PK not really'), /^The file cannot be read as a table: /],
    ['no row of names', Buffer.from('A-1,Fern\n'), /^The first row has no column "sku"/],
    ['a column that nobody knows', Buffer.from('sku,colour\nA,red\n'), 'The column "colour" is not known. The columns are: sku, title, note.'],
  ])('%s is refused with what to do', async (_, content, sentence) => {
    expect(await readSheet(content, columns, ['sku'])).toEqual({ ok: false, sentence: typeof sentence === 'string' ? sentence : (expect.stringMatching(sentence) as string) })
  })

  test('Latin-1, semicolons and tabs, names in any case, empty rows', async () => {
    expect(await read(Buffer.from('SKU; Title \nA;Gläser\n;\nB;Töpfe\n', 'latin1'))).toEqual([{ line: 2, cells: { sku: 'A', title: 'Gläser' } }, { line: 4, cells: { sku: 'B', title: 'Töpfe' } }])
    expect(await read(Buffer.from('sku\ttitle\nA\tFern, small\n'))).toEqual([{ line: 2, cells: { sku: 'A', title: 'Fern, small' } }])
  })
})
