import { crc32, deflateRawSync } from 'node:zlib'
import { strToU8, zipSync } from 'fflate'
import { previewOrderFile } from './csvOrders'
import { csvFile, readSheet } from './spreadsheet'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

/* A few bytes that blocked or killed the server: each is refused with a sentence, within a second. */

const book = (sheet: string | Uint8Array, more: Record<string, Uint8Array> = {}): Buffer =>
  Buffer.from(
    zipSync(
      {
        '[Content_Types].xml': strToU8(
          '<?xml version="1.0"?><Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="xml" ContentType="application/xml"/><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Override PartName="/xl/workbook.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"/></Types>',
        ),
        '_rels/.rels': strToU8(
          '<?xml version="1.0"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="r1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument" Target="xl/workbook.xml"/></Relationships>',
        ),
        'xl/workbook.xml': strToU8(
          '<?xml version="1.0"?><workbook xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships"><sheets><sheet name="A" sheetId="1" r:id="r1"/></sheets></workbook>',
        ),
        'xl/_rels/workbook.xml.rels': strToU8(
          '<?xml version="1.0"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="r1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/worksheet" Target="worksheets/sheet1.xml"/></Relationships>',
        ),
        'xl/worksheets/sheet1.xml':
          typeof sheet === 'string'
            ? strToU8(
                `<?xml version="1.0"?><worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><sheetData>${sheet}</sheetData></worksheet>`,
              )
            : sheet,
        ...more,
      },
      { level: 6 },
    ),
  )
const cell = (at: string, text: string): string => `<c r="${at}" t="inlineStr"><is><t>${text}</t></is></c>`
const good = `<row r="1">${cell('A1', 'sku')}${cell('B1', 'title')}</row><row r="2">${cell('A2', 'A')}${cell('B2', 'Tank')}</row>`
const read = (content: Buffer) => readSheet(content, ['sku', 'title'], ['sku'])

test('a plain spreadsheet is read, whatever else is packed with it', async () => {
  expect(await read(book(good))).toEqual({ ok: true, rows: [{ line: 2, cells: { sku: 'A', title: 'Tank' } }] })
  // More than a table may unpack to, of nothing, in a part that nobody needs: it is never unpacked.
  const unused = Buffer.alloc(130_000_000)
  const file = book(good, { 'xl/media/image1.bin': unused })
  expect(file.length).toBeLessThan(1_000_000)
  const before = performance.now()
  expect(await read(file)).toMatchObject({ ok: true })
  expect(performance.now() - before).toBeLessThan(5000)
}, 60_000)

test.each<[string, () => Buffer, RegExp]>([
  [
    'one cell at the far corner',
    () => book(`${good}<row r="1048576">${cell('XFD1048576', 'x')}</row>`),
    /more than 200 columns/,
  ],
  ['one cell far down', () => book(`${good}<row r="1048576">${cell('A1048576', 'x')}</row>`), /more than 200,000 rows/],
  [
    'a cell of 70 MB',
    () => book(`<row r="1">${cell('A1', 'x'.repeat(70_000_000))}</row>`),
    /unpacks to more than 60 MB/,
  ],
  [
    'a cell of 1 MB',
    () => book(`<row r="1">${cell('A1', 'sku')}</row><row r="2">${cell('A2', 'x'.repeat(1_000_000))}</row>`),
    /longer than 32,767 characters/,
  ],
  ['100,000 header commas', () => Buffer.from(`sku${','.repeat(104_000)}\n1`), /more than 200 columns/],
  ['100,000 commas in a row', () => Buffer.from(`sku,title\n1${','.repeat(104_000)}`), /more than 200 columns/],
  ['a quote that is never closed', () => Buffer.from(`sku,title\n1,"${'x\n'.repeat(400_000)}`), /quotation mark/],
  ['a column that is there twice', () => Buffer.from('sku,title,SKU\n1,2,3'), /there twice/],
  ['no archive at all', () => Buffer.from(`PK${'x'.repeat(1000)}`), /cannot be read as a table/],
  ['an archive without a workbook', () => Buffer.from(zipSync({ 'a.txt': strToU8('x') })), /no spreadsheet/],
  ['sizes that lie', () => lying(), /cannot be read as a table/],
])(
  '%s is refused',
  async (_name, make, why) => {
    const content = make()
    const answer = await read(content)
    expect(answer).toMatchObject({ ok: false, sentence: expect.stringMatching(why) as string })
  },
  30_000,
)

/** The directory says that a part unpacks to ten bytes; it unpacks to 80 MB. */
function lying(): Buffer {
  const bomb = deflateRawSync(Buffer.alloc(80_000_000), { level: 9 })
  const name = Buffer.from('xl/workbook.xml')
  const local = Buffer.alloc(30)
  local.writeUInt32LE(0x04034b50, 0)
  local.writeUInt16LE(20, 4)
  local.writeUInt16LE(8, 8)
  local.writeUInt32LE(crc32(Buffer.alloc(10)), 14)
  local.writeUInt32LE(bomb.length, 18)
  local.writeUInt32LE(10, 22)
  local.writeUInt16LE(name.length, 26)
  const central = Buffer.alloc(46)
  central.writeUInt32LE(0x02014b50, 0)
  central.writeUInt16LE(20, 6)
  central.writeUInt16LE(8, 10)
  central.writeUInt32LE(crc32(Buffer.alloc(10)), 16)
  central.writeUInt32LE(bomb.length, 20)
  central.writeUInt32LE(10, 24)
  central.writeUInt16LE(name.length, 28)
  const end = Buffer.alloc(22)
  end.writeUInt32LE(0x06054b50, 0)
  end.writeUInt16LE(1, 8)
  end.writeUInt16LE(1, 10)
  end.writeUInt32LE(46 + name.length, 12)
  end.writeUInt32LE(30 + name.length + bomb.length, 16)
  return Buffer.concat([local, name, bomb, central, name, end])
}

test('what would be a formula in a spreadsheet is written as text; plain numbers stay numbers', () => {
  const cells = ['=SUM(A1)', '+49 170 12', '-1+2', '@x', '\tx', '-5 %', '-12.50', "'=x", '＝1', 'plain']
  const lines = csvFile(
    ['a'],
    cells.map((a) => ({ a })),
  )
    .toString('utf8')
    .trimEnd()
    .split('\n')
    .slice(1)
  expect(lines).toEqual(["'=SUM(A1)", "'+49 170 12", "'-1+2", "'@x", "'\tx", '-5 %', '-12.50', "''=x", "'＝1", 'plain'])
})

test('a header of an order file with a hundred thousand commas is refused before anything is suggested', async () => {
  const file = join(mkdtempSync(join(tmpdir(), 'gharry-sheet-')), 'a.csv')
  writeFileSync(file, `order number,sku${','.repeat(104_000)}\n1,2\n`)
  await expect(previewOrderFile(file)).rejects.toThrow('more than 300 columns')
})
