import { foldText } from '@/core/order'

// The words for a post-office box as postal operators print them: English, German, Dutch, French, Polish,
// Spanish, Portuguese, Italian, and the Nordic languages.
const boxWords = ['p\\.? ?o\\.? ?box', 'post office box', 'postfach', 'postbus', 'bo[iî]te postale', 'b\\.? ?p\\.? ?\\d+', 'skrytka(?: pocztowa)?', 'skr\\. ?poczt', 'apartado(?: postal)?', 'casella postale', 'postboks', 'postbox', 'poste restante']
const boxes = new RegExp(`(?:^|[^\\p{L}\\d])(?:${boxWords.join('|')})`, 'u')

/** Whether any line of the address names a post-office box. */
export function isPostOfficeBox(lines: readonly string[]): boolean {
  return lines.some((line) => boxes.test(foldText(line)))
}
