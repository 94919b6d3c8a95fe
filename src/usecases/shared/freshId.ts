import { randomBytes } from 'node:crypto'

/** Of a link that nobody can guess: 144 bits. */
export const freshToken = (): string => randomBytes(18).toString('base64url')

/**
 * Identifiers for something new, from its name: letters, digits and hyphens, then with a number behind; the first that
 * is free is taken.
 */
export function* idsFrom(name: string, nameless: string): Generator<string, never> {
  const plain =
    name
      .normalize('NFKD')
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, '')
      .slice(0, 40) || nameless
  yield plain
  for (let n = 2; ; n++) yield `${plain}-${n}`
}
