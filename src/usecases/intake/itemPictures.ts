import { itemPictureOf, itemPictures, putItemPicture, type Database } from '@/data'
import { refuse, type Answer, type Application } from '../shared/application'
import { currentWorld } from '../shared/changeWorld'
import { drawnAnew } from '../shared/drawnAnew'
import { contentOf, keepContent } from '../shared/keptContent'

/** Most bytes of a picture as it comes from a camera. */
export const maxItemPictureBytes = 8_000_000

/**
 * Keeps the picture of an item, small enough for a bench. `name` is its SKU, or a file that is called so, as in
 * `TNK-060.jpg`; capitals do not matter. An empty file takes the picture away.
 */
export async function takeItemPicture(
  gharry: Application,
  name: string,
  content: Buffer,
): Promise<Answer<{ readonly sku: string }>> {
  const { world } = await currentWorld(gharry.db)
  const bare = name.trim().toLowerCase()
  const called = new Set([bare, bare.replace(/\.(png|jpe?g|webp)$/, '')])
  const item = world.items.find(({ sku }) => called.has(sku.toLowerCase()))
  if (!item)
    return refuse(
      'missing',
      `${name || 'A picture without a name'}: no item of the list is called so. Name the file as the SKU.`,
    )
  const now = gharry.now().toISOString()
  if (content.length === 0) await putItemPicture(gharry.db, item.sku, null, now)
  else {
    const drawn = await drawnAnew(content, (picture) =>
      picture.resize({ width: 480, height: 480, fit: 'inside', withoutEnlargement: true }).webp({ quality: 82 }),
    )
    if (!drawn.ok) return refuse('bad-file', `${item.sku}: ${drawn.sentence}`)
    const kept = await keepContent(gharry, 'pictures', `item ${item.sku}`, drawn.content)
    await putItemPicture(gharry.db, item.sku, kept, now)
  }
  return { ok: true, sku: item.sku }
}

/** The picture of an item as WebP; undefined when there is none. */
export async function showItemPicture(gharry: Application, sku: string): Promise<Buffer | undefined> {
  const kept = await itemPictureOf(gharry.db, sku)
  return kept && contentOf(gharry, kept)
}

/** Where the picture of each of these items is, of those that have one. The address changes with the picture. */
export async function pictureAddresses(db: Database, skus: readonly string[]): Promise<Record<string, string>> {
  const found = await itemPictures(db, [...new Set(skus)])
  return Object.fromEntries(
    [...found].map(([sku, at]) => [
      sku,
      `/api/intake/items/pictures?${new URLSearchParams({ name: sku, at }).toString()}`,
    ]),
  )
}
