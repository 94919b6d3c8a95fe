import { dayText, localTime } from '@/core/calendar'
import { type Item, type Order, foldText } from '@/core/order'
import {
  factById,
  type FactValue,
  isTextual,
  itemSums,
  expandSaved,
  type Condition,
  isItemSum,
  isItemTest,
  isTest,
  type ItemTest,
  membersOf,
  type Rule,
  type Rulebook,
  type Test,
  momentTest,
} from '@/core/rulebook/language'
import { itemPredicate, itemSumOf, compileTest, type Names } from '@/core/rulebook/compile'
import { codeColumn, type Column } from './factColumns'
import type { Rates } from '@/core/units'

/*
 * Counting, over a great many orders and as fast as one types, which of them a rule matches: facts are columns, a
 * condition is a mask over all orders.
 */

/** Facts of many orders by column. Item lists are coded whole: the same baskets come again and again. */
export interface OrderColumns {
  readonly count: number
  readonly columns: ReadonlyMap<string, Column>
  readonly baskets: Baskets
  /** Milliseconds since 1970, UTC, and the zone, by which times are told. */
  readonly now: number
  readonly zone: string
}

/**
 * Which items orders have: a code for each order, the list of items behind a code, and the distinct items behind their
 * numbers.
 */
export interface Baskets {
  readonly codes: Uint32Array
  readonly lists: readonly (readonly number[])[]
  readonly items: readonly Item[]
}

function codeBaskets(count: number, itemsOf: (order: number) => Order['items']): Baskets {
  const codes = new Uint32Array(count)
  const lists: number[][] = []
  const items: Item[] = []
  const knownItems = new Map<string, number>()
  const knownLists = new Map<string, number>()
  for (let i = 0; i < count; i++) {
    const list = itemsOf(i).map((item) => {
      const key = JSON.stringify({ ...item, line: '' })
      const before = knownItems.get(key)
      if (before !== undefined) return before
      knownItems.set(key, items.length)
      return items.push(item) - 1
    })
    const key = list.join()
    let code = knownLists.get(key)
    if (code === undefined) knownLists.set(key, (code = lists.push(list) - 1))
    codes[i] = code
  }
  return { codes, lists, items }
}

/** Codes the facts of many orders; `read` gives the value of a fact for one of them. */
export function orderColumns(
  count: number,
  factIds: readonly string[],
  read: (order: number, fact: string) => FactValue,
  itemsOf: (order: number) => Order['items'],
  now: number,
  zone: string,
): OrderColumns {
  return {
    count,
    now,
    zone,
    baskets: codeBaskets(count, itemsOf),
    columns: new Map(factIds.map((fact) => [fact, codeColumn(count, (i) => read(i, fact))])),
  }
}

/** A byte for each order: 1 when the rule matches it, dates included. A fact without a column counts as missing. */
export function matchesOf(
  rule: Pick<Rule, 'when' | 'from' | 'until'>,
  rulebook: Pick<Rulebook, 'groups' | 'conditions'>,
  orders: OrderColumns,
  rates: Rates,
): Uint8Array {
  const today = dayText(localTime(orders.now, orders.zone).day)
  if ((rule.from && today < rule.from) || (rule.until && today > rule.until)) return new Uint8Array(orders.count)
  const names: Names = { groups: new Map(rulebook.groups.map((group) => [group.id, group])), rates }
  const saved = new Map((rulebook.conditions ?? []).map((condition) => [condition.id, condition.when]))
  return maskOf(expandSaved(rule.when, saved), orders, names)
}

/** How many of them are 1. */
export function countOf(mask: Uint8Array): number {
  let count = 0
  for (let i = 0; i < mask.length; i++) count += mask[i]!
  return count
}

/** How an edit moves a rule's matches: those that are new, and those that are gone. */
export function movedMatches(
  before: Uint8Array,
  after: Uint8Array,
): { readonly gained: number; readonly lost: number } {
  let gained = 0
  let lost = 0
  for (let i = 0; i < after.length; i++) {
    gained += after[i]! & ~before[i]!
    lost += before[i]! & ~after[i]!
  }
  return { gained, lost }
}

