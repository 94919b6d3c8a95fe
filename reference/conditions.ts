import type { Item, Order } from '@/core/order'
import type { Rulebook } from '@/core/rulebook/language'
import { atHome } from './plain'
import { known, type Means, passes, type Test, timePasses, type Value } from './passes'

/* Whether the conditions of a rule hold: all, any or none of several, tests of items, sums, and saved conditions. */

export type Tree =
  | { readonly all: readonly Tree[] }
  | { readonly any: readonly Tree[] }
  | { readonly none: readonly Tree[] }
  | { readonly items: string; readonly where: Tree }
  | { readonly sum: string; readonly where: Tree; readonly op: string; readonly value: unknown }
  | { readonly saved: string }
  | Test

interface Asked {
  readonly order: Order
  readonly rulebook: Rulebook
  readonly means: Means
  readonly factOf: (id: string) => Fact
}
/** What is known of a fact, and how it is told. */
export type Fact = readonly [kind: 'text' | 'postcode' | 'number' | 'tags' | 'yes/no' | 'time', value: Value]

/** Whether conditions hold of an order, whose facts are read by `factOf`. */
export function holds(tree: Tree, of: Asked): boolean {
  const { order, rulebook, means } = of
  if ('saved' in tree) {
    const saved = rulebook.conditions?.find(({ id }) => id === tree.saved)
    return saved !== undefined && holds(saved.when, of)
  }
  if ('all' in tree) return tree.all.every((member) => holds(member, of))
  if ('any' in tree) return tree.any.some((member) => holds(member, of))
  if ('none' in tree) return !tree.none.some((member) => holds(member, of))
  if ('items' in tree) {
    const hits = order.items.filter((item) => itemHolds(tree.where, item, means)).length
    if (tree.items === 'any') return hits > 0
    return tree.items === 'no' ? hits === 0 : hits > 0 && hits === order.items.length
  }
  if ('sum' in tree)
    return passes({ fact: '', op: tree.op, value: tree.value }, sumOf(tree, order, means), 'number', means)
  const [kind, value] = of.factOf(tree.fact)
  return kind === 'time' ? timePasses(tree, value as number | undefined, means) : passes(tree, value, kind, means)
}

/** What the items come to that a sum is about; undefined where one of them is not known. */
function sumOf(
  { sum, where }: { readonly sum: string; readonly where: Tree },
  order: Order,
  means: Means,
): number | undefined {
  let total: number | undefined = 0
  for (const item of order.items) {
    if (!itemHolds(where, item, means) || total === undefined) continue
    const part = partOf(sum, item, means)
    total = part === undefined ? undefined : total + part
  }
  return total
}

function partOf(sum: string, item: Item, { rates }: Means): number | undefined {
  if (sum === 'lines') return 1
  if (sum === 'quantity') return item.quantity
  if (sum === 'weight') return item.unitWeight === null ? undefined : item.unitWeight * item.quantity
  const price = atHome(item.unitPrice, rates)
  return price === null ? undefined : price * item.quantity
}

function itemHolds(tree: Tree, item: Item, means: Means): boolean {
  const is = (value: Value, kind: string): boolean => passes(tree as Test, value, kind, means)
  const { rates } = means
  if ('all' in tree) return tree.all.every((member) => itemHolds(member, item, means))
  if ('any' in tree) return tree.any.some((member) => itemHolds(member, item, means))
  if ('none' in tree) return !tree.none.some((member) => itemHolds(member, item, means))
  if (!('fact' in tree)) return false
  switch (tree.fact) {
    case 'sku':
      return is(known(item.sku), 'text')
    case 'title':
      return is(known(item.title), 'text')
    case 'item tags':
      return is(item.tags, 'tags')
    case 'item quantity':
      return is(item.quantity, 'number')
    case 'unit weight':
      return is(item.unitWeight ?? undefined, 'number')
    case 'unit price':
      return is(atHome(item.unitPrice, rates) ?? undefined, 'number')
    case 'dangerous goods':
      return is(known(item.dangerousGoods), 'text')
    case 'handling':
      return is(item.handling ?? [], 'tags')
    case 'hs code':
      return is(known(item.hsCode), 'text')
    case 'item origin':
      return is(known(item.origin), 'text')
    default:
      return is(item.size ? Math.max(...item.size) : undefined, 'number')
  }
}
