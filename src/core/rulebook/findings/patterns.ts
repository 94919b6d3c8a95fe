import { foldText, glob } from '@/core/order'

/** Made-up texts for the ways in which patterns (`*` any run, `?` one character) can hold together. */
export interface PatternTexts {
  readonly texts: readonly string[]
  /** Whether every way in which the patterns can hold or not hold is among them. */
  readonly complete: boolean
}

// Longer than this all together, they are not walked at all.
const maxLetters = 1500
// Past this many states the ways are too many to be told apart.
const maxStates = 6000

/**
 * Walks the product of the patterns' automata, shortest texts first. Texts are folded ones: no outer blanks, no runs of
 * blanks, never empty. A text of `known` (values that tests name) is not enough for its way; another one is looked for.
 */
export function patternTexts(patterns: readonly string[], known: ReadonlySet<string>): PatternTexts {
  if (patterns.length === 0) return { texts: [], complete: true }
  const folded = patterns.map((pattern) => foldText(pattern).replace(/\*+/g, '*'))
  if (folded.reduce((sum, pattern) => sum + pattern.length, 0) > maxLetters)
    return { texts: samples(folded), complete: false }
  const alphabet = alphabetOf(folded)
  const automata = folded.map((pattern) => [...pattern])
  const matchers = folded.map(glob)
  const wayOf = (text: string): string => matchers.map((matches) => (matches(text) ? '1' : '0')).join('')
  const found = new Map<string, string>()
  const start = automata.map((pattern) => spread(pattern, new Set([0])))
  let layer: { text: string; states: ReadonlySet<number>[] }[] = [{ text: '', states: start }]
  const seen = new Set([keyOf(start, false)])
  while (layer.length > 0 && seen.size <= maxStates) {
    const next: typeof layer = []
    for (const { text, states } of layer) {
      for (const letter of alphabet) {
        if (letter === ' ' && (text === '' || text.endsWith(' '))) continue
        const moved = states.map((from, i) => step(automata[i]!, from, letter))
        const key = keyOf(moved, letter === ' ')
        if (seen.has(key)) continue
        seen.add(key)
        const longer = text + letter
        if (letter !== ' ') {
          const way = wayOf(longer)
          const before = found.get(way)
          if (before === undefined || (known.has(before) && !known.has(longer))) found.set(way, longer)
        }
        next.push({ text: longer, states: moved })
      }
    }
    layer = next
  }
  let complete = seen.size <= maxStates
  for (const [way, text] of found) {
    if (!known.has(text)) continue
    const other = variation(text, alphabet, (candidate) => !known.has(candidate) && wayOf(candidate) === way)
    if (other === null) complete = false
    else found.set(way, other)
  }
  return { texts: [...found.values()], complete }
}

/** A text for each pattern by itself. */
const samples = (patterns: readonly string[]): string[] =>
  patterns.map((pattern) => foldText(pattern.replaceAll('*', '').replaceAll('?', 'x'))).filter(Boolean)

/** The letters of the patterns, and one that stands in none. */
function alphabetOf(patterns: readonly string[]): string[] {
  const letters = new Set(
    patterns.flatMap((pattern) => [...pattern].filter((letter) => letter !== '*' && letter !== '?')),
  )
  const other = [...'xyzwqvkjabcdefghilmnoprstu0123456789'].find((letter) => !letters.has(letter))
  return [...letters, ...(other ? [other] : [])]
}

/** A text that differs in a letter put in somewhere. */
function variation(text: string, alphabet: readonly string[], fits: (candidate: string) => boolean): string | null {
  for (let at = text.length; at >= 0; at--)
    for (const letter of [...alphabet].reverse()) {
      const candidate = text.slice(0, at) + letter + text.slice(at)
      if (candidate === foldText(candidate) && fits(candidate)) return candidate
    }
  return null
}

const keyOf = (states: readonly ReadonlySet<number>[], blank: boolean): string =>
  states.map((set) => [...set].sort((a, b) => a - b).join(',')).join('|') + (blank ? ' ' : '')

/** Places of a pattern that are reached without a letter: past a star. */
function spread(pattern: readonly string[], from: ReadonlySet<number>): ReadonlySet<number> {
  const out = new Set(from)
  for (const place of out) if (pattern[place] === '*') out.add(place + 1)
  return out
}

function step(pattern: readonly string[], from: ReadonlySet<number>, letter: string): ReadonlySet<number> {
  const out = new Set<number>()
  for (const place of from) {
    const wanted = pattern[place]
    if (wanted === '*') out.add(place)
    else if (wanted === '?' || wanted === letter) out.add(place + 1)
  }
  return spread(pattern, out)
}
