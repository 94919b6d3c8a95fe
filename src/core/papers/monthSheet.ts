import type { Page } from './drawing'
import type { SheetLayout } from './labelSheet'
import { type OfficeSheet, officeSheet, sheetMargin as margin } from './officeSheet'

/** A table of a month on paper; cells are texts, amounts already written. */
export interface MonthTable {
  readonly title: string
  readonly columns: readonly string[]
  readonly rows: readonly (readonly string[])[]
  /** The last row, in bold; absent where nothing is summed. */
  readonly total?: readonly string[]
}
export interface MonthSheet {
  readonly title: string
  readonly about: string
  /** What counts most, large: a name and its amount each. */
  readonly figures: readonly (readonly [name: string, amount: string])[]
  readonly tables: readonly MonthTable[]
}

const first = 52
const rowHeight = 5

/** A month for the office: the figures that count, then table after table. Millimetres. */
export function layoutMonth(month: MonthSheet, paper: Pick<SheetLayout, 'width' | 'height'>): Page[] {
  const sheet = officeSheet(month, paper)
  const wide = sheet.inner / Math.max(1, month.figures.length)
  month.figures.forEach(([name, amount], i) => {
    sheet.text(margin + i * wide, sheet.y, name, 8, { width: wide - 2 })
    sheet.text(margin + i * wide, sheet.y + 4, amount, 14, { bold: true, width: wide - 2 })
  })
  sheet.y += 16
  for (const table of month.tables) drawTable(sheet, table)
  return sheet.pages()
}

function drawTable(sheet: OfficeSheet, { title, columns, rows, total }: MonthTable): void {
  const rest = (sheet.inner - first) / Math.max(1, columns.length - 1)
  const line = (cells: readonly string[], size: number, bold: boolean): void => {
    sheet.room(rowHeight)
    cells.forEach((cell, i) =>
      i === 0
        ? sheet.text(margin, sheet.y, cell, size, { bold, width: first - 2 })
        : sheet.text(margin + first + (i - 1) * rest, sheet.y, cell, size, { bold, align: 'right', width: rest - 1.5 }),
    )
    sheet.y += rowHeight
    sheet.rule(sheet.y - 0.8)
  }
  sheet.room(4 * rowHeight)
  sheet.text(margin, sheet.y, title, 11, { bold: true })
  sheet.y += 6.5
  line(columns, 7, false)
  for (const row of rows) line(row, 8, false)
  if (total) line(total, 8, true)
  sheet.y += 5
}
