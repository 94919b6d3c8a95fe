/** Fewest characters of a password (NIST SP 800-63B-4, 3.1.1.2, for one that is the only factor). */
export const leastPassword = 15
/** Most characters: more could be used to keep the machine busy. */
export const mostPassword = 200

/**
 * What is wrong with a password, as a sentence that says what to do; null when it is good enough. Nothing is asked of
 * its kinds of characters. `known` are passwords that have leaked, in lower case; `own` are words that anybody would
 * try first, such as the person's name.
 */
export function passwordFault(password: string, known: ReadonlySet<string>, own: readonly string[]): string | null {
  const length = [...password].length
  if (length < leastPassword)
    return `Use at least ${leastPassword} characters: four or five words that you remember do well.`
  if (length > mostPassword) return `Use at most ${mostPassword} characters.`
  const low = password.normalize('NFKC').toLowerCase()
  if (known.has(low) || known.has(low.replace(/[^\p{L}]/gu, '')))
    return 'This password is in lists that attackers try. Use another one.'
  if (new Set(low).size < 6) return 'The same few characters again and again are tried soon. Use another one.'
  const rest = own
    .map((word) => word.trim().toLowerCase())
    .filter((word) => word.length >= 4)
    .reduce((left, word) => left.replaceAll(word, ''), low)
  if ([...rest].length < leastPassword / 2) return 'Your name and address are tried first. Use other words.'
  return null
}
