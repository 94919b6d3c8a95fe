import { open } from 'node:fs/promises'
import type { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'

/**
 * Writes all of a source into a file that does not exist yet, readable by its owner alone. It is opened first: a stream
 * that opens it later could make it after a caller has taken it away again.
 */
export async function writeNewFile(path: string, source: AsyncIterable<Buffer> | Readable): Promise<void> {
  const file = await open(path, 'wx', 0o600)
  await pipeline(source, file.createWriteStream())
}
