// Words of printable ASCII with single blanks between them: most texts are, and need no work.
const cleanAlready = /^[\x21-\x7e]*(?: [\x21-\x7e]+)*$/

/** Text as it is kept: NFKC, outer blanks cut, runs of blanks as one, no control characters. */
export function cleanText(text: string): string {
  if (cleanAlready.test(text)) return text
  return text
    .normalize('NFKC')
    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f\u200b\u2028\u2029\ufeff]/g, '')
    .replace(/\s+/g, ' ')
    .trim()
}

/** Text as rules compare it: clean, and without regard to case. */
export function foldText(text: string): string {
  return cleanText(text).toLowerCase()
}

/** Cuts to `length` UTF-16 units without splitting a surrogate pair. */
export function cutText(text: string, length: number): string {
  if (text.length <= length) return text
  const cut = text.slice(0, length)
  return /[\ud800-\udbff]$/.test(cut) ? cut.slice(0, -1) : cut
}
