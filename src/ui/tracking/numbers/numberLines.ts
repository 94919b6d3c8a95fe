import type { NumberLine } from '@/usecases/tracking/manyNumbers'

const separators = ['\t', ';', ',', '|'] as const

/**
 * Reads a pasted list or a file: an order, its tracking number, and its carrier where it is said, on each line; cells
 * with tabs, semicolons or commas between. A first line of names is left out.
 */
export function numberLines(text: string): readonly NumberLine[] {
  const lines = text
    .replace(/^\uFEFF/, '')
    .split(/\r?\n/)
    .filter((line) => line.trim() !== '')
  const first = lines[0] ?? ''
  const separator = separators.find((sign) => first.includes(sign)) ?? ' '
  const rows = lines.map((line) => line.split(separator).map((cell) => cell.trim().replace(/^["']|["']$/g, '')))
  const named = rows[0]?.some((cell) => /^(order|number|tracking)/i.test(cell) && !/\d/.test(cell)) ?? false
  return (named ? rows.slice(1) : rows).map(([order = '', number = '', carrier = '']) => ({ order, number, carrier }))
}
