import { barWidths, moduleFor } from './barcode'
import type { SheetLayout } from './labelSheet'
import { type Mark, type Page, wrapText } from './drawing'

/** What a pick list says of one stop. */
export interface PickLine {
  readonly place: string
  readonly sku: string
  readonly title: string
  readonly quantity: number
  readonly totes: readonly { readonly tote: number; readonly quantity: number }[]
}
/** What stands above it. */
export interface PickHead {
  readonly title: string
  /** Where, until when, how many orders and pieces. */
  readonly about: string
  /** With which tote number an order goes, for the list of totes; the code opens it at the bench. */
  readonly totes: readonly { readonly tote: number; readonly number: string; readonly code: string }[]
}

const margin = 12

/**
 * A pick list on office paper: each SKU once, place by place, with its total, its bars and how many go into which tote; behind it the totes with
 * their orders, each with the bars that open it at the bench. Millimetres.
 */
export function layoutPickSheet(
  head: PickHead,
  lines: readonly PickLine[],
  { width, height }: Pick<SheetLayout, 'width' | 'height'>,
): Page[] {
  const inner = width - 2 * margin
  const bottom = height - 14
  const pages: Mark[][] = []
  let marks: Mark[] = []
  let y = 0
  const text = (
    x: number,
    at: number,
    words: string,
    size: number,
    more: Partial<Extract<Mark, { kind: 'text' }>> = {},
  ): void => void marks.push({ kind: 'text', x, y: at, text: words, size, width: width - margin - x, ...more })
  const bars = (words: string, x: number, at: number, room: number): void => {
    const widths = barWidths(words, 'code128')
    const module = widths && moduleFor([...widths, 20], room)
    if (widths && module)
      marks.push({ kind: 'bars', x, y: at, height: 8, module, widths, text: words, symbology: 'code128' })
  }
  const begin = (): void => {
    marks = []
    pages.push(marks)
    text(margin, margin, head.title, 15, { bold: true, width: inner - 30 })
    text(width - margin - 28, margin + 1, `page ${pages.length}`, 8, { align: 'right', width: 28 })
    text(margin, margin + 7, head.about, 9)
    y = margin + 15
  }
  const room = (needed: number): void => {
    if (y + needed > bottom) begin()
  }
  begin()
  for (const line of lines) {
    const totes = wrapText(
      line.totes.map(({ tote, quantity }) => `${tote}${quantity > 1 ? ` × ${quantity}` : ''}`).join('   '),
      92,
      12,
    )
    const tall = 11 + 4.2 * totes.length
    room(tall)
    text(margin, y, line.place || '–', 13, { bold: true, width: 34 })
    text(margin + 36, y, `${line.quantity}`, 15, { bold: true, align: 'right', width: 14 })
    text(margin + 54, y, wrapText(line.title, 44, 1)[0] ?? '', 10, { width: 76 })
    text(margin + 54, y + 4.6, line.sku, 8, { mono: true, width: 76 })
    bars(line.sku, width - margin - 52, y, 52)
    totes.forEach((row, i) =>
      text(margin + 54, y + 9.4 + i * 4.2, i === 0 ? `totes: ${row}` : row, 8, { width: inner - 54 }),
    )
    y += tall
    marks.push({ kind: 'line', x1: margin, y1: y - 1, x2: width - margin, y2: y - 1, weight: 0.1 })
  }
  if (head.totes.length > 0) {
    room(30)
    text(margin, y + 3, 'Totes', 13, { bold: true })
    y += 11
    const columns = 3
    const wide = inner / columns
    head.totes.forEach(({ tote, number, code }, i) => {
      if (i % columns === 0) room(17)
      const x = margin + (i % columns) * wide
      text(x, y, `${tote}`, 15, { bold: true, width: 16 })
      text(x + 17, y, number, 8, { mono: true, width: wide - 18 })
      bars(code, x + 17, y + 4, wide - 22)
      if (i % columns === columns - 1 || i === head.totes.length - 1) y += 17
    })
  }
  return pages.map((all) => ({ width, height, marks: all }))
}
