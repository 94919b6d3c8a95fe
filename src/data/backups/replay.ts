import { closeSync, fsyncSync, ftruncateSync, openSync, writeSync } from 'node:fs'
import type { WrittenPages } from './walFile'

/** Pages as one text of bytes: a line of JSON, then each page after its number. */
export function pagesToBytes({ pageSize, pages, fileAtPages }: WrittenPages): Buffer {
  const parts: Uint8Array[] = [Buffer.from(`${JSON.stringify({ pageSize, fileAtPages, pages: pages.size })}\n`)]
  for (const [page, content] of [...pages].sort(([a], [b]) => a - b)) {
    const number = Buffer.alloc(4)
    number.writeUInt32BE(page)
    parts.push(number, content)
  }
  return Buffer.concat(parts)
}

/** Writes pages into a copy of the books that nobody has open. Throws where they are not whole. */
export function applyPages(file: string, bytes: Buffer): void {
  const line = bytes.indexOf(10)
  const { pageSize, fileAtPages, pages } = JSON.parse(bytes.subarray(0, line).toString('utf8')) as Record<
    string,
    number
  >
  if (!pageSize || !fileAtPages || bytes.length !== line + 1 + (pages ?? 0) * (4 + pageSize))
    throw new Error('A part of what was written is cut short.')
  const fd = openSync(file, 'r+')
  try {
    for (let at = line + 1; at < bytes.length; at += 4 + pageSize)
      writeSync(fd, bytes, at + 4, pageSize, (bytes.readUInt32BE(at) - 1) * pageSize)
    ftruncateSync(fd, fileAtPages * pageSize)
    fsyncSync(fd)
  } finally {
    closeSync(fd)
  }
}
