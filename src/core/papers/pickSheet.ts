import type { SheetLayout } from './labelSheet'
import { type Page, wrapText } from './drawing'
import { type OfficeSheet, officeSheet, sheetMargin as margin } from './officeSheet'

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

/**
 * A pick list on office paper: each SKU once, place by place, with its total, its bars and how many go into which tote;
 * behind it the totes with their orders, each with the bars that open it at the bench. Millimetres.
 */
export function layoutPickSheet(
  head: PickHead,
  lines: readonly PickLine[],
  paper: Pick<SheetLayout, 'width' | 'height'>,
): Page[] {
  const sheet = officeSheet(head, paper)
  for (const line of lines) pickLine(sheet, line, paper.width)
  if (head.totes.length > 0) toteList(sheet, head.totes)
  return sheet.pages()
}

function pickLine(sheet: OfficeSheet, line: PickLine, width: number): void {
  const totes = wrapText(
    line.totes.map(({ tote, quantity }) => `${tote}${quantity > 1 ? ` × ${quantity}` : ''}`).join('   '),
    92,
    12,
  )
  const tall = 11 + 4.2 * totes.length
  sheet.room(tall)
  const { y, text } = sheet
  text(margin, y, line.place || '–', 13, { bold: true, width: 34 })
  text(margin + 36, y, `${line.quantity}`, 15, { bold: true, align: 'right', width: 14 })
  text(margin + 54, y, wrapText(line.title, 44, 1)[0] ?? '', 10, { width: 76 })
  text(margin + 54, y + 4.6, line.sku, 8, { mono: true, width: 76 })
  sheet.bars(line.sku, width - margin - 52, y, 52)
  totes.forEach((row, i) =>
    text(margin + 54, y + 9.4 + i * 4.2, i === 0 ? `totes: ${row}` : row, 8, { width: sheet.inner - 54 }),
  )
  sheet.y += tall
  sheet.rule(sheet.y - 1)
}

function toteList(sheet: OfficeSheet, totes: PickHead['totes']): void {
  sheet.room(30)
  sheet.text(margin, sheet.y + 3, 'Totes', 13, { bold: true })
  sheet.y += 11
  const columns = 3
  const wide = sheet.inner / columns
  totes.forEach(({ tote, number, code }, i) => {
    if (i % columns === 0) sheet.room(17)
    const x = margin + (i % columns) * wide
    sheet.text(x, sheet.y, `${tote}`, 15, { bold: true, width: 16 })
    sheet.text(x + 17, sheet.y, number, 8, { mono: true, width: wide - 18 })
    sheet.bars(code, x + 17, sheet.y + 4, wide - 22)
    if (i % columns === columns - 1 || i === totes.length - 1) sheet.y += 17
  })
}
