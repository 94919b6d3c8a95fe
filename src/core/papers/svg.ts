import type { Mark, Page, TextMark } from './drawing'

const escape = (text: string): string =>
  text
    .replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!)
    .replace(/[\u0000-\u0008\u000B\u000C\u000E-\u001F]/g, '')

/** A page as SVG in millimetres; text that is longer than its room is set narrower. `face` names the fonts. */
export function pageToSvg(page: Page, face: { readonly plain: string; readonly mono: string }): string {
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${page.width}mm" height="${page.height}mm" viewBox="0 0 ${page.width} ${page.height}"><rect width="100%" height="100%" fill="#fff"/>${page.marks.map((mark) => shapeOf(mark, face)).join('')}</svg>`
}

function shapeOf(mark: Mark, face: { readonly plain: string; readonly mono: string }): string {
  switch (mark.kind) {
    case 'line':
      return `<line x1="${mark.x1}" y1="${mark.y1}" x2="${mark.x2}" y2="${mark.y2}" stroke="#000" stroke-width="${mark.weight}"/>`
    case 'block':
      return `<rect x="${mark.x}" y="${mark.y}" width="${mark.width}" height="${mark.height}"/>`
    case 'bars': {
      let x = mark.x
      return mark.widths
        .map((width, i) => {
          const bar =
            i % 2 === 0
              ? `<rect x="${x.toFixed(4)}" y="${mark.y}" width="${(width * mark.module).toFixed(4)}" height="${mark.height}" shape-rendering="crispEdges"/>`
              : ''
          x += width * mark.module
          return bar
        })
        .join('')
    }
    case 'text': {
      const size = (mark.size * 25.4) / 72
      // About half of its height is the usual width of a letter; the exact one is the font's business.
      const wide = mark.text.length * size * widthOf(mark)
      const fitted = wide > mark.width ? ` textLength="${mark.width}" lengthAdjust="spacingAndGlyphs"` : ''
      const [share, anchor] = anchors[mark.align ?? 'left']
      const x = mark.x + mark.width * share
      return `<text x="${x}" y="${(mark.y + size * 0.93).toFixed(3)}" font-family="${mark.mono ? face.mono : face.plain}" font-size="${size.toFixed(3)}"${mark.bold ? ' font-weight="700"' : ''} text-anchor="${anchor}" fill="${mark.inverse ? '#fff' : '#000'}"${fitted}>${escape(mark.text)}</text>`
    }
  }
}

/** Where the text is held, as a share of its room, and the word for it. */
const anchors = { left: [0, 'start'], center: [0.5, 'middle'], right: [1, 'end'] } as const

/** How wide a letter is, as a share of its height. */
function widthOf({ mono, bold }: TextMark): number {
  if (mono) return 0.6
  return bold ? 0.56 : 0.5
}
