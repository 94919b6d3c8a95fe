import { createHash } from 'node:crypto'
import { type Faces, facesSchema, readable, type ReadableColours, type Face, usualFaces } from '@/core/telling'
import { documentBy, type Database, keepLogo, logoBy, saveDocument } from '@/data'
import { refuse, type Answer, type Application } from '../shared/application'
import { currentWorld } from '../shared/changeWorld'
import { drawnAnew } from '../shared/drawnAnew'
import { contentOf, keepContent } from '../shared/keptContent'
import { forgetRecent, recently } from '../shared/recently'

const name = 'customers page'

/** The page that customers see, as it was published. */
export const publishedFaces = (db: Database): Promise<Faces> =>
  recently(db, name, async () => (await documentBy<Faces>(db, name))?.published ?? usualFaces)

/** How customers of a channel see the seller, in pages and letters. */
export async function faceFor(
  { db, settings }: Pick<Application, 'db' | 'settings'>,
  channel: string,
): Promise<{ readonly face: Face; readonly colours: ReadableColours; readonly logo: string }> {
  const faces = await publishedFaces(db)
  const face = faces.channels[channel] ?? faces.all
  return {
    face,
    colours: readable(face.colours),
    logo: face.logo === '' ? '' : `${settings.publicUrl}/logo/${face.logo}`,
  }
}

/** The seller's face for a channel, or where none is known. */
export async function sellersFace(
  gharry: Application,
  channel = '',
): Promise<{
  readonly face: Face
  readonly colours: ReadableColours
  readonly seller: string
  readonly sellerMail: string
}> {
  const { face, colours } = await faceFor(gharry, channel)
  const { seller } = (await currentWorld(gharry.db)).world
  return { face, colours, seller: seller?.name ?? '', sellerMail: seller?.mail ?? '' }
}

export interface FacesView {
  readonly version: number
  readonly draft: Faces
  readonly published: Faces
}

/** The page's draft, and what holds. */
export async function showFaces({ db }: Application): Promise<FacesView> {
  const row = await documentBy<Faces>(db, name)
  return { version: row?.version ?? 0, draft: row?.draft ?? usualFaces, published: row?.published ?? usualFaces }
}

/** Saves the page's draft, and publishes it if wanted. */
export async function saveFaces(
  gharry: Application,
  version: number,
  draft: unknown,
  publish: boolean,
): Promise<Answer<{ version: number }>> {
  const parsed = facesSchema.safeParse(draft)
  if (!parsed.success) {
    const issue = parsed.error.issues[0]!
    return refuse('bad-value', `${issue.path.slice(issue.path[0] === 'all' ? 1 : 2).join(' › ')} ${issue.message}.`)
  }
  const saved = await saveDocument(gharry.db, name, version, parsed.data, publish, gharry.now().toISOString())
  forgetRecent(gharry.db, name)
  return saved
    ? { ok: true, version: version + 1 }
    : refuse('world-changed', 'Somebody else has changed the page meanwhile: look at theirs first.')
}

/** Most bytes of a logo as it is sent. */
export const maxLogoBytes = 2_000_000

/** Takes a logo in, drawn anew at the size it is shown in. */
export async function takeLogo(gharry: Application, content: Buffer): Promise<Answer<{ logo: string }>> {
  const drawn = await drawnAnew(content, (picture) =>
    picture
      .resize({ width: 480, height: 160, fit: 'inside', withoutEnlargement: true })
      .png({ palette: true, compressionLevel: 9 }),
  )
  if (!drawn.ok) return drawn
  const logo = createHash('sha256').update(drawn.content).digest('base64url').slice(0, 32)
  const kept = await keepContent(gharry, 'logos', `${logo}.png`, drawn.content)
  await keepLogo(gharry.db, { id: logo, type: 'image/png', ...kept }, gharry.now().toISOString())
  return { ok: true, logo }
}

/** A logo by its name; undefined when there is none. */
export async function showLogo(
  gharry: Application,
  id: string,
): Promise<{ readonly type: string; readonly content: Buffer } | undefined> {
  const kept = await logoBy(gharry.db, id)
  return kept && { type: kept.type, content: await contentOf(gharry, kept) }
}
