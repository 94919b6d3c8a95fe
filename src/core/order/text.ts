// Words of printable ASCII with single blanks between them: most texts are, and need no work.
const cleanAlready = /^(?:[\x21-\x7e]+(?: [\x21-\x7e]+)*)?$/

/** Text as it is kept: NFKC, outer blanks cut, runs of blanks as one, no control characters. */
export function cleanText(text: string): string {
  if (cleanAlready.test(text)) return text
  return text
    .normalize('NFKC')
    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f\u200b\u2028\u2029\ufeff]/g, '')
    .replace(/\s+/g, ' ')
    .trim()
}

/**
 * Text as rules compare it: clean, and without regard to case. The Greek final sigma is a sigma, wherever a word ends.
 */
export function foldText(text: string): string {
  const folded = cleanText(text).toLowerCase()
  return folded.includes('ς') ? folded.replaceAll('ς', 'σ') : folded
}

/** Whether a text says nothing: it is empty, or blank. */
export function isBlank(text: string): boolean {
  const first = text.charCodeAt(0)
  return text === '' || ((first <= 32 || first > 126) && cleanText(text) === '')
}

/** A text without some signs at both its ends. */
export function trimSigns(text: string, signs: string): string {
  let [from, to] = [0, text.length]
  while (from < to && signs.includes(text[from]!)) from++
  while (to > from && signs.includes(text[to - 1]!)) to--
  return text.slice(from, to)
}

/**
 * A postcode as prefixes, ranges and lists compare it: upper case, without blanks and hyphens. `bt1 1aa` is `BT11AA`.
 */
export function postcodeKey(postcode: string): string {
  return /^[A-Z0-9]*$/.test(postcode) ? postcode : postcode.normalize('NFKC').toUpperCase().replace(/[\s-]/g, '')
}

/** Cuts to `length` UTF-16 units without splitting a surrogate pair. */
export function cutText(text: string, length: number): string {
  if (text.length <= length) return text
  const cut = text.slice(0, length)
  return /[\ud800-\udbff]$/.test(cut) ? cut.slice(0, -1) : cut
}

/** A value of any kind as text for people: objects as JSON, nothing as empty. */
export function plainText(value: unknown): string {
  if (typeof value === 'string') return value
  if (value === undefined || value === null) return ''
  return JSON.stringify(value)
}
