/**
 * The code of a tote: what opens its order at the bench.
 * @example toteCode(12, 3) // 'T12-3'
 */
export const toteCode = (batch: number, tote: number): string => `T${batch}-${tote}`

/** Which tote of which batch a code names; null when it is no tote's. */
export function readTote(code: string): { readonly batch: number; readonly tote: number } | null {
  const found = /^T(\d{1,9})-(\d{1,5})$/i.exec(code)
  return found && { batch: Number(found[1]), tote: Number(found[2]) }
}
