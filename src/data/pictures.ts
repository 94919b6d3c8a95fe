import { chunks, type Database } from './database'
import type { KeptContent } from './labelPapers'

export interface Picture extends KeptContent {
  /** A media type, such as `image/png`. */
  readonly type: string
}

/** Keeps the photograph of a package preset in place of the one before; null takes it away. */
export async function putPicture(db: Database, preset: string, picture: Picture | null): Promise<void> {
  if (picture)
    await db('pictures')
      .insert({ preset, ...picture })
      .onConflict('preset')
      .merge()
  else await db('pictures').where({ preset }).delete()
}

/** The photograph of a package preset; undefined when there is none. */
export const pictureOf = (db: Database, preset: string): Promise<Picture | undefined> =>
  db('pictures').where({ preset }).first('type', 'content', 'file')

/** The package presets that have a photograph. */
export const presetsWithPicture = async (db: Database): Promise<string[]> =>
  ((await db('pictures').select('preset')) as { preset: string }[]).map(({ preset }) => preset)

/** Keeps the picture of an item (WebP) in place of the one before; null takes it away. */
export async function putItemPicture(db: Database, sku: string, kept: KeptContent | null, now: string): Promise<void> {
  if (kept)
    await db('item_pictures')
      .insert({ sku, ...kept, changedAt: now })
      .onConflict('sku')
      .merge()
  else await db('item_pictures').where({ sku }).delete()
}

/** The picture of an item as WebP; undefined when there is none. */
export const itemPictureOf = (db: Database, sku: string): Promise<KeptContent | undefined> =>
  db('item_pictures').where({ sku }).first('content', 'file')

/** When the picture of each of these items was changed, of those that have one. */
export async function itemPictures(db: Database, skus: readonly string[]): Promise<ReadonlyMap<string, string>> {
  const found = new Map<string, string>()
  for (const part of chunks(skus, 500))
    for (const { sku, changedAt } of (await db('item_pictures').whereIn('sku', part).select('sku', 'changedAt')) as {
      sku: string
      changedAt: string
    }[])
      found.set(sku, changedAt)
  return found
}
