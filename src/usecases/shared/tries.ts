import { createHash } from 'node:crypto'
import { addUses, forgetUses, usesOf } from '@/data'
import type { Application } from './application'

/** What may be tried so often in a while, of whatever a key tells apart. */
export interface Tries {
  readonly name: string
  readonly most: number
  readonly minutes: number
}

/** Whose tries they are is nobody else's business: it is kept as a hash. */
const keyOf = ({ name }: Tries, key: string): string =>
  `${name} ${createHash('sha256').update(key).digest('base64url')}`

/** For how many milliseconds nothing more may be tried; 0 where it may. */
export async function triesWait({ db, now }: Application, tries: Tries, key: string): Promise<number> {
  const { used, msLeft } = await usesOf(db, keyOf(tries, key), now())
  return used < tries.most ? 0 : msLeft
}

/** Counts a wrong try. */
export async function countWrong({ db, now }: Application, tries: Tries, key: string): Promise<void> {
  await addUses(db, keyOf(tries, key), 1, tries.minutes * 60_000, now())
}

/** Forgets wrong tries. */
export const forgetWrong = ({ db }: Application, tries: Tries, key: string): Promise<void> =>
  forgetUses(db, keyOf(tries, key))
