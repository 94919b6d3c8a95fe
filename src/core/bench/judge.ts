import { foldText } from '@/core/order'
import { readCode } from './readCode'

/** An item of a parcel, as the bench checks it. */
export interface BenchLine {
  readonly sku: string
  readonly title: string
  readonly quantity: number
  /** Its GTINs with 14 digits. */
  readonly gtins: readonly string[]
}

/** A parcel that is being packed. */
export interface BenchParcel {
  readonly lines: readonly BenchLine[]
  /** Codes that name this parcel: the order's number, its tracking number. */
  readonly own: readonly string[]
}

/** What a scan means for the parcel that is open. */
export type Verdict =
  | { readonly verdict: 'right'; readonly line: number; readonly pieces: number }
  /** It belongs there, but so many are in it already. */
  | { readonly verdict: 'surplus'; readonly line: number }
  | { readonly verdict: 'wrong'; readonly code: string }
  /** The parcel's own slip or label: it changes nothing. */
  | { readonly verdict: 'own' }
  | { readonly verdict: 'unreadable'; readonly why: string }

/**
 * Whether a scanned code is right for a parcel. The same on the screen and on the server: the packer hears at once.
 * @param counted how many of each line are in the parcel so far
 * @param typed a quantity that was typed before the scan; null for one, or for what the code says
 */
export function judgeScan(
  { lines, own }: BenchParcel,
  counted: readonly number[],
  scanned: string,
  typed: number | null = null,
): Verdict {
  const code = readCode(scanned)
  if (code.kind === 'unreadable') return { verdict: 'unreadable', why: code.why }
  const plain = foldText(scanned.trim())
  const fits = ({ sku, gtins }: BenchLine): boolean =>
    foldText(sku) === plain || (code.kind === 'item' && gtins.includes(code.gtin))
  const pieces = typed ?? (code.kind === 'item' ? code.pieces : 1)
  const found = lines.flatMap((line, i) => (fits(line) ? [i] : []))
  const open = found.find((i) => (counted[i] ?? 0) + pieces <= lines[i]!.quantity)
  if (open !== undefined) return { verdict: 'right', line: open, pieces }
  if (found[0] !== undefined) return { verdict: 'surplus', line: found[0] }
  const names = code.kind === 'unit' ? [code.sscc, `00${code.sscc}`] : [plain]
  return own.some((name) => names.includes(foldText(name)))
    ? { verdict: 'own' }
    : { verdict: 'wrong', code: scanned.trim() }
}

/** Whether all that belongs in a parcel is in it. */
export const isComplete = ({ lines }: Pick<BenchParcel, 'lines'>, counted: readonly number[]): boolean =>
  lines.every(({ quantity }, i) => (counted[i] ?? 0) === quantity)

/** How far a scale may show otherwise than was computed, grams: 4 %, and at least 15 g (a filling, a label, tape). */
export const weightTolerance = (computed: number): number => Math.max(15, Math.round(computed * 0.04))

/** Whether a measured weight is near enough to what was computed; both in grams. */
export const isNear = (measured: number, computed: number): boolean =>
  Math.abs(measured - computed) <= weightTolerance(computed)
