import { foldText } from '@/core/order'

// The words for a post-office box as postal operators print them: English, German, Dutch, French, Polish,
// Spanish, Portuguese, Italian, and the Nordic languages.
const boxWords = [
  /\bp\.? ?o\.? ?box\b/, /\bpost office box\b/, /\bpostfach\b/, /\bpostbus\b/, /\bboite postale\b/, /\bbo[iî]te postale\b/, /\bb\.? ?p\.? ?\d+/,
  /\bskrytka( pocztowa)?\b/, /\bskr\. ?poczt/, /\bapartado( de correos)?\b/, /\bcasella postale\b/, /\bpostboks\b/, /\bpostbox\b/, /\bposte restante\b/,
]

/** Whether any line of the address names a post-office box. */
export function isPostOfficeBox(lines: readonly string[]): boolean {
  return lines.some((line) => {
    const folded = foldText(line)
    return boxWords.some((word) => word.test(folded))
  })
}
