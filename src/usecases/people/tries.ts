import { RateLimiterMemory } from 'rate-limiter-flexible'
import { refuse, type Refused } from '../shared/application'

/*
 * Wrong tries slow down: for one account from one address, for one account from everywhere (so that a thousand
 * addresses do not help), and for one address. Who is known keeps their own way in, unless the whole account is tried
 * by many.
 */
const minutes = 60
const limits = {
  pair: new RateLimiterMemory({ keyPrefix: 'pair', points: 5, duration: 15 * minutes, blockDuration: 15 * minutes }),
  account: new RateLimiterMemory({ keyPrefix: 'account', points: 50, duration: 60 * minutes }),
  address: new RateLimiterMemory({ keyPrefix: 'address', points: 60, duration: 15 * minutes }),
}
type Limit = keyof typeof limits
/** Where Gharry does not see addresses (it is behind no proxy), they tell nobody apart. */
const keysOf = (account: string, address: string): readonly (readonly [Limit, string])[] => [
  ['pair', `${account} ${address}`],
  ['account', account],
  ...(address === '' ? [] : [['address', address] as const]),
]

/** Refuses when there were too many wrong tries; null when another may be made. */
export async function tooManyTries(account: string, address: string): Promise<Refused | null> {
  let wait = 0
  for (const [limit, key] of keysOf(account, address)) {
    const so = await limits[limit].get(key)
    if (so && so.consumedPoints >= limits[limit].points) wait = Math.max(wait, so.msBeforeNext)
  }
  if (wait === 0) return null
  const inMinutes = Math.ceil(wait / 60_000)
  return refuse(
    'too-many-tries',
    `Too many wrong tries. Try again in ${inMinutes === 1 ? 'a minute' : `${inMinutes} minutes`}, or ask the owner for a new link.`,
  )
}

/** Counts a wrong try. */
export async function countTry(account: string, address: string): Promise<void> {
  for (const [limit, key] of keysOf(account, address)) await limits[limit].consume(key).catch(() => undefined)
}

/** Forgets wrong tries of an account from an address: the right factor was given. */
export const forgetTries = async (account: string, address: string): Promise<void> => {
  await limits.pair.delete(`${account} ${address}`)
}
