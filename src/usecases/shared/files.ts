import { randomUUID } from 'node:crypto'
import { mkdirSync, readdirSync, rmSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { byCopy, type FileStore, folderStore, openS3, type S3Settings, safeName } from '@/adapters'
import { type Database, dropFile, listFiles, putFile, readFileParts } from '@/data'

/** Where files are kept: in a folder, in the books, or in a bucket. */
export type FilePlace =
  | { readonly kind: 'folder'; readonly folder: string }
  | { readonly kind: 'books' }
  | { readonly kind: 's3'; readonly settings: S3Settings }

/**
 * What `GHARRY_FILES` means: `books`, `s3://bucket/prefix?endpoint=…&region=…`, or a folder; null for what cannot be
 * read.
 */
export function filePlace(text: string, key: string, secret: string): FilePlace | null {
  if (text === 'books') return { kind: 'books' }
  if (!text.startsWith('s3:')) return { kind: 'folder', folder: text }
  if (!URL.canParse(text)) return null
  const { hostname: bucket, pathname, searchParams } = new URL(text)
  if (bucket === '' || key === '' || secret === '') return null
  const path = pathname.replace(/^\/|\/$/g, '')
  return {
    kind: 's3',
    settings: {
      ...{ bucket, prefix: path === '' ? '' : `${path}/`, key, secret },
      ...{ endpoint: searchParams.get('endpoint') ?? '', region: searchParams.get('region') ?? 'us-east-1' },
    },
  }
}

/** A place on this machine for files that are being made, or have to be opened here. */
export interface WorkingFolder {
  /** A path that nothing is at; whoever asks takes away what it puts there. */
  readonly path: () => string
}

/** What whoever died has left. */
const leftMs = 24 * 3_600_000

/** The working folder of a data folder. */
export function workingFolder(dataDir: string): WorkingFolder {
  const folder = join(dataDir, 'working')
  mkdirSync(folder, { recursive: true, mode: 0o700 })
  for (const name of readdirSync(folder)) {
    const path = join(folder, name)
    if (Date.now() - (statSync(path, { throwIfNoEntry: false })?.mtimeMs ?? Infinity) > leftMs)
      rmSync(path, { force: true })
  }
  return { path: () => join(folder, randomUUID()) }
}

/** Opens the place where files are kept. */
export async function openFiles(
  db: Database,
  place: FilePlace,
  working: WorkingFolder,
  now: () => Date,
): Promise<FileStore> {
  switch (place.kind) {
    case 'folder':
      return folderStore(place.folder)
    case 's3':
      return openS3(place.settings, working.path)
    case 'books':
      return booksStore(db, working, now)
  }
}

function booksStore(db: Database, working: WorkingFolder, now: () => Date): FileStore {
  const read = async (name: string) => readFileParts(db, safeName(name))
  return {
    put: (name, path) => putFile(db, safeName(name), path, now()),
    read,
    local: byCopy(read, working.path),
    drop: (name) => dropFile(db, safeName(name)),
    list: (folder) => listFiles(db, folder),
  }
}
