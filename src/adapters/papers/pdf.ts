import { createRequire } from 'node:module'
import { dirname, join } from 'node:path'
import type { Readable } from 'node:stream'
import PDFDocument from 'pdfkit'
import { isGiven, type Placed } from './given'
import { fitInto, type Mark, type Page, type SheetLayout, sheetLayouts, type TextMark } from '@/core/papers'

/** The folder of the fonts that papers are printed with. */
export const fonts = join(
  dirname(createRequire(join(process.cwd(), 'package.json')).resolve('dejavu-fonts-ttf/package.json')),
  'ttf',
)
const pointsPerMm = 72 / 25.4
export const fontFiles = {
  plain: 'DejaVuSansCondensed.ttf',
  bold: 'DejaVuSansCondensed-Bold.ttf',
  mono: 'DejaVuSansMono-Bold.ttf',
} as const
type Face = keyof typeof fontFiles

/** A PDF file that is written while its pages are made; read it as a stream, and wait for `add` between pages. */
export interface PdfFile {
  readonly stream: Readable
  readonly add: (page: Page) => void
  readonly end: () => void
  /** Where pages of others go; complete once the file has ended. */
  readonly places: readonly Placed[]
}

/**
 * Pages go onto sheets of a layout, from its cell `start` (1 is the first) on, so that a sheet that was used in part
 * is used up.
 */
export function pdfFile(title: string, layout: SheetLayout = sheetLayouts[0]!, start = 1): PdfFile {
  const document = new PDFDocument({
    autoFirstPage: false,
    compress: true,
    info: { Title: title, Producer: 'Gharry', Creator: 'Gharry' },
  })
  for (const face of Object.keys(fontFiles) as Face[]) document.registerFont(face, join(fonts, fontFiles[face]))
  const { cells } = layout
  const places: Placed[] = []
  let sheet = -1
  let next = Math.min(Math.max(1, start), cells.length) - 1
  let open = false
  return {
    stream: document,
    add: (page) => {
      if (!open) {
        document.addPage({ size: [layout.width * pointsPerMm, layout.height * pointsPerMm], margin: 0 })
        sheet++
      }
      const place = fitInto(cells[next]!, page)
      if (isGiven(page)) {
        const { x, y, scale, turned } = place
        places.push({ sheet, x: x * pointsPerMm, y: y * pointsPerMm, scale, turned, given: page.given })
      }
      document.save()
      document.translate(place.x * pointsPerMm, place.y * pointsPerMm).scale(place.scale)
      if (place.turned) document.translate(page.height * pointsPerMm, 0).rotate(90)
      for (const mark of page.marks) draw(document, mark)
      document.restore()
      next = (next + 1) % cells.length
      open = next !== 0
    },
    end: () => document.end(),
    places,
  }
}

function draw(document: PDFKit.PDFDocument, mark: Mark): void {
  switch (mark.kind) {
    case 'text':
      return drawText(document, mark)
    case 'line':
      document
        .lineWidth(mark.weight * pointsPerMm)
        .moveTo(mark.x1 * pointsPerMm, mark.y1 * pointsPerMm)
        .lineTo(mark.x2 * pointsPerMm, mark.y2 * pointsPerMm)
        .stroke('#000')
      return
    case 'block':
      document
        .rect(mark.x * pointsPerMm, mark.y * pointsPerMm, mark.width * pointsPerMm, mark.height * pointsPerMm)
        .fill('#000')
      return
    case 'bars': {
      let x = mark.x
      mark.widths.forEach((width, i) => {
        if (i % 2 === 0)
          document.rect(
            x * pointsPerMm,
            mark.y * pointsPerMm,
            width * mark.module * pointsPerMm,
            mark.height * pointsPerMm,
          )
        x += width * mark.module
      })
      document.fill('#000')
    }
  }
}

function faceOf({ mono, bold }: TextMark): string {
  if (mono) return 'mono'
  return bold ? 'bold' : 'plain'
}

/** How much of the room that is left over stands before the text. */
const shareBefore = { left: 0, center: 0.5, right: 1 }

function drawText(document: PDFKit.PDFDocument, mark: TextMark): void {
  const room = mark.width * pointsPerMm
  document
    .font(faceOf(mark))
    .fontSize(mark.size)
    .fillColor(mark.inverse ? '#fff' : '#000')
  const wide = document.widthOfString(mark.text)
  // Text that is too long is set smaller, down to six tenths, before it is cut.
  const size = wide > room ? Math.max(mark.size * 0.6, (mark.size * room) / wide) : mark.size
  document.fontSize(size)
  let text = mark.text
  while (text.length > 1 && document.widthOfString(text) > room + 0.5) text = `${[...text].slice(0, -2).join('')}…`
  const width = size === mark.size ? wide : document.widthOfString(text)
  const x = mark.x * pointsPerMm + (room - width) * shareBefore[mark.align ?? 'left']
  document.text(text, x, mark.y * pointsPerMm, { lineBreak: false })
}
