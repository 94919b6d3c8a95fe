import sharp, { type Sharp } from 'sharp'
import { type Answer, refuse } from './application'

const maxPixels = 16_000_000

/**
 * A picture from outside (PNG, JPEG or WebP), drawn anew: no drawing with scripts, nothing that is hidden in a file.
 */
export async function drawnAnew(
  content: Buffer,
  draw: (picture: Sharp) => Sharp,
): Promise<Answer<{ content: Buffer }>> {
  const wrong = refuse('bad-file', 'This is no picture that can be shown: take a PNG, JPEG or WebP file.')
  try {
    const picture = sharp(content, { limitInputPixels: maxPixels, failOn: 'error', animated: false })
    const { format, width, height } = await picture.metadata()
    if (!['png', 'jpeg', 'webp'].includes(format)) return wrong
    if (width < 16 || height < 16) return refuse('bad-file', 'The picture is too small: 16 × 16 at least.')
    return { ok: true, content: await draw(picture.rotate()).toBuffer() }
  } catch (error) {
    const large = error instanceof Error && /pixel limit/i.test(error.message)
    return large ? refuse('bad-file', 'The picture has too many pixels: at most 4,000 × 4,000.') : wrong
  }
}
