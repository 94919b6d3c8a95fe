/**
 * A carrier's tracking number without what people and spreadsheets put into it (blanks, dashes); null when nothing
 * sensible is left. Channels refuse a number with a blank in it, hours later.
 */
export function cleanTrackingNumber(text: string): string | null {
  const number = text.normalize('NFKC').replace(/[\s-]/g, '').toUpperCase()
  return /^[A-Z0-9]{6,40}$/.test(number) ? number : null
}
