import fc from 'fast-check'
import { barWidths, dot203, moduleFor } from './barcode'
import { gs1CheckDigit, s10CheckDigit } from './checkDigit'
import { wrapText } from './drawing'
import { layoutLabel } from './label'
import { fitInto, sheetLayouts } from './labelSheet'
import { layoutSlip, type SlipBlock, type SlipContent } from './slip'
import { fillTemplate } from './template'
import { pageToZpl } from './zpl'

test('check digits as their standards say', () => {
  expect(gs1CheckDigit('629104150021')).toBe(3) // the worked example of the GS1 General Specifications
  expect(gs1CheckDigit('34012345678901234')).toBe(gs1CheckDigit('034012345678901234'))
  expect(s10CheckDigit('47312482')).toBe(9) // RR473124829GB, the example of UPU S10
})

test('bars are whole printer dots and fit the label', () => {
  const sscc = `00${'35490001000000001'}${gs1CheckDigit('35490001000000001')}`
  for (const [text, symbology] of [
    ['RR473124829GB', 'code128'],
    [sscc, 'gs1-128'],
  ] as const) {
    const widths = barWidths(text, symbology)!
    const module = moduleFor(widths, 90)!
    expect(Math.round(module / dot203)).toBeCloseTo(module / dot203, 6)
    expect(widths.reduce((sum, width) => sum + width, 0) * module).toBeLessThanOrEqual(90)
  }
  expect(barWidths(`${sscc.slice(0, -1)}${(Number(sscc.slice(-1)) + 1) % 10}`, 'gs1-128')).toBeNull()
  expect(barWidths('Ω', 'code128')).toBeNull()
  expect(moduleFor(new Array<number>(2000).fill(1), 90)).toBeNull()
})

test('text is broken at blanks, and what does not fit ends in an ellipsis', () => {
  expect(wrapText('one two three', 7, 3)).toEqual(['one two', 'three'])
  expect(wrapText('abcdefghij', 4, 2)).toEqual(['abcd', 'efg…'])
  fc.assert(
    fc.property(fc.string({ maxLength: 300 }), fc.integer({ min: 2, max: 40 }), (text, most) =>
      expect(wrapText(text, most, 3).every((line) => line.length <= most + 1)).toBe(true),
    ),
  )
})

const slip = (items: number): SlipContent => ({
  orderNumber: 'N-1',
  channelName: 'Shop',
  placedOn: '20 Nov 2026',
  buyerName: 'Ann Bee',
  toLines: ['Ann Bee'],
  items: Array.from({ length: items }, (_, i) => ({ sku: `S-${i}`, title: 'A title', quantity: 1 })),
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
})

test('a slip template is filled; what it gets wrong is a sentence, not a throw', () => {
  expect(fillTemplate('Hi {{ buyer.firstName }}, order {{ order.number }}', slip(1))).toEqual({
    ok: true,
    text: 'Hi Ann, order N-1',
  })
  expect(fillTemplate('{{ buyer.nonsense }}', slip(1))).toMatchObject({ ok: false })
  expect(fillTemplate('{% for i in (1..100000000) %}x{% endfor %}', slip(1))).toMatchObject({ ok: false })
  expect(fillTemplate('{% if %}', slip(1))).toMatchObject({ ok: false })
})

test('500 items take as many pages as they need, and the closing stands on the last', () => {
  const pages = layoutSlip(slip(500), { id: 's', name: 'S', heading: 'H', closing: 'Goodbye' })
  const texts = pages.map((page) => page.marks.flatMap((mark) => (mark.kind === 'text' ? [mark.text] : [])))
  expect(texts.flat().filter((text) => /^S-\d+$/.test(text))).toHaveLength(500)
  expect(texts.map((page) => page.includes('Goodbye'))).toEqual([
    ...new Array<boolean>(pages.length - 1).fill(false),
    true,
  ])
})

test('nothing of a label lies outside the paper, however long the address', () => {
  fc.assert(
    fc.property(
      fc.array(fc.string({ maxLength: 200 }), { minLength: 2, maxLength: 12 }),
      fc.string({ maxLength: 60 }),
      (lines, reference) => {
        const page = layoutLabel({
          carrierName: 'C',
          serviceName: 'S',
          trackingNumber: 'RR473124829GB',
          symbology: 'code128',
          routing: 'X',
          reference,
          weightText: '1 kg',
          shippedOn: '2026-11-20',
          parcelText: '1 of 1',
          marks: [],
          from: { lines },
          to: { lines },
        })
        for (const mark of page.marks)
          if (mark.kind === 'text') {
            expect(mark.x + mark.width).toBeLessThanOrEqual(95.01)
            expect(mark.y + mark.size * 0.36).toBeLessThan(150)
          }
      },
    ),
  )
})

