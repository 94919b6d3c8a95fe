/**
 * What somebody wrote who answered a mail: without the letter that is quoted under it. Line by line, so that no text
 * takes long.
 * @example answerText('Kouter 1, Gent\n\nOn Monday you wrote:\n> Which address?') // 'Kouter 1, Gent'
 */
export function answerText(mail: string): string {
  const lines = mail.slice(0, longest).replace(/\r\n?/g, '\n').split('\n')
  const quoted = lines.findIndex((line, i) => isQuote(line) || isOriginal(line) || isAttribution(lines, i))
  const own = quoted === -1 ? lines : lines.slice(0, quoted)
  // Who answers beneath the quotation has nothing above it.
  const text = own.join('\n').trim()
  return text === ''
    ? lines
        .filter((line, i) => !isQuote(line) && !isAttribution(lines, i))
        .join('\n')
        .trim()
    : text
}

const longest = 20_000

const isQuote = (line: string): boolean => line.startsWith('>')
/** As some mail programs begin what was written before: a row of hyphens or underscores with or without words. */
const isOriginal = (line: string): boolean => /^(?:-{4,}|_{8,})/.test(line.trim())
/**
 * "On Monday … wrote:", in any language: the last line before a quotation ends with a colon; it may be broken in two.
 */
const isAttribution = (lines: readonly string[], i: number): boolean => {
  const next = (from: number): number => {
    let at = from + 1
    while (at < lines.length && lines[at]!.trim() === '') at++
    return at < lines.length ? at : -1
  }
  const after = next(i)
  if (lines[i]!.trim() === '' || after === -1) return false
  if (lines[i]!.trim().endsWith(':')) return isQuote(lines[after]!)
  const then = next(after)
  return lines[after]!.trim().endsWith(':') && after === i + 1 && then !== -1 && isQuote(lines[then]!)
}
