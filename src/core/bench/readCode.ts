import { parseBarcode } from 'gs1-barcode-parser-mod'
import { cleanText, hasCheckDigit, isGtin } from '@/core/order'
import { cleanTrackingNumber } from '@/core/tracking'

/** What a scanned code says. */
export type Code =
  /** A trade item: its GTIN with 14 digits, and how many pieces the code stands for. */
  | { readonly kind: 'item'; readonly gtin: string; readonly pieces: number }
  /** A logistic unit: 18 digits. */
  | { readonly kind: 'unit'; readonly sscc: string }
  | { readonly kind: 'text'; readonly text: string }
  /** Nothing that a bench can mean; why, in a sentence. */
  | { readonly kind: 'unreadable'; readonly why: string }

const longest = 200
const separator = '\u001d'

/**
 * Reads what a scanner sent: a GTIN-8, -12, -13 or -14 with a right check digit, a GS1 element string (with its
 * symbology identifier, with brackets, or bare from `01`; package `gs1-barcode-parser-mod`), an SSCC behind `00`, or
 * any other text.
 * @example readCode('(01)09506000134352(37)05') // { kind: 'item', gtin: '09506000134352', pieces: 5 }
 */
export function readCode(scanned: string): Code {
  if (scanned.length > longest)
    return {
      kind: 'unreadable',
      why: `This code has ${scanned.length} characters: it is none of a slip, a label or an item.`,
    }
  const bare = scanned.trim()
  if (/^[a-z][a-z0-9+.-]{1,20}:\/\//i.test(bare))
    return {
      kind: 'unreadable',
      why: 'This code is a link to a page: scan the code of the slip, the label or the item.',
    }
  const elements = elementsIn(bare)
  if (elements) return elements
  const text = cleanText(bare)
  if (text === '') return { kind: 'unreadable', why: 'Nothing was read: scan it again.' }
  return isGtin(text) ? { kind: 'item', gtin: text.padStart(14, '0'), pieces: 1 } : { kind: 'text', text }
}

// An identifier of the symbology (ISO/IEC 15424), brackets, a separator, or 01 and a right GTIN: else digits are
// digits.
const isElementString = (text: string): boolean =>
  /^\](?:C1|e0|d2|Q3|J1)/.test(text) ||
  /^\(\d{2,4}\)/.test(text) ||
  text.includes(separator) ||
  (/^01\d{14}/.test(text) && hasCheckDigit(text.slice(2, 16))) ||
  (/^00\d{18}$/.test(text) && hasCheckDigit(text.slice(2)))

function elementsIn(text: string): Code | null {
  if (!isElementString(text)) return null
  // As in a code itself: each element but the first begins behind a separator.
  const raw = text.replace(/\((\d{2,4})\)/g, (_, ai: string, at: number) => (at === 0 ? ai : separator + ai))
  let found: ReadonlyMap<string, string>
  try {
    found = new Map(parseBarcode(raw).parsedCodeItems.map(({ ai, raw: value }) => [ai, value]))
  } catch {
    return { kind: 'unreadable', why: 'This code is damaged, or not whole: scan it again, or type the SKU.' }
  }
  const sscc = found.get('00')
  if (sscc) return { kind: 'unit', sscc }
  // 02 with 37 is what a carton holds; 01 with 30 a number of pieces (GS1 General Specifications, 3.3).
  const gtin = found.get('01') ?? found.get('02')
  if (!gtin || !isGtin(gtin)) return { kind: 'unreadable', why: 'This code names no item that could be known.' }
  const pieces = Number(found.get('37') ?? found.get('30') ?? 1)
  return { kind: 'item', gtin, pieces: Number.isInteger(pieces) && pieces > 0 && pieces < 100_000 ? pieces : 1 }
}

/**
 * The ways in which the number of a parcel may be kept that was scanned so: with or without blanks, an SSCC with or
 * without its `00`.
 */
export function parcelNumbers(code: Code, scanned: string): readonly string[] {
  if (code.kind === 'unit') return [code.sscc, `00${code.sscc}`]
  const plain = scanned.trim()
  return [...new Set([plain, cleanTrackingNumber(plain) ?? plain])]
}