function maskOf(
  condition: Condition,
  orders: OrderColumns,
  names: Names,
  known = new Map<Condition, Uint8Array>(),
): Uint8Array {
  let mask = known.get(condition)
  if (!mask) known.set(condition, (mask = newMask(condition, orders, names, known)))
  return mask
}

function newMask(
  condition: Condition,
  orders: OrderColumns,
  names: Names,
  known: Map<Condition, Uint8Array>,
): Uint8Array {
  if (isItemTest(condition) || isItemSum(condition))
    return gather(orders.baskets.codes, basketAnswers(condition, orders.baskets, names))
  if (isTest(condition)) return testMask(condition, orders, names)
  const masks = membersOf(condition).map((member) => maskOf(member, orders, names, known))
  if ('all' in condition)
    return combined(masks, orders.count, 1, (out, mask) => {
      for (let i = 0; i < out.length; i++) out[i]! &= mask[i]!
    })
  const any = combined(masks, orders.count, 0, (out, mask) => {
    for (let i = 0; i < out.length; i++) out[i]! |= mask[i]!
  })
  if ('none' in condition) for (let i = 0; i < any.length; i++) any[i]! ^= 1
  return any
}

function combined(
  masks: readonly Uint8Array[],
  count: number,
  start: 0 | 1,
  join: (out: Uint8Array, mask: Uint8Array) => void,
): Uint8Array {
  const out = new Uint8Array(count).fill(start)
  for (const mask of masks) join(out, mask)
  return out
}

function testMask(test: Test, orders: OrderColumns, names: Names): Uint8Array {
  const fact = factById.get(test.fact)
  if (!fact) return new Uint8Array(orders.count)
  const column = orders.columns.get(test.fact) ?? { codes: new Uint32Array(orders.count), values: [undefined] }
  if (fact.type === 'time') {
    const passes = momentTest(test)
    return gather(
      column.codes,
      column.values.map((value) =>
        passes(value as number | undefined, () => localTime(value as number, orders.zone), orders.now),
      ),
    )
  }
  const passes = compileTest(test, fact.type, names)
  const folded = (value: FactValue): FactValue => {
    if (typeof value === 'string' && isTextual(fact.type)) return foldText(value)
    return Array.isArray(value) ? (value as readonly string[]).map(foldText) : value
  }
  return gather(
    column.codes,
    column.values.map((value) => passes(folded(value))),
  )
}

/** The answer of each order, from the answers of the distinct values. */
function gather(codes: Uint32Array, answers: readonly boolean[]): Uint8Array {
  const byCode = Uint8Array.from(answers, Number)
  const out = new Uint8Array(codes.length)
  for (let i = 0; i < codes.length; i++) out[i] = byCode[codes[i]!]!
  return out
}

/** The answer for each distinct list of items; each distinct item is asked once. */
function basketAnswers(
  condition: ItemTest | Extract<Condition, { sum: unknown }>,
  { lists, items }: Baskets,
  names: Names,
): boolean[] {
  const answers = items.map(itemPredicate(condition.where, names))
  const fits = (item: number): boolean => answers[item]!
  if (isItemSum(condition)) {
    const fitting = new Set(items.filter((_, i) => answers[i]))
    const sum = itemSumOf(condition.sum, (item) => fitting.has(item), names)
    const compare = compileTest(
      { fact: '', op: condition.op, value: condition.value },
      itemSums[condition.sum].type,
      names,
    )
    return lists.map((list) => compare(sum(list.map((item) => items[item]!))))
  }
  switch (condition.items) {
    case 'any':
      return lists.map((list) => list.some(fits))
    case 'every':
      return lists.map((list) => list.length > 0 && list.every(fits))
    case 'no':
      return lists.map((list) => !list.some(fits))
  }
}
