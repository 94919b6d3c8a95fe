import type { HandEdit } from '@/core/rulebook/change'
import { decisionById } from '@/core/rulebook/language'
import { refuse, type Refused } from '../shared/application'
import type { InForce } from '../shared/rulebookInForce'
import { pinPhrase, wrongPin } from './pinDecision'

/*
 * What is decided by hand for many orders: what may be asked for, how it is said, and which orders it leaves as they
 * are.
 */

/** Most orders of one edit. */
export const mostEdited = 5000
const mostEdits = 12

/** What is decided by hand for which orders. */
export interface ManyEdit {
  readonly orders: readonly number[]
  readonly edits: readonly HandEdit[]
}

/** Why an order stays as it is, and how many stay so. */
export interface LeftOut {
  readonly why: string
  readonly count: number
  /** The first of them. */
  readonly numbers: readonly string[]
}

/** Why an order that does not wait any more stays as it is. */
export const standsBecause = (state: string): string => `It is ${state}: its decisions stand.`

/** The orders that stay as they are, by why. */
export function leftOut(list: readonly { readonly number: string; readonly why: string }[]): LeftOut[] {
  const byWhy = new Map<string, string[]>()
  for (const { number, why } of list) byWhy.set(why, [...(byWhy.get(why) ?? []), number])
  return [...byWhy].map(([why, numbers]) => ({ why, count: numbers.length, numbers: numbers.slice(0, 5) }))
}

/** Why so many orders cannot be edited; null when they can. */
export function wrongOrders({ orders }: Pick<ManyEdit, 'orders'>): Refused | null {
  if (orders.length === 0) return refuse('no-orders', 'Choose the orders first.')
  return orders.length > mostEdited
    ? refuse('batch-too-large', `At most ${mostEdited.toLocaleString('en')} orders are edited at once: choose fewer.`)
    : null
}

/** Why an edit cannot be done; null when it can. */
export function wrongEdit({ orders, edits }: ManyEdit, inForce: InForce): Refused | null {
  const many = wrongOrders({ orders })
  if (many) return many
  if (edits.length === 0) return refuse('bad-value', 'Say what is to be decided.')
  if (edits.length > mostEdits) return refuse('bad-value', `At most ${mostEdits} decisions at once.`)
  for (const edit of edits) {
    const wrong = wrongOne(edit, inForce)
    if (wrong) return wrong
  }
  return null
}

const heaviest = 1_000_000
const wrongWeight = (grams: unknown): Refused | null =>
  Number.isInteger(grams) && Number(grams) > 0 && Number(grams) <= heaviest
    ? null
    : refuse('bad-value', 'The weight of an order is above 0 g and at most 1,000 kg.')

function wrongOne(edit: HandEdit, inForce: InForce): Refused | null {
  switch (edit.do) {
    case 'pin':
      return wrongPin(edit.decision, edit.value, inForce)
    case 'release':
      return decisionById.has(edit.decision)
        ? null
        : refuse('unknown-decision', `There is no decision "${edit.decision}".`)
    case 'tag':
      return edit.add.length + edit.remove.length === 0 ? refuse('bad-value', 'Name at least one tag.') : null
    case 'weigh':
      return wrongWeight(edit.grams)
    case 'each':
      for (const [, value] of edit.values) {
        const wrong = edit.of === 'weigh' ? wrongWeight(value) : wrongPin(edit.of, value, inForce)
        if (wrong) return wrong
      }
      return edit.values.length === 0 ? refuse('bad-value', 'There is no value for any of these orders.') : null
  }
}

/** What edits decide, in words. */
export const linesOf = (edits: readonly HandEdit[], inForce: InForce): string[] =>
  edits.map((edit) => {
    switch (edit.do) {
      case 'pin':
        return `${nameOf(edit.decision)}: ${pinPhrase(edit.decision, edit.value, inForce)}`
      case 'release':
        return `${nameOf(edit.decision)}: the rules decide again`
      case 'tag':
        return `tags: ${[...edit.add.map((tag) => `with ${tag}`), ...edit.remove.map((tag) => `without ${tag}`)].join(', ')}`
      case 'weigh':
        return `weight of the items: ${edit.grams} g`
      case 'each':
        return `${edit.of === 'weigh' ? 'weight of the items' : nameOf(edit.of)}: for ${edit.values.length} orders each its own`
    }
  })

const nameOf = (decision: string): string => decisionById.get(decision)?.name ?? decision
