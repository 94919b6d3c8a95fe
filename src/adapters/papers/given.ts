import { degrees, PDFDocument } from 'pdf-lib'
import type { Page } from '@/core/papers'

const pointsPerMm = 72 / 25.4

/** A page that somebody else made, and that is printed as it came. */
export interface GivenPage extends Page {
  readonly given: { readonly file: Buffer; readonly index: number }
}

export const isGiven = (page: Page): page is GivenPage => 'given' in page

/** Where a page of somebody else goes: on which sheet (0 is the first), in points from its upper left corner. */
export interface Placed {
  readonly sheet: number
  readonly x: number
  readonly y: number
  readonly scale: number
  readonly turned: boolean
  readonly given: GivenPage['given']
}

/** The pages of a PDF, with their sizes in millimetres; empty when it is none that can be read. */
export async function givenPages(file: Buffer): Promise<GivenPage[]> {
  try {
    const document = await PDFDocument.load(file, { updateMetadata: false })
    return document.getPages().map((page, index) => ({
      width: page.getWidth() / pointsPerMm,
      height: page.getHeight() / pointsPerMm,
      marks: [],
      given: { file, index },
    }))
  } catch {
    return []
  }
}

/** A PDF with the pages of others put into the places that were left free for them. */
export async function withGivenPages(file: Buffer, places: readonly Placed[]): Promise<Buffer> {
  const document = await PDFDocument.load(file, { updateMetadata: false })
  const sheets = document.getPages()
  for (const { sheet, x, y, scale, turned, given } of places) {
    const [embedded] = await document.embedPdf(given.file, [given.index])
    const target = sheets[sheet]
    if (!embedded || !target) continue
    const { width, height } = embedded.scale(scale)
    const top = target.getHeight() - y
    target.drawPage(embedded, {
      x,
      // The library turns about the lower left corner, and counts from below.
      y: turned ? top : top - height,
      width,
      height,
      ...(turned ? { rotate: degrees(-90) } : {}),
    })
  }
  return Buffer.from(await document.save())
}
