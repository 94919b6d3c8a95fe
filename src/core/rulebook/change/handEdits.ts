import type { Grams } from '@/core/units'
import { foldText, type Order } from '@/core/order'
import { itemsWeight } from '@/core/packing'
import type { DecisionId, Pins } from '@/core/rulebook/language'

/** One thing that a person decides for many orders at once. */
export type HandEdit =
  | { readonly do: 'pin'; readonly decision: DecisionId; readonly value: unknown }
  /** The rules decide again. */
  | { readonly do: 'release'; readonly decision: DecisionId }
  | { readonly do: 'tag'; readonly add: readonly string[]; readonly remove: readonly string[] }
  /** What the items of an order weigh together, grams. */
  | { readonly do: 'weigh'; readonly grams: Grams }
  /** Another value for each order, by its identifier; orders that are not named stay as they are. */
  | {
      readonly do: 'each'
      readonly of: DecisionId | 'weigh'
      readonly values: readonly (readonly [order: number, value: unknown])[]
    }

/** An order with what is decided for it so far. */
interface EditedOrder {
  readonly id: number
  readonly order: Pick<Order, 'items'>
  /** Its tags as they are decided. */
  readonly tags: readonly string[]
}

/** Works out what edits make of hand pins; made once for many orders. */
export function handEditor(edits: readonly HandEdit[]): (given: EditedOrder, pins: Pins) => Pins {
  const steps = edits.map(stepOf)
  return (given, pins) => steps.reduce<Pins>((now, step) => step(given, now), pins)
}

function stepOf(edit: HandEdit): (given: EditedOrder, pins: Pins) => Pins {
  switch (edit.do) {
    case 'pin':
      return (_, pins) => ({ ...pins, [edit.decision]: edit.value })
    case 'release':
      return (_, pins) => without(pins, edit.decision)
    case 'tag':
      return ({ tags }, pins) => ({ ...pins, tags: tagged((pins.tags as typeof tags | undefined) ?? tags, edit) })
    case 'weigh':
      return ({ order }, pins) => ({ ...pins, weight: correctionTo(edit.grams, order) })
    case 'each': {
      const values = new Map(edit.values)
      return ({ id, order }, pins) => {
        if (!values.has(id)) return pins
        const value = values.get(id)
        return edit.of === 'weigh'
          ? { ...pins, weight: correctionTo(Number(value), order) }
          : { ...pins, [edit.of]: value }
      }
    }
  }
}

function without(pins: Pins, decision: DecisionId): Pins {
  const { [decision]: _released, ...rest } = pins
  return rest
}

function tagged(tags: readonly string[], edit: Extract<HandEdit, { do: 'tag' }>): readonly string[] {
  const has = (list: readonly string[], tag: string): boolean => list.some((other) => foldText(other) === foldText(tag))
  const kept = tags.filter((tag) => !has(edit.remove, tag))
  return [...kept, ...edit.add.filter((tag) => !has(kept, tag))]
}

/** By how much the known weights of the items have to be corrected, so that they come to `wanted` grams. */
const correctionTo = (wanted: number, { items }: Pick<Order, 'items'>): number => wanted - itemsWeight(items)

/** The decisions that edits touch. */
export const decisionsTouched = (edits: readonly HandEdit[]): readonly DecisionId[] => [
  ...new Set(
    edits.map((edit): DecisionId => {
      switch (edit.do) {
        case 'tag':
          return 'tags'
        case 'weigh':
          return 'weight'
        case 'each':
          return edit.of === 'weigh' ? 'weight' : edit.of
        default:
          return edit.decision
      }
    }),
  ),
]
