/*
 * What is chained cannot be taken out again: so nothing secret, and nothing of a buyer, gets into the audit in the
 * first place.
 */
const personal =
  /^(?:name|company|lines?|street|city|region|postcode|e?mail|email|phone|address|addresses|shipTo|recipient|buyer|to|text|texts|words|answer|reply|q|contact|block|customer|whom|given|person)$/i
const secret = /secret|password|token|key$|credential|authorization|cookie|code$|signature/i
const longest = 120
const mostEntries = 50
const deepest = 6

/** A body as the audit may keep it: `…` for what is secret or personal, and long lists and texts by their length. */
export function plainForAudit(value: unknown, depth = 0): unknown {
  if (typeof value === 'string')
    return value.length > longest
      ? `… (${value.length} characters)`
      : value.replace(/[^\s@]{1,64}@[^\s@]{1,190}/g, '…@…')
  if (typeof value !== 'object' || value === null) return value
  if (depth >= deepest) return '…'
  if (Array.isArray(value)) {
    const list = value.slice(0, mostEntries).map((entry) => plainForAudit(entry, depth + 1))
    return value.length > mostEntries ? [...list, `… (${value.length} in all)`] : list
  }
  return Object.fromEntries(
    Object.entries(value)
      .slice(0, mostEntries)
      .map(([name, entry]) => [name, personal.test(name) || secret.test(name) ? '…' : plainForAudit(entry, depth + 1)]),
  )
}
