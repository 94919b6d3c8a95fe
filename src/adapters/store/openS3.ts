import type { FileStore } from './fileStore'
import type { S3Settings } from './s3Store'

/** Files in a bucket; its client is loaded here alone: most houses have none, and it takes its time and memory. */
export async function openS3(settings: S3Settings, temporary: () => string): Promise<FileStore> {
  const { s3Store } = await import('./s3Store')
  return s3Store(settings, temporary)
}
