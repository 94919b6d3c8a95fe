import { createReadStream } from 'node:fs'
import { rm, stat } from 'node:fs/promises'
import type { Readable } from 'node:stream'
import {
  DeleteObjectCommand,
  GetObjectCommand,
  ListObjectsV2Command,
  PutObjectCommand,
  S3Client,
} from '@aws-sdk/client-s3'
import { byCopy, type FileStore, safeName, type StoredFile } from './fileStore'

/** A bucket of a store that speaks the S3 API. */
export interface S3Settings {
  /** Where the store is; empty for that of the region. */
  readonly endpoint: string
  readonly region: string
  readonly bucket: string
  /** What all names begin with; empty, or with a slash at its end. */
  readonly prefix: string
  readonly key: string
  readonly secret: string
}

/** Files in a bucket. `temporary` gives paths on this machine for files that have to be opened here. */
export function s3Store(settings: S3Settings, temporary: () => string): FileStore {
  const client = new S3Client({
    region: settings.region,
    ...(settings.endpoint === '' ? {} : { endpoint: settings.endpoint, forcePathStyle: true }),
    credentials: { accessKeyId: settings.key, secretAccessKey: settings.secret },
    // Stores that are not the first one do not all know checksums at the end of a body.
    requestChecksumCalculation: 'WHEN_REQUIRED',
    responseChecksumValidation: 'WHEN_REQUIRED',
    maxAttempts: 3,
  })
  const Bucket = settings.bucket
  const keyOf = (name: string): string => `${settings.prefix}${safeName(name)}`
  const read = async (name: string): Promise<Readable | null> => {
    try {
      const { Body } = await client.send(new GetObjectCommand({ Bucket, Key: keyOf(name) }))
      return Body as Readable
    } catch (error) {
      if ((error as Error).name === 'NoSuchKey') return null
      throw error
    }
  }
  return {
    put: async (name, path) => {
      const { size } = await stat(path)
      await client.send(
        new PutObjectCommand({ Bucket, Key: keyOf(name), Body: createReadStream(path), ContentLength: size }),
      )
      await rm(path, { force: true })
    },
    read,
    local: byCopy(read, temporary),
    drop: async (name) => {
      await client.send(new DeleteObjectCommand({ Bucket, Key: keyOf(name) }))
    },
    list: async (within) => {
      const found: StoredFile[] = []
      const Prefix = `${settings.prefix}${within}/`
      for (let ContinuationToken: string | undefined; ;) {
        const page = await client.send(new ListObjectsV2Command({ Bucket, Prefix, ContinuationToken }))
        for (const { Key, LastModified } of page.Contents ?? [])
          if (Key && LastModified) found.push({ name: Key.slice(settings.prefix.length), changedAt: LastModified })
        if (!page.IsTruncated) return found
        ContinuationToken = page.NextContinuationToken
      }
    },
  }
}
