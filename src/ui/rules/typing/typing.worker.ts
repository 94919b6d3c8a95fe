import { type Column, countOf, matchesOf, movedMatches, type OrderColumns } from '@/core/rulebook/bulk'
import { equalJson, type Rule, type Rulebook } from '@/core/rulebook/language'
import type { Rates } from '@/core/units'
import type { ColumnsHead } from '@/usecases/rules/showColumns'

export type TypingOrder =
  | { readonly kind: 'load'; readonly bytes: ArrayBuffer }
  | {
      readonly kind: 'count'
      readonly run: number
      readonly draft: Rulebook
      readonly inForce: Rulebook
      readonly rates: Rates
    }

/** How many orders of the month a changed rule matches, and how that differs from the edition in force. */
export interface RuleCount {
  readonly matches: number
  readonly gained: number
  readonly lost: number
  readonly of: number
}
export interface TypingAnswer {
  readonly run: number
  readonly counts: Readonly<Record<string, RuleCount>>
  readonly ms: number
}

/* Counts the matches of the rules that differ, over every order of the month, while they are typed. */
let orders: OrderColumns | null = null

self.onmessage = ({ data }: MessageEvent<TypingOrder>) => {
  if (data.kind === 'load') orders = read(data.bytes)
  else if (orders) self.postMessage(count(data, orders))
}

function count(
  { run, draft, inForce, rates }: Extract<TypingOrder, { kind: 'count' }>,
  loaded: OrderColumns,
): TypingAnswer {
  const began = performance.now()
  const before = new Map(inForce.rules.map((rule) => [rule.id, rule]))
  const counts: Record<string, RuleCount> = {}
  // Groups and saved conditions change what rules match that are still the same.
  const otherLists = !equalJson([draft.groups, draft.conditions ?? []], [inForce.groups, inForce.conditions ?? []])
  for (const rule of draft.rules) {
    const old = before.get(rule.id)
    if (!rule.on || (old && sameTest(old, rule) && !(otherLists && /"(group|saved)":/.test(JSON.stringify(rule.when)))))
      continue
    const mask = matchesOf(rule, draft, loaded, rates)
    counts[rule.id] = {
      matches: countOf(mask),
      of: loaded.count,
      ...movedMatches(old?.on ? matchesOf(old, inForce, loaded, rates) : new Uint8Array(loaded.count), mask),
    }
  }
  return { run, counts, ms: performance.now() - began }
}

const sameTest = (a: Rule, b: Rule): boolean =>
  a.on === b.on && equalJson([a.when, a.from, a.until], [b.when, b.from, b.until])

function read(bytes: ArrayBuffer): OrderColumns {
  const length = new DataView(bytes).getUint32(0, true)
  const head = JSON.parse(new TextDecoder().decode(new Uint8Array(bytes, 4, length))) as ColumnsHead
  const codes = new Uint32Array(bytes, 4 + Math.ceil(length / 4) * 4)
  const part = (i: number): Uint32Array => codes.subarray(i * head.count, (i + 1) * head.count)
  return {
    count: head.count,
    now: head.now,
    zone: head.zone,
    baskets: { codes: part(head.columns.length), lists: head.lists, items: head.items },
    columns: new Map(
      head.columns.map(({ fact, values }, i): [string, Column] => [
        fact,
        { codes: part(i), values: values.map((value) => value ?? undefined) },
      ]),
    ),
  }
}
