import { createRequire } from 'node:module'
import { dirname, join } from 'node:path'
import type { Readable } from 'node:stream'
import PDFDocument from 'pdfkit'
import type { Mark, Page, TextMark } from '@/core/papers'

const fonts = join(dirname(createRequire(join(process.cwd(), 'package.json')).resolve('dejavu-fonts-ttf/package.json')), 'ttf')
const pointsPerMm = 72 / 25.4
const fontFiles = { plain: 'DejaVuSansCondensed.ttf', bold: 'DejaVuSansCondensed-Bold.ttf', mono: 'DejaVuSansMono-Bold.ttf' } as const
type Face = keyof typeof fontFiles

/** A PDF file that is written while its pages are made; read it as a stream, and wait for `add` between pages. */
export interface PdfFile {
  readonly stream: Readable
  readonly add: (page: Page) => void
  readonly end: () => void
}

export function pdfFile(title: string): PdfFile {
  const document = new PDFDocument({ autoFirstPage: false, compress: true, info: { Title: title, Producer: 'Gharry', Creator: 'Gharry' } })
  for (const face of Object.keys(fontFiles) as Face[]) document.registerFont(face, join(fonts, fontFiles[face]))
  return {
    stream: document as unknown as Readable,
    add: (page) => {
      document.addPage({ size: [page.width * pointsPerMm, page.height * pointsPerMm], margin: 0 })
      for (const mark of page.marks) draw(document, mark)
    },
    end: () => document.end(),
  }
}

function draw(document: PDFKit.PDFDocument, mark: Mark): void {
  switch (mark.kind) {
    case 'text': return drawText(document, mark)
    case 'line':
      document.lineWidth(mark.weight * pointsPerMm).moveTo(mark.x1 * pointsPerMm, mark.y1 * pointsPerMm).lineTo(mark.x2 * pointsPerMm, mark.y2 * pointsPerMm).stroke('#000')
      return
    case 'block':
      document.rect(mark.x * pointsPerMm, mark.y * pointsPerMm, mark.width * pointsPerMm, mark.height * pointsPerMm).fill('#000')
      return
    case 'bars': {
      let x = mark.x
      mark.widths.forEach((width, i) => {
        if (i % 2 === 0) document.rect(x * pointsPerMm, mark.y * pointsPerMm, width * mark.module * pointsPerMm, mark.height * pointsPerMm)
        x += width * mark.module
      })
      document.fill('#000')
    }
  }
}

function drawText(document: PDFKit.PDFDocument, mark: TextMark): void {
  const room = mark.width * pointsPerMm
  document.font(mark.mono ? 'mono' : mark.bold ? 'bold' : 'plain').fontSize(mark.size).fillColor(mark.inverse ? '#fff' : '#000')
  const wide = document.widthOfString(mark.text)
  // Text that is too long is set smaller, down to six tenths, before it is cut.
  const size = wide > room ? Math.max(mark.size * 0.6, (mark.size * room) / wide) : mark.size
  document.fontSize(size)
  let text = mark.text
  while (text.length > 1 && document.widthOfString(text) > room + 0.5) text = `${[...text].slice(0, -2).join('')}…`
  const width = size === mark.size ? wide : document.widthOfString(text)
  const x = mark.x * pointsPerMm + (mark.align === 'right' ? room - width : mark.align === 'center' ? (room - width) / 2 : 0)
  document.text(text, x, mark.y * pointsPerMm, { lineBreak: false })
}
