import { refuse, type Application, type Refused } from '../shared/application'
import { countWrong, forgetWrong, type Tries, triesWait } from '../shared/tries'

/*
 * Wrong tries slow down: for one account from one address, for one account from everywhere (so that a thousand
 * addresses do not help), and for one address. Who is known keeps their own way in, unless the whole account is tried
 * by many.
 */
const pair: Tries = { name: 'pair', most: 5, minutes: 15 }
const ofAccount: Tries = { name: 'account', most: 50, minutes: 60 }
const ofAddress: Tries = { name: 'address', most: 60, minutes: 15 }

const pairOf = (account: string, address: string): string => `${account} ${address}`
/** Where Gharry does not see addresses (it is behind no proxy), they tell nobody apart. */
const keysOf = (account: string, address: string): readonly (readonly [Tries, string])[] => [
  [pair, pairOf(account, address)],
  [ofAccount, account],
  ...(address === '' ? [] : [[ofAddress, address] as const]),
]

/** Refuses when there were too many wrong tries; null when another may be made. */
export async function tooManyTries(gharry: Application, account: string, address: string): Promise<Refused | null> {
  const waits = await Promise.all(keysOf(account, address).map(([tries, key]) => triesWait(gharry, tries, key)))
  const wait = Math.max(...waits)
  if (wait === 0) return null
  const inMinutes = Math.ceil(wait / 60_000)
  return refuse(
    'too-many-tries',
    `Too many wrong tries. Try again in ${inMinutes === 1 ? 'a minute' : `${inMinutes} minutes`}, or ask the owner for a new link.`,
  )
}

/** Counts a wrong try. */
export async function countTry(gharry: Application, account: string, address: string): Promise<void> {
  for (const [tries, key] of keysOf(account, address)) await countWrong(gharry, tries, key)
}

/** Forgets wrong tries of an account from an address: the right factor was given. */
export const forgetTries = (gharry: Application, account: string, address: string): Promise<void> =>
  forgetWrong(gharry, pair, pairOf(account, address))
