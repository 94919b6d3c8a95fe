import { createCipheriv, createDecipheriv, createHash, randomBytes } from 'node:crypto'
import { chmodSync, existsSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { inFolder } from './inFolder'

/** What is secret is kept so: AES-256-GCM under a key that the database does not hold (NIST SP 800-38D). */
export interface Vault {
  /** The name of the key that seals now. */
  readonly keyId: string
  /** Encrypts; `of` says whose it is, and only as that it is opened again. */
  readonly seal: (text: string, of: string) => string
  /** Throws `LostKey` where the key is another, or what is sealed was changed. */
  readonly open: (sealed: string, of: string) => string
  /** The same secret, sealed under the key that seals now. */
  readonly rewrap: (sealed: string, of: string) => string
}

/** A secret that cannot be opened: nothing is destroyed, and it opens again with its key. */
export class LostKey extends Error {}

const keyBytes = 32

/**
 * The vault under `GHARRY_KEY` (32 bytes, base64), or under a key file in the data folder that is made at the first
 * start, readable by its owner alone. `before` are keys that sealed once, and only open; the folder's former key is one
 * of them. A process that runs while the key is changed finds the new one by itself.
 */
export function openVault(folder: string, given: string | undefined, before: readonly string[] = []): Vault {
  const former = before.map((key) => readKey(key, 'GHARRY_KEY_BEFORE'))
  if (given) return vaultOf(() => [readKey(given, 'GHARRY_KEY'), ...former])
  makeKey(inFolder(folder, names.now))
  return vaultOf(() => [
    ...[names.now, names.next, names.before]
      .map((name) => inFolder(folder, name))
      .filter((file) => existsSync(file))
      .map((file) => readKey(readFileSync(file, 'utf8'), file)),
    ...former,
  ])
}

/**
 * Changes the key of a data folder: `reseal` gets a vault that seals under the new one and opens what the old one
 * sealed. Only when it has done so the new key takes the place of the old, which is kept beside it. A run that was cut
 * off is done again.
 */
export async function changeKey(folder: string, reseal: (vault: Vault) => Promise<void>): Promise<Vault> {
  const [now, next, before] = [names.now, names.next, names.before].map((name) => inFolder(folder, name))
  makeKey(now!)
  makeKey(next!)
  const keys = [next!, now!, before!]
    .filter((file) => existsSync(file))
    .map((file) => readKey(readFileSync(file, 'utf8'), file))
  const vault = vaultOf(() => keys)
  await reseal(vault)
  renameSync(now!, before!)
  renameSync(next!, now!)
  return vault
}

/**
 * The key that backups are sealed with: `GHARRY_BACKUP_KEY`, or a key file of the data folder that is made at first. It
 * is another one than the vault's, which is in the backup itself.
 */
export function backupKey(folder: string, given: string | undefined): Buffer {
  if (given) return readKey(given, 'GHARRY_BACKUP_KEY')
  const file = inFolder(folder, 'backup.key')
  makeKey(file)
  return readKey(readFileSync(file, 'utf8'), file)
}

/** A key that somebody kept in a file, or typed. */
export const keyIn = (text: string, where: string): Buffer => readKey(text, where)

const names = { now: 'key', next: 'key.next', before: 'key.before' } as const

/**
 * A vault that seals with the first of the keys, and opens what any of them has sealed. Each secret has a key of its
 * own, which is sealed beside it (an envelope): when the vault's key changes, only that is sealed anew, and no secret
 * is opened for it.
 */
export function vaultOf(read: () => readonly Buffer[]): Vault {
  let keys = read()
  const keyNamed = (name: string): Buffer => {
    const known = (): Buffer | undefined => keys.find((key) => nameOf(key) === name)
    // The key may have been changed since they were read.
    if (!known()) keys = read()
    const key = known()
    if (key) return key
    throw new LostKey(
      `The credentials are sealed with the key ${name || '(none)'}, which is not here: start Gharry with that key (GHARRY_KEY, or the file "key" of its data folder), or enter the credentials again.`,
    )
  }
  const wrap = (own: Buffer, of: string): string[] => [nameOf(keys[0]!), ...encrypted(own, keys[0]!, of)]
  const unwrap = ([name = '', ...parts]: readonly string[], of: string): Buffer => decrypted(parts, keyNamed(name), of)
  const seal = (text: string, of: string): string => {
    // Under the key of now, also when it was changed while this process runs.
    keys = read()
    const own = randomBytes(keyBytes)
    return ['v2', ...wrap(own, of), ...encrypted(Buffer.from(text), own, of)].join(':')
  }
  const open = (sealed: string, of: string): string => {
    const [version, ...parts] = sealed.split(':')
    // As it was sealed before each secret had a key of its own.
    if (version === 'v1') return unwrap(parts, of).toString('utf8')
    if (version !== 'v2') unwrap([], of)
    return decrypted(parts.slice(4), unwrap(parts.slice(0, 4), of), of).toString('utf8')
  }
  return {
    keyId: nameOf(keys[0]!),
    seal,
    open,
    rewrap: (sealed, of) => {
      const [version, ...parts] = sealed.split(':')
      if (version !== 'v2') return seal(open(sealed, of), of)
      return ['v2', ...wrap(unwrap(parts.slice(0, 4), of), of), ...parts.slice(4)].join(':')
    },
  }
}

/** AES-256-GCM: what it was drawn with, the tag, and what came of it. `of` is bound to it. */
function encrypted(plain: Buffer, key: Buffer, of: string): string[] {
  const iv = randomBytes(12)
  const cipher = createCipheriv('aes-256-gcm', key, iv).setAAD(Buffer.from(of))
  const body = Buffer.concat([cipher.update(plain), cipher.final()])
  return [iv, cipher.getAuthTag(), body].map((part) => part.toString('base64url'))
}

function decrypted([iv = '', tag = '', body = '']: readonly string[], key: Buffer, of: string): Buffer {
  try {
    const decipher = createDecipheriv('aes-256-gcm', key, Buffer.from(iv, 'base64url'), { authTagLength: 16 })
    decipher.setAAD(Buffer.from(of)).setAuthTag(Buffer.from(tag, 'base64url'))
    return Buffer.concat([decipher.update(Buffer.from(body, 'base64url')), decipher.final()])
  } catch {
    throw new LostKey('The sealed credentials were changed from outside: enter them again.')
  }
}

/** Makes a key file where there is none, for its owner alone. */
function makeKey(file: string): void {
  try {
    // Two processes may start at once: the first makes it.
    writeFileSync(file, randomBytes(keyBytes).toString('base64'), { mode: 0o600, flag: 'wx' })
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error
  }
  chmodSync(file, 0o600)
}

function readKey(text: string, where: string): Buffer {
  const key = Buffer.from(text.trim(), 'base64')
  if (key.length !== keyBytes)
    throw new Error(
      `${where.startsWith('GHARRY_') ? `The environment variable ${where}` : where} is wrong: it must hold ${keyBytes} bytes in base64.`,
    )
  return key
}

// Enough to tell keys apart, and nothing of the key.
const nameOf = (key: Buffer): string => createHash('sha256').update('gharry').update(key).digest('hex').slice(0, 8)
