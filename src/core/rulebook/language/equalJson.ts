/** Whether two values that JSON could say are the same; in which order an object names its parts does not count. */
export function equalJson(a: unknown, b: unknown): boolean {
  if (Object.is(a, b)) return true
  if (
    typeof a !== 'object' ||
    typeof b !== 'object' ||
    a === null ||
    b === null ||
    Array.isArray(a) !== Array.isArray(b)
  )
    return false
  const [own, other] = [a as Readonly<Record<string, unknown>>, b as Readonly<Record<string, unknown>>]
  const said = (of: Readonly<Record<string, unknown>>): string[] =>
    Object.keys(of).filter((key) => of[key] !== undefined)
  const keys = said(own)
  return keys.length === said(other).length && keys.every((key) => equalJson(own[key], other[key]))
}
