import { join } from 'node:path'
import { Resvg } from '@resvg/resvg-js'
import { type Page, pageToSvg, type PrinterDpi } from '@/core/papers'
import { fontFiles, fonts } from './pdf'

/** A page as a PNG image at a printer's resolution. */
export function pngOf(page: Page, dpi: PrinterDpi): Buffer {
  const svg = pageToSvg(page, { plain: 'DejaVu Sans Condensed', mono: 'DejaVu Sans Mono' })
  const image = new Resvg(svg, {
    fitTo: { mode: 'width', value: Math.round((page.width * dpi) / 25.4) },
    font: {
      loadSystemFonts: false,
      fontFiles: Object.values(fontFiles).map((file) => join(fonts, file)),
      defaultFontFamily: 'DejaVu Sans Condensed',
    },
  })
  return image.render().asPng()
}
