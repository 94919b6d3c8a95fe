/**
 * A matcher for a pattern with `*` (any run of characters, also none) and `?` (one character, that is one code point of
 * Unicode, never half of one) over folded text. Each segment between stars is searched once, from where the last one
 * ended; a pattern that is longer than the text is refused at once. So no pattern can make it backtrack.
 *
 *     glob('exp*day')('exp. 2-day') // true
 */
export function glob(pattern: string): (text: string) => boolean {
  const plain = matcher<string>(pattern.replace(/\*+/g, '*').split('*'))
  if (!pattern.includes('?')) return plain
  // Characters beyond the basic plane are two units of a text each; then code points are compared, and not units.
  const whole = matcher<readonly string[]>(
    pattern
      .replace(/\*+/g, '*')
      .split('*')
      .map((part) => Array.from(part)),
  )
  return (text) => (beyond.test(text) ? whole(Array.from(text)) : plain(text))
}

const beyond = /[\ud800-\udfff]/

/** Texts by their units, or as lists of code points. */
type Letters = string | readonly string[]

function matcher<T extends Letters>(parts: readonly T[]): (text: T) => boolean {
  const least = parts.reduce((sum, part) => sum + part.length, 0)
  const first = parts[0]!
  const last = parts[parts.length - 1]!
  if (parts.length === 1) return (text) => text.length === first.length && segmentAt(text, first, 0)
  const middle = parts.slice(1, -1).filter((part) => part.length > 0)
  return (text) => {
    if (text.length < least || !segmentAt(text, first, 0)) return false
    let at = first.length
    const end = text.length - last.length
    for (const segment of middle) {
      const found = findSegment(text, segment, at)
      if (found < 0) return false
      at = found + segment.length
    }
    return at <= end && segmentAt(text, last, end)
  }
}

function findSegment(text: Letters, segment: Letters, from: number): number {
  if (typeof text === 'string' && typeof segment === 'string' && !segment.includes('?'))
    return text.indexOf(segment, from)
  for (let at = from; at + segment.length <= text.length; at++) if (segmentAt(text, segment, at)) return at
  return -1
}

function segmentAt(text: Letters, segment: Letters, at: number): boolean {
  for (let i = 0; i < segment.length; i++) if (segment[i] !== '?' && segment[i] !== text[at + i]) return false
  return true
}
