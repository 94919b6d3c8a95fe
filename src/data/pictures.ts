import type { Database } from './database'

export interface Picture {
  /** A media type, such as `image/png`. */
  readonly type: string
  readonly content: Buffer
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
  db('pictures').where({ preset }).first('type', 'content')

/** The package presets that have a photograph. */
export const presetsWithPicture = async (db: Database): Promise<string[]> =>
  ((await db('pictures').select('preset')) as { preset: string }[]).map(({ preset }) => preset)