test('blocks say what they are built of: conditions, languages, bars, and mistakes where they stand', () => {
  const built = (...blocks: SlipBlock[]): string[] =>
    layoutSlip(slip(1), { id: 's', name: 'S', heading: '', closing: '', blocks }).flatMap((page) =>
      page.marks.flatMap((mark) => {
        if (mark.kind === 'text') return [mark.text]
        return mark.kind === 'bars' ? [`bars ${mark.text}`] : []
      }),
    )
  expect(
    built(
      { kind: 'text', text: 'Dank u', when: "order.country == 'BE'" },
      { kind: 'text', text: 'Danke', when: "order.country == 'DE'" },
    ),
  ).toEqual(['Dank u'])
  expect(built({ kind: 'text', text: 'Thank you', texts: { BE: 'Dank u, {{ buyer.firstName }}' } })).toEqual([
    'Dank u, Ann',
  ])
  expect(built({ kind: 'text', text: 'Plants!', when: "order.tags contains 'live'" })).toEqual(['Plants!'])
  expect(built({ kind: 'barcode' }, { kind: 'items', bars: true })).toEqual(
    expect.arrayContaining(['bars N-1', 'bars S-0']),
  )
  expect(built({ kind: 'text', text: '{{ order.nothing }}' })[0]).toContain('cannot be filled')
  expect(built({ kind: 'text', text: 'x', when: 'order.country ==' })).toEqual([])
  expect(built({ kind: 'text', text: '{% for i in (1..100000000) %}x{% endfor %}' })[0]).toContain('cannot be filled')
  expect(built({ kind: 'gift', text: '' }, { kind: 'text', text: 'word '.repeat(200_000) }).length).toBeLessThan(60)
})

test('a sheet takes every page whole, whatever its layout', () => {
  for (const layout of sheetLayouts)
    for (const cell of layout.cells) {
      const { x, y, scale, turned } = fitInto(cell, { width: 100, height: 150, marks: [] })
      const [wide, tall] = turned ? [150 * scale, 100 * scale] : [100 * scale, 150 * scale]
      expect(x).toBeGreaterThanOrEqual(0)
      expect(x + wide).toBeLessThanOrEqual(layout.width + 1e-9)
      expect(y + tall).toBeLessThanOrEqual(layout.height + 1e-9)
      expect(scale).toBeGreaterThan(0.85)
    }
})

test('label printers get the same fields, escaped, at either resolution', () => {
  const page = layoutLabel({
    carrierName: 'C^~_',
    serviceName: 'S',
    trackingNumber: 'RR473124829GB',
    symbology: 'code128',
    routing: 'X',
    reference: 'R',
    weightText: '1 kg',
    shippedOn: '2026-11-20',
    parcelText: '1 of 1',
    marks: [],
    from: { lines: ['A'] },
    to: { lines: ['Łucja'] },
  })
  const texts = page.marks.flatMap((mark) => (mark.kind === 'text' ? [mark.text] : []))
  for (const dpi of [203, 300] as const) {
    const zpl = pageToZpl(page, dpi)
    const fields = [...zpl.matchAll(/\^FD(.*?)\^FS/g)].map(([, text]) =>
      text!.replace(/_([0-9A-F]{2})/g, (_whole, hex: string) => String.fromCharCode(parseInt(hex, 16))),
    )
    expect(fields.filter((field) => texts.includes(field))).toHaveLength(texts.length)
    expect(fields).toContain('RR473124829GB')
    expect(zpl).toMatch(dpi === 203 ? /\^PW799\n\^LL1199/ : /\^PW1181\n\^LL1772/)
    expect(zpl.match(/\^XA/g)).toHaveLength(1)
  }
  const sscc = `00${'35490001000000001'}${gs1CheckDigit('35490001000000001')}`
  expect(
    pageToZpl(
      layoutLabel({
        carrierName: '',
        serviceName: '',
        trackingNumber: sscc,
        symbology: 'gs1-128',
        routing: '',
        reference: '',
        weightText: '',
        shippedOn: '',
        parcelText: '',
        marks: [],
        from: { lines: [] },
        to: { lines: [] },
      }),
      203,
    ),
  ).toContain(`^FD>;>8${sscc}^FS`)
})
