import { type Picture, pictureOf, putPicture } from '@/data'
import { currentWorld } from '../shared/changeWorld'
import { contentOf, keepContent } from '../shared/keptContent'
import { refuse, type Answer, type Application } from '../shared/application'

/** Most bytes of a photograph. */
export const maxPictureBytes = 2_000_000

/** What pictures begin with: PNG (ISO/IEC 15948), JPEG (ISO/IEC 10918-1), WebP (RFC 9649). */
const signatures: readonly (readonly [type: string, fits: (content: Buffer) => boolean])[] = [
  ['image/png', (content) => content.subarray(0, 8).equals(Buffer.from('89504e470d0a1a0a', 'hex'))],
  ['image/jpeg', (content) => content.subarray(0, 3).equals(Buffer.from('ffd8ff', 'hex'))],
  [
    'image/webp',
    (content) => content.toString('latin1', 0, 4) === 'RIFF' && content.toString('latin1', 8, 12) === 'WEBP',
  ],
]

/** Keeps a photograph of a package preset; an empty file takes it away. */
export async function takePicture(gharry: Application, preset: string, content: Buffer): Promise<Answer<object>> {
  const { world } = await currentWorld(gharry.db)
  if (!world.presets.some(({ id }) => id === preset))
    return refuse('missing', 'There is no such package preset (any more).')
  const type = signatures.find(([, fits]) => fits(content))?.[0]
  if (content.length > 0 && type === undefined)
    return refuse('bad-file', 'This is no picture that can be shown: take a PNG, JPEG or WebP file.')
  const kept =
    type === undefined ? null : { type, ...(await keepContent(gharry, 'pictures', `preset ${preset}`, content)) }
  await putPicture(gharry.db, preset, kept)
  return { ok: true }
}

/** The photograph of a package preset; undefined when there is none. */
export async function showPicture(gharry: Application, preset: string): Promise<Picture | undefined> {
  const kept = await pictureOf(gharry.db, preset)
  return kept && { ...kept, content: await contentOf(gharry, kept) }
}
