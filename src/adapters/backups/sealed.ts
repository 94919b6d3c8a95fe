import { createCipheriv, createDecipheriv, createHash, hkdfSync, randomBytes } from 'node:crypto'
import { createReadStream, createWriteStream, readFileSync } from 'node:fs'
import { Transform, type TransformCallback } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { createGunzip, createGzip, gunzipSync, gzipSync } from 'node:zlib'

/*
 * How parts of a backup are kept: compressed, then sealed piece by piece with AES-256-GCM (NIST SP 800-38D), under a
 * key that is drawn for each part from the backup key (HKDF, RFC 5869). Pieces are numbered, and the last one says that
 * it is, so that none can be left out, moved or added; the name of the part is bound to them, so that parts cannot be
 * exchanged.
 */

/** A part that was changed, cut or exchanged, or is sealed with another key. Nothing of it is used. */
export class Unsealable extends Error {}

const magic = Buffer.from('GHARRY-BACKUP-1\n')
const pieceBytes = 1 << 20
const tagBytes = 16
const headBytes = magic.length + 8 + 32

/** What a backup key is called: enough to tell keys apart, and nothing of the key. */
export const backupKeyName = (key: Buffer): string =>
  createHash('sha256').update('gharry backup').update(key).digest('hex').slice(0, 8)

/** Seals a file into another. */
export const sealFile = (from: string, to: string, key: Buffer, name: string): Promise<void> =>
  pipeline(
    createReadStream(from),
    createGzip({ level: 1 }),
    sealing(key, name),
    createWriteStream(to, { mode: 0o600, flush: true }),
  )

/** Opens a sealed file into another. Throws `Unsealable`. */
export const openFile = (from: string, to: string, keys: readonly Buffer[], name: string): Promise<void> =>
  pipeline(
    createReadStream(from),
    opening(keys, name),
    createGunzip(),
    createWriteStream(to, { mode: 0o600, flush: true }),
  )

/** Seals some bytes. */
export async function sealBytes(bytes: Buffer, key: Buffer, name: string): Promise<Buffer> {
  const out: Buffer[] = []
  const seal = sealing(key, name)
  seal.on('data', (part: Buffer) => out.push(part))
  await new Promise<void>((resolve, reject) => {
    seal.on('end', resolve).on('error', reject)
    seal.end(gzipSync(bytes, { level: 1 }))
  })
  return Buffer.concat(out)
}

/** The bytes of a sealed file. Throws `Unsealable`. */
export async function openBytes(file: string, keys: readonly Buffer[], name: string): Promise<Buffer> {
  const out: Buffer[] = []
  const open = opening(keys, name)
  open.on('data', (part: Buffer) => out.push(part))
  await new Promise<void>((resolve, reject) => {
    open.on('end', resolve).on('error', reject)
    open.end(readFileSync(file))
  })
  return gunzipSync(Buffer.concat(out))
}

const partKey = (key: Buffer, salt: Buffer, name: string): Buffer =>
  Buffer.from(hkdfSync('sha256', key, salt, `gharry backup ${name}`, 32))

/** The number of a piece, and whether it is the last one: no two pieces of a part have the same. */
function nonceOf(piece: number, last: boolean): Buffer {
  const nonce = Buffer.alloc(12)
  nonce.writeUInt32BE(piece, 7)
  nonce[11] = last ? 1 : 0
  return nonce
}

interface Pieces {
  readonly size: number
  readonly take: (piece: Buffer, last: boolean, push: (out: Buffer) => void) => void
  /** What stands before the pieces. */
  readonly head?: { readonly size: number; readonly take: (head: Buffer) => void }
}

/** Gathers bytes, and gives each whole piece to `take`; what is left at the end is the last one. */
function inPieces({ size, take, head }: Pieces): Transform {
  let waiting: Buffer[] = []
  let length = 0
  let headLeft = head?.size ?? 0
  const gathered = (): Buffer => {
    const all = Buffer.concat(waiting)
    waiting = [all]
    return all
  }
  const cut = (bytes: Buffer): Buffer => {
    waiting = [bytes]
    length = bytes.length
    return bytes
  }
  function takeHead(): void {
    const all = gathered()
    head!.take(all.subarray(0, headLeft))
    cut(all.subarray(headLeft))
    headLeft = 0
  }
  const safely = (done: TransformCallback, work: () => void): void => {
    try {
      work()
      done()
    } catch (error) {
      done(error as Error)
    }
  }
  return new Transform({
    transform(this: Transform, chunk: Buffer, _encoding: string, done: TransformCallback) {
      safely(done, () => {
        waiting.push(chunk)
        length += chunk.length
        if (headLeft > 0 && length >= headLeft) takeHead()
        // One piece is held back: only the end tells which one is the last.
        if (headLeft > 0 || length <= size) return
        let all = gathered()
        for (; all.length > size; all = all.subarray(size)) take(all.subarray(0, size), false, (out) => this.push(out))
        cut(all)
      })
    },
    flush(this: Transform, done: TransformCallback) {
      safely(done, () => {
        if (headLeft > 0) takeHead()
        take(gathered(), true, (out) => this.push(out))
      })
    },
  })
}

function sealing(key: Buffer, name: string): Transform {
  const salt = randomBytes(32)
  const own = partKey(key, salt, name)
  let piece = 0
  return inPieces({
    size: pieceBytes,
    take: (bytes, last, push) => {
      if (piece === 0) push(Buffer.concat([magic, Buffer.from(backupKeyName(key)), salt]))
      const cipher = createCipheriv('aes-256-gcm', own, nonceOf(piece++, last))
      push(Buffer.concat([cipher.update(bytes), cipher.final(), cipher.getAuthTag()]))
    },
  })
}

function opening(keys: readonly Buffer[], name: string): Transform {
  let own: Buffer
  let piece = 0
  return inPieces({
    head: {
      size: headBytes,
      take: (head) => {
        if (head.length < headBytes || !head.subarray(0, magic.length).equals(magic))
          throw new Unsealable(`${name} is no part of a backup, or is cut short.`)
        const wanted = head.subarray(magic.length, magic.length + 8).toString('latin1')
        const key = keys.find((one) => backupKeyName(one) === wanted)
        if (!key)
          throw new Unsealable(
            `${name} is sealed with the backup key ${/^[0-9a-f]{8}$/.test(wanted) ? wanted : '(unreadable)'}, which is not here: give that key with --key or GHARRY_BACKUP_KEY.`,
          )
        own = partKey(key, head.subarray(magic.length + 8), name)
      },
    },
    size: pieceBytes + tagBytes,
    take: (sealed, last, push) => {
      const changed = new Unsealable(`${name} was changed, cut or exchanged since it was made.`)
      if (sealed.length < tagBytes) throw changed
      const decipher = createDecipheriv('aes-256-gcm', own, nonceOf(piece++, last), { authTagLength: tagBytes })
      decipher.setAuthTag(sealed.subarray(-tagBytes))
      const plain = decipher.update(sealed.subarray(0, -tagBytes))
      try {
        decipher.final()
      } catch {
        throw changed
      }
      push(plain)
    },
  })
}
