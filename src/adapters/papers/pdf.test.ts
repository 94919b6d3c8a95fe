import { execFileSync } from 'node:child_process'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import {
  gs1CheckDigit,
  type LabelContent,
  layoutLabel,
  layoutSlip,
  printerDpi,
  s10CheckDigit,
  sheetLayouts,
} from '@/core/papers'
import { pdfFile } from './pdf'
import { pngOf } from './png'

const folder = mkdtempSync(join(tmpdir(), 'gharry-pdf-'))
const sscc = (n: number): string => {
  const digits = `35490001${String(n).padStart(9, '0')}`
  return `00${digits}${gs1CheckDigit(digits)}`
}
const s10 = (n: number): string => {
  const serial = String(20_000_000 + n)
  return `CV${serial}${s10CheckDigit(serial)}BE`
}
const label = (trackingNumber: string, symbology: LabelContent['symbology'], to: string[]): LabelContent => ({
  carrierName: 'Heron Parcel',
  serviceName: 'Heron Road',
  trackingNumber,
  symbology,
  routing: 'BE-9000 R1',
  reference: 'MG-10001',
  weightText: '1.26 kg',
  shippedOn: '2026-11-25',
  parcelText: '1 of 1',
  marks: ['SIGNATURE'],
  from: { lines: ['Mossgill Aquatics', 'Wiedauwkaai 23', '9000 Gent', 'BELGIUM'] },
  to: { lines: to },
})

async function write(
  name: string,
  make: (file: ReturnType<typeof pdfFile>) => void,
  layout = sheetLayouts[0]!,
  start = 1,
): Promise<string> {
  const file = pdfFile('Test', layout, start)
  const chunks: Buffer[] = []
  const done = new Promise<void>((resolve, reject) => {
    file.stream.on('data', (chunk: Buffer) => chunks.push(chunk))
    file.stream.on('end', () => resolve())
    file.stream.on('error', reject)
  })
  make(file)
  file.end()
  await done
  const path = join(folder, `${name}.pdf`)
  writeFileSync(path, Buffer.concat(chunks))
  return path
}

const run = (command: string, ...args: string[]): string =>
  execFileSync(command, args, { encoding: 'utf8', stdio: ['ignore', 'pipe', 'ignore'] })

test('a scanner reads back exactly the tracking number from a 203 dpi print', async () => {
  const numbers = [sscc(1), sscc(123_456_789), s10(1), s10(987_654)]
  const path = await write('labels', (file) =>
    numbers.forEach((number) =>
      file.add(
        layoutLabel(
          label(number, number.startsWith('00') ? 'gs1-128' : 'code128', [
            'Noor Van Acker',
            'Coupure Links 88',
            '9000 Gent',
            'BELGIUM',
          ]),
        ),
      ),
    ),
  )
  run('pdftoppm', '-r', '203', '-gray', '-png', path, join(folder, 'label'))
  numbers.forEach((number, i) =>
    expect(run('zbarimg', '--quiet', '--raw', join(folder, `label-${i + 1}.png`)).trim()).toBe(number),
  )
})

test('the page is 100 × 150 mm, sound, and its text can be read in every script', async () => {
  const path = await write('scripts', (file) => {
    file.add(
      layoutLabel(
        label(s10(5), 'code128', ['Łucja Wiśniewska', 'Żółwia 4', '31-010 Kraków', 'Αθήνα', 'Кирилл', 'POLAND']),
      ),
    )
    for (const page of layoutSlip(
      {
        orderNumber: 'MG-1',
        channelName: 'Shop',
        placedOn: '20 Nov 2026',
        buyerName: 'Łucja W',
        toLines: ['Łucja W'],
        items: [{ sku: 'A-1', title: 'Anubias', quantity: 2 }],
        country: 'BE',
        value: '€10.00',
        quantity: 1,
        wording: 'Free',
        message: '',
        tags: ['live'],
        trackingNumber: 'RR473124829GB',
        parcelText: '',
        reprint: '',
        inserts: [],
      },
      { id: 's', name: 'S', heading: 'Mossgill', closing: 'Thank you, {{ buyer.firstName }}' },
    ))
      file.add(page)
  })
  expect(run('pdfinfo', path)).toMatch(/Page size:\s+283\.46\d* x 425\.1\d* pts/)
  expect(run('qpdf', '--check', path)).toContain('No syntax or stream encoding errors found')
  const text = run('pdftotext', '-layout', path, '-')
  for (const word of [
    'Łucja Wiśniewska',
    'Żółwia 4',
    'Αθήνα',
    'Кирилл',
    'Heron Road',
    'MG-10001',
    'SIGNATURE',
    'Thank you, Łucja',
    'A-1',
  ])
    expect(text).toContain(word)
})

test('an address of 200 characters and a missing number still make a label', async () => {
  const path = await write('long', (file) =>
    file.add(
      layoutLabel(
        label('ΩΩΩ', 'code128', [
          'x'.repeat(200),
          '🐟 '.repeat(30),
          'A',
          'B',
          'C',
          'D',
          'E',
          'F',
          '9000 Gent',
          'BELGIUM',
        ]),
      ),
    ),
  )
  const text = run('pdftotext', '-layout', path, '-')
  expect(text).toContain('9000 Gent')
  expect(text).toContain('BELGIUM')
})

const home = ['Noor Van Acker', 'Coupure Links 88', '9000 Gent', 'BELGIUM']
const both = [sscc(77), s10(78)]
const pages = both.map((number) => layoutLabel(label(number, number.startsWith('00') ? 'gs1-128' : 'code128', home)))

test.each(sheetLayouts.map((layout) => [layout.id, layout] as const))(
  'every bar code of the layout %s is read back, from a sheet used in part too',
  async (id, layout) => {
    const start = layout.cells.length
    const path = await write(`sheet-${id}`, (file) => pages.forEach((page) => file.add(page)), layout, start)
    // From the last free place: the second label comes onto a new sheet.
    expect(run('pdfinfo', path)).toMatch(/Pages:\s+2/)
    expect(run('qpdf', '--check', path)).toContain('No syntax or stream encoding errors found')
    run('pdftoppm', '-r', '300', '-gray', '-png', path, join(folder, `sheet-${id}`))
    both.forEach((number, i) =>
      expect(run('zbarimg', '--quiet', '--raw', join(folder, `sheet-${id}-${i + 1}.png`)).trim()).toBe(number),
    )
  },
)

test.each(printerDpi)('an image at %i dpi has the same bars and the size of the label', (dpi) => {
  both.forEach((number, i) => {
    const file = join(folder, `image-${dpi}-${i}.png`)
    const png = pngOf(pages[i]!, dpi)
    writeFileSync(file, png)
    expect(png.readUInt32BE(16)).toBe(Math.round((100 * dpi) / 25.4))
    expect(run('zbarimg', '--quiet', '--raw', file).trim()).toBe(number)
  })
})
