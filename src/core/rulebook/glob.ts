/**
 * A matcher for a pattern with `*` (any run of characters, also none) and `?` (one character) over folded text.
 * Each segment between stars is searched once, from where the last one ended; a pattern that is longer than the text
 * is refused at once. So no pattern can make it backtrack.
 *
 *     glob('exp*day')('exp. 2-day') // true
 */
export function glob(pattern: string): (text: string) => boolean {
  const parts = pattern.replace(/\*+/g, '*').split('*')
  const least = parts.reduce((sum, part) => sum + part.length, 0)
  const first = parts[0]!
  const last = parts[parts.length - 1]!
  if (parts.length === 1) return (text) => text.length === first.length && segmentAt(text, first, 0)
  const middle = parts.slice(1, -1).filter(Boolean)
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

function findSegment(text: string, segment: string, from: number): number {
  if (!segment.includes('?')) return text.indexOf(segment, from)
  for (let at = from; at + segment.length <= text.length; at++) if (segmentAt(text, segment, at)) return at
  return -1
}

function segmentAt(text: string, segment: string, at: number): boolean {
  for (let i = 0; i < segment.length; i++) if (segment[i] !== '?' && segment[i] !== text[at + i]) return false
  return true
}
