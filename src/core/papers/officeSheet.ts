import { barWidths, moduleFor, type Symbology } from './barcode'
import type { SheetLayout } from './labelSheet'
import type { Mark, Page, TextMark } from './drawing'

/** Millimetres around what is printed. */
export const sheetMargin = 12

/** Writes lists on office paper from the top down, page after page; millimetres. */
export interface OfficeSheet {
  /** Where the next line begins. */
  y: number
  readonly inner: number
  readonly text: (x: number, at: number, words: string, size: number, more?: Partial<TextMark>) => void
  readonly bars: (words: string, x: number, at: number, room: number, symbology?: Symbology) => void
  readonly rule: (at: number) => void
  readonly line: (x1: number, y1: number, x2: number, y2: number, weight: number) => void
  /** Begins a new page where so much does not fit any more. */
  readonly room: (needed: number) => void
  readonly pages: () => Page[]
}

/** A sheet with a title, and words about it, at the head of each page. */
export function officeSheet(
  head: { readonly title: string; readonly about: string },
  { width, height }: Pick<SheetLayout, 'width' | 'height'>,
): OfficeSheet {
  const pages: Mark[][] = []
  let marks: Mark[] = []
  const begin = (): void => {
    marks = []
    pages.push(marks)
    sheet.text(sheetMargin, sheetMargin, head.title, 15, { bold: true, width: sheet.inner - 30 })
    sheet.text(width - sheetMargin - 28, sheetMargin + 1, `page ${pages.length}`, 8, { align: 'right', width: 28 })
    sheet.text(sheetMargin, sheetMargin + 7, head.about, 9)
    sheet.y = sheetMargin + 15
  }
  const line: OfficeSheet['line'] = (x1, y1, x2, y2, weight) =>
    void marks.push({ kind: 'line', x1, y1, x2, y2, weight })
  const sheet: OfficeSheet = {
    y: 0,
    inner: width - 2 * sheetMargin,
    text: (x, y, text, size, more = {}) =>
      void marks.push({ kind: 'text', x, y, text, size, width: width - sheetMargin - x, ...more }),
    bars: (words, x, y, room, symbology = 'code128') => {
      const widths = barWidths(words, symbology)
      const module = widths && moduleFor([...widths, 20], room)
      if (widths && module) marks.push({ kind: 'bars', x, y, height: 8, module, widths, text: words, symbology })
    },
    line,
    rule: (at) => line(sheetMargin, at, width - sheetMargin, at, 0.1),
    room: (needed) => {
      if (sheet.y + needed > height - 14) begin()
    },
    pages: () => pages.map((all) => ({ width, height, marks: all })),
  }
  begin()
  return sheet
}
