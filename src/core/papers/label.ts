import { barWidths, dot203, moduleFor, type Symbology } from './barcode'
import { type Mark, type Page, wrapText } from './drawing'

/** What stands on a shipping label. */
export interface LabelContent {
  readonly carrierName: string
  readonly serviceName: string
  readonly trackingNumber: string
  readonly symbology: Symbology
  /** The carrier's own routing text, large on the label. */
  readonly routing: string
  readonly reference: string
  readonly weightText: string
  readonly shippedOn: string
  readonly parcelText: string
  readonly marks: readonly string[]
  /** Says that it was printed before; empty for the first print. */
  readonly reprint?: string
  readonly from: LabelAddress
  readonly to: LabelAddress
}

export interface LabelAddress {
  /** Name, company, street lines, place; the country in capitals last. */
  readonly lines: readonly string[]
}

const width = 100
const height = 150
const margin = 5
const inner = width - 2 * margin

/**
 * A label of 100 × 150 mm (the usual thermal size, 4 × 6 inch): sender, recipient, service, the tracking number as
 * bars and as text. Throws nothing; a tracking number that cannot be encoded is printed as text only.
 */
export function layoutLabel(content: LabelContent): Page {
  const marks: Mark[] = []
  const text = (
    x: number,
    y: number,
    value: string,
    size: number,
    more: Partial<Extract<Mark, { kind: 'text' }>> = {},
  ): void => void marks.push({ kind: 'text', x, y, text: value, size, width: inner - (x - margin), ...more })
  const line = (y: number): void =>
    void marks.push({ kind: 'line', x1: margin, y1: y, x2: width - margin, y2: y, weight: 0.3 })

  text(margin, 5, content.carrierName, 12, { bold: true, width: 52 })
  text(margin + 52, 5.5, content.routing, 11, { bold: true, align: 'right', width: inner - 52 })
  marks.push({ kind: 'block', x: margin, y: 12, width: inner, height: 9 })
  text(margin + 2, 13.6, content.serviceName, 13, { bold: true, inverse: true, width: inner - 4 })

  text(margin, 23, 'From', 6.5)
  fitLines(content.from.lines, 40, 6).forEach((value, i) =>
    text(margin + 12, 23 + i * 3.1, value, 7, { width: inner - 12 }),
  )
  line(42.5)
  text(margin, 44.5, 'To', 6.5)
  const to = fitLines(content.to.lines, 34, 8)
  const size = to.length > 6 ? 9.5 : 11
  to.forEach((value, i) =>
    text(margin + 12, 44.5 + i * (size * 0.45), value, size, {
      bold: i === 0 || i === to.length - 1,
      width: inner - 12,
    }),
  )
  line(81.5)

  const cells: readonly (readonly [string, string])[] = [
    ['Reference', content.reference],
    ['Weight', content.weightText],
    ['Date', content.shippedOn],
    ['Parcel', content.parcelText],
  ]
  const columns = [margin, margin + 38, margin + 56, margin + 74]
  cells.forEach(([name, value], i) => {
    const room = (columns[i + 1] ?? width - margin) - columns[i]! - 1
    text(columns[i]!, 83, name, 6, { width: room })
    text(columns[i]!, 86, value, 8, { bold: true, width: room })
  })
  if (content.marks.length > 0) text(margin, 91.5, content.marks.join(' · '), 9, { bold: true })
  line(96.5)

  const bars = barWidths(content.trackingNumber, content.symbology)
  // GS1 and ISO/IEC 15417 ask for a quiet zone of ten modules on each side.
  const module = bars && moduleFor([...bars, 20], width - 4)
  if (bars && module) {
    const long = bars.reduce((sum, bar) => sum + bar, 0) * module
    marks.push({
      kind: 'bars',
      x: Math.round((width - long) / 2 / dot203) * dot203,
      y: 101,
      height: 34,
      module,
      widths: bars,
      text: content.trackingNumber,
      symbology: content.symbology,
    })
  }
  if (content.reprint) text(margin, 144, content.reprint, 7, { bold: true, align: 'center', width: inner })
  text(margin, 138, spaced(content.trackingNumber), 11, { mono: true, bold: true, align: 'center', width: inner })
  return { width, height, marks }
}

/** For the eye in groups of four; the bars carry the number as it is. */
const spaced = (number: string): string => number.replace(/(.{4})(?=.)/g, '$1 ')

function fitLines(lines: readonly string[], most: number, room: number): string[] {
  const wrapped = lines.flatMap((line) => wrapText(line, most, 2))
  if (wrapped.length <= room) return wrapped
  // Too long for the label: the place and the country at the end matter most.
  return [...wrapped.slice(0, room - 2), ...wrapped.slice(-2)]
}
