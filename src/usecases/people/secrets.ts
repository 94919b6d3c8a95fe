import { createHash, randomBytes } from 'node:crypto'
import { hash, verify } from '@node-rs/argon2'

/** A secret that cannot be guessed, as text that can stand in an address or a cookie. */
export const freshSecret = (): string => randomBytes(32).toString('base64url')

/** What is kept of a secret that cannot be guessed. */
export const digest = (secret: string): string => createHash('sha256').update(secret).digest('hex')

/** Argon2id with the cost that OWASP advises (Password Storage Cheat Sheet: 19 MiB, two passes). */
const cost = { memoryCost: 19_456, timeCost: 2, parallelism: 1 } as const

/** What is kept of a password. */
export const hashPassword = (password: string): Promise<string> => hash(password.normalize('NFKC'), cost)

/** A password that nobody has: whoever is not known is looked at for as long as who is. */
let nobodys: Promise<string> | null = null

/** Whether a password is the one that was kept; it takes as long where none is. */
export async function isPassword(kept: string | null, given: string): Promise<boolean> {
  nobodys ??= hashPassword(freshSecret())
  const right = await verify(kept ?? (await nobodys), given.normalize('NFKC')).catch(() => false)
  return right && kept !== null
}

let known: Promise<ReadonlySet<string>> | null = null
/**
 * Passwords that have leaked, in lower case: the list that ships with a package, read when somebody first chooses one.
 */
export const leakedPasswords = (): Promise<ReadonlySet<string>> =>
  (known ??= import('@zxcvbn-ts/language-common').then(
    ({ dictionary }) =>
      new Set((dictionary['passwords-common'] as readonly string[]).map((word) => word.toLowerCase())),
  ))
