import { foldText } from '@/core/order'

// The words for a post-office box as postal operators print them: English, German, Dutch, French, Polish,
// Spanish, Portuguese, Italian, and the Nordic languages.
const boxWords = [
  'p\\.? ?o\\.? ?box',
  'post office box',
  'postfach',
  'postbus',
  'bo[iî]te postale',
  'b\\.? ?p\\.? ?\\d+',
  'skrytka(?: pocztowa)?',
  'skr\\. ?poczt',
  'apartado(?: postal)?',
  'casella postale',
  'postboks',
  'postbox',
  'poste restante',
]
const boxes = new RegExp(`(?:^|[^\\p{L}\\d])(?:${boxWords.join('|')})`, 'u')

// Words for lockers as those who run them write them into addresses, in the same languages; a number stands behind
// them.
const lockerWords = [
  'packstation',
  'paczkomat',
  'parcel locker',
  'pakketautomaat',
  'pakjesautomaat',
  'automat(?: paczkowy)?',
  'consigne(?: automatique)?',
  'taquilla',
  'locker',
  'pakkeboks',
  'paketbox',
  'paketautomat',
  'armadietto',
]
const lockers = new RegExp(
  `(?:^|[^\\p{L}\\d])(?:${lockerWords.join('|')})(?:[^\\p{L}]|$)[^\\p{L}]*[\\p{L}]{0,4}\\d`,
  'u',
)

/** Whether any line of the address names a parcel locker. */
export function isParcelLocker(lines: readonly string[]): boolean {
  return lines.some((line) => lockers.test(foldText(line)))
}

/** Whether any line of the address names a post-office box. */
export function isPostOfficeBox(lines: readonly string[]): boolean {
  return lines.some((line) => boxes.test(foldText(line)))
}
