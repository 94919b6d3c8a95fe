import type { Mark, Page, TextMark } from './drawing'

export const printerDpi = [203, 300] as const
export type PrinterDpi = (typeof printerDpi)[number]

/**
 * A page in the page description language of label printers (ZPL II): text in UTF-8, lines and blocks as boxes, bars by
 * the printer's own Code 128, so that they are whole dots at any resolution.
 */
export function pageToZpl(page: Page, dpi: PrinterDpi): string {
  const dots = (mm: number): number => Math.round((mm * dpi) / 25.4)
  const body = page.marks.map((mark) => fieldOf(mark, dots, dpi)).filter(Boolean)
  return ['^XA', '^CI28', `^PW${dots(page.width)}`, `^LL${dots(page.height)}`, '^LH0,0', ...body, '^XZ', ''].join('\n')
}

function fieldOf(mark: Mark, dots: (mm: number) => number, dpi: PrinterDpi): string {
  switch (mark.kind) {
    case 'text':
      return textField(mark, dots)
    case 'block':
      return `^FO${dots(mark.x)},${dots(mark.y)}^GB${dots(mark.width)},${dots(mark.height)},${Math.min(dots(mark.width), dots(mark.height))}^FS`
    case 'line': {
      const [width, height] = [Math.abs(dots(mark.x2 - mark.x1)), Math.abs(dots(mark.y2 - mark.y1))]
      const thick = Math.max(1, dots(mark.weight))
      return `^FO${dots(Math.min(mark.x1, mark.x2))},${dots(Math.min(mark.y1, mark.y2))}^GB${Math.max(width, thick)},${Math.max(height, thick)},${thick}^FS`
    }
    case 'bars': {
      if (mark.text === undefined) return ''
      const module = Math.max(1, Math.floor((mark.module * dpi) / 25.4 + 1e-6))
      const total = mark.widths.reduce((sum, width) => sum + width, 0) * module
      const centre = dots(mark.x) + dots(mark.widths.reduce((sum, width) => sum + width, 0) * mark.module) / 2
      // `>;` begins with digits in pairs (subset C), `>8` is the function character that makes it a GS1 symbol.
      const data = mark.symbology === 'gs1-128' ? `>;>8${mark.text}` : mark.text.replace(/>/g, '>0')
      return `^FO${Math.max(0, Math.round(centre - total / 2))},${dots(mark.y)}^BY${module}^BCN,${dots(mark.height)},N,N,N^FH_^FD${escaped(data)}^FS`
    }
  }
}

function textField({ x, y, text, size, width, align, inverse }: TextMark, dots: (mm: number) => number): string {
  const height = dots((size * 25.4) / 72)
  // The printer's own scalable face is about half as wide as high; what would not fit is set narrower.
  const wide = Math.max(6, Math.min(height, Math.floor((dots(width) / Math.max(1, text.length)) * 1.9)))
  const justify = { left: 'L', center: 'C', right: 'R' }[align ?? 'left']
  return `^FO${dots(x)},${dots(y)}^A0N,${height},${wide}${inverse ? '^FR' : ''}^FB${dots(width)},1,0,${justify},0^FH_^FD${escaped(text)}^FS`
}

/** Characters with a meaning of their own are written as hexadecimal behind `_`. */
const escaped = (text: string): string =>
  text.replace(/[_^~\\]/g, (c) => `_${c.charCodeAt(0).toString(16).toUpperCase()}`)
