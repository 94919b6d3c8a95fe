import { grams, millimetres, type Grams, type Millimetres } from './brands'

// Exact by definition: the international pound is 453.59237 g, the inch 25.4 mm (1959 yard and pound agreement).
const gramsPer: Record<string, number> = { g: 1, kg: 1000, lb: 453.59237, lbs: 453.59237, oz: 28.349523125, t: 1_000_000 }
const millimetresPer: Record<string, number> = { mm: 1, cm: 10, m: 1000, in: 25.4, ft: 304.8 }

/** The small step back keeps 0.1 kg from becoming 101 g by floating-point dust; and there is no nought below nought. */
const roundedUp = (value: number): number => Math.ceil(value - 1e-6) + 0

/** Weight to whole grams, rounded up, so that nothing is declared too light. Null for an unknown unit or no number. */
export function toGrams(value: number, unit: string): Grams | null {
  const per = gramsPer[unit.trim().toLowerCase()]
  return per === undefined || !Number.isFinite(value) ? null : grams(roundedUp(value * per))
}

/** Length to whole millimetres, rounded up. Null for an unknown unit or no number. */
export function toMillimetres(value: number, unit: string): Millimetres | null {
  const per = millimetresPer[unit.trim().toLowerCase()]
  return per === undefined || !Number.isFinite(value) ? null : millimetres(roundedUp(value * per))
}

/** Reads `2.5 kg`, `750g`, `1,2 kg`; a bare number takes `fallbackUnit`. Null when it is no weight. */
export function parseWeight(text: string, fallbackUnit = 'g'): Grams | null {
  const match = /^(-?\d+(?:[.,]\d+)?)\s*([a-z]+)?$/i.exec(text.normalize('NFKC').trim())
  return match ? toGrams(Number(match[1]!.replace(',', '.')), match[2] ?? fallbackUnit) : null
}

/** Reads `30 cm`, `300 mm`, `12in`; a bare number takes `fallbackUnit`. Null when it is no length. */
export function parseLength(text: string, fallbackUnit = 'mm'): Millimetres | null {
  const match = /^(-?\d+(?:[.,]\d+)?)\s*([a-z]+)?$/i.exec(text.normalize('NFKC').trim())
  return match ? toMillimetres(Number(match[1]!.replace(',', '.')), match[2] ?? fallbackUnit) : null
}

/** `850 g` below a kilogram, `2.35 kg` from there on. */
export function formatWeight(weight: number): string {
  return Math.abs(weight) < 1000 ? `${weight} g` : `${grouped(weight / 1000, 3)} kg`
}

/** `8 mm` below a centimetre, else `42.5 cm`. */
export function formatLength(length: number): string {
  return Math.abs(length) < 10 ? `${length} mm` : `${grouped(length / 10, 1)} cm`
}

/** At most `digits` decimals, thousands in groups; by hand, as Intl is too slow for reasons that are written for every order. */
function grouped(value: number, digits: number): string {
  const [whole, fraction = ''] = value.toFixed(digits).split('.')
  const decimals = fraction.replace(/0+$/, '')
  return whole!.replace(/\B(?=(\d{3})+$)/g, ',') + (decimals === '' ? '' : `.${decimals}`)
}
