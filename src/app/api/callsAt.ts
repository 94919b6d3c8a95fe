import type { Calls } from './calls'
import { calls } from './table'

interface Node {
  readonly named: Map<string, Node>
  /** What stands for any text, and how it is called. */
  any: { readonly name: string; readonly node: Node } | null
  calls: Calls | null
  /** Its address, as the table of endpoints writes it. */
  address: string
}
const fresh = (): Node => ({ named: new Map(), any: null, calls: null, address: '' })

const root = fresh()
for (const [folder, own] of Object.entries(calls)) {
  let node = root
  for (const part of folder.split('/')) {
    const name = /^\[(\w+)\]$/.exec(part)?.[1]
    if (name === undefined) {
      const next = node.named.get(part) ?? fresh()
      node.named.set(part, next)
      node = next
    } else {
      node.any ??= { name, node: fresh() }
      node = node.any.node
    }
  }
  node.calls = own
  node.address = `/api/${folder.replace(/\[(\w+)\]/g, ':$1')}`
}

/**
 * The calls of an address, with what stands in it for any text; undefined when nothing is answered there. A name goes
 * before any text.
 */
export function callsAt(
  path: readonly string[],
): { readonly calls: Calls; readonly address: string; readonly params: Readonly<Record<string, string>> } | undefined {
  const params: Record<string, string> = {}
  let node = root
  for (const part of path) {
    const named = node.named.get(part)
    if (named) node = named
    else if (node.any) {
      params[node.any.name] = part
      node = node.any.node
    } else return undefined
  }
  return node.calls ? { calls: node.calls, address: node.address, params } : undefined
}
