import { returnFile } from '@/data'
import type { Application } from '../../shared/application'
import { drawnAnew } from '../../shared/drawnAnew'

/** A customer's photograph, drawn anew without what cameras write into files; null when it is no picture. */
export async function takePhoto(content: Buffer): Promise<Buffer | null> {
  const drawn = await drawnAnew(content, (picture) =>
    picture.resize({ width: 1280, height: 1280, fit: 'inside', withoutEnlargement: true }).jpeg({ quality: 80 }),
  )
  return drawn.ok ? drawn.content : null
}

/** A photograph of a return; null when there is none. */
export async function returnPhoto({ db }: Application, id: number): Promise<{ type: string; content: Buffer } | null> {
  const file = await returnFile(db, id)
  return file?.what === 'photo' ? file : null
}
