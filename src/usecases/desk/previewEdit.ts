import { waitingStates } from '@/core/order'
import { manyDecider, type ManyDecider, orderMemory } from '@/core/rulebook/bulk'
import {
  emptySummary,
  handEditor,
  tally,
  type TrialCase,
  type TrialChange,
  type TrialSummary,
} from '@/core/rulebook/change'
import type { Pins } from '@/core/rulebook/language'
import { type KnownOrders, ordersById, orderStates, pinsOf } from '@/data'
import { refuse, type Answer, type Application } from '../shared/application'
import { type InForce, rulebookInForce } from '../shared/rulebookInForce'
import {
  type LeftOut,
  leftOut,
  linesOf,
  type ManyEdit,
  mostEdited,
  standsBecause,
  wrongEdit,
  wrongOrders,
} from './manyEdit'

const mostShown = 300
/** So many orders are decided before others are served. */
const portion = 250

/** What edits would do, before anything is written. */
export interface EditPreview {
  readonly ok: true
  /** In words, one line each. */
  readonly lines: readonly string[]
  readonly summary: TrialSummary
  /** The orders that change, at most 300. */
  readonly changes: readonly TrialChange[]
  readonly left: readonly LeftOut[]
}

/**
 * Decides orders as they are and as they would be with the edits; nothing is written. Without an edit it decides them as
 * they are alone: whoever has chosen orders is about to say what, and the first look at it is as quick as the next.
 */
export async function previewEdit(gharry: Application, given: ManyEdit): Promise<Answer<EditPreview>> {
  const inForce = await rulebookInForce(gharry)
  if (!inForce) return refuse('no-edition', 'Publish a rulebook first.')
  const isFirstLook = given.edits.length === 0
  const wrong = isFirstLook ? wrongOrders(given) : wrongEdit(given, inForce)
  if (wrong) return wrong
  const { db } = gharry
  const rows = await orderStates(db, [...new Set(given.orders)])
  const waiting = rows.filter(({ state }) => waitingStates.includes(state))
  const edited = handEditor(given.edits)
  const { decider, known } = deciderOf(inForce)
  if (known.size > mostKnown) known.clear()
  const now = gharry.now().getTime()
  const summary = emptySummary()
  const changes: TrialChange[] = []
  const pins = await pinsOf(
    db,
    waiting.map(({ id }) => id),
  )
  for (let at = 0; at < waiting.length; at += portion) {
    const ids = waiting.slice(at, at + portion).map(({ id }) => id)
    const cases = (await ordersById(db, ids, known)).map(({ id, order }): TrialCase => ({
      id,
      order,
      now,
      ...pinned(pins.get(id)),
    }))
    const before = decider.all(decider.memory.read(cases))
    await new Promise((resolve) => setImmediate(resolve))
    if (isFirstLook) continue
    const next = cases.map((one, i): TrialCase => ({
      ...one,
      ...pinned(edited({ ...one, tags: before[i]!.decisions.tags }, one.pins ?? {})),
    }))
    const after = decider.all(decider.memory.read(next))
    cases.forEach((one, i) => {
      const change = tally(summary, one, before[i]!, after[i]!)
      if (change && changes.length < mostShown) changes.push(change)
    })
    await new Promise((resolve) => setImmediate(resolve))
  }
  return {
    ...{ ok: true, lines: linesOf(given.edits, inForce), summary, changes },
    left: leftOut(
      rows.flatMap(({ number, state }) =>
        waitingStates.includes(state) ? [] : [{ number, why: standsBecause(state) }],
      ),
    ),
  }
}

interface Remembered {
  readonly decider: ManyDecider
  /** The orders that were looked at lately: the next look is mostly at the same ones. */
  readonly known: KnownOrders
  asked: number
}
const deciders = new WeakMap<InForce, Remembered>()
/** After so many previews it is begun anew, so that what it remembers does not grow for ever. */
const mostAsked = 40
const mostKnown = 2 * mostEdited

/**
 * The decider of an edition in a world, kept while people look at one edit after another: it remembers what it has
 * packed.
 */
function deciderOf(inForce: InForce): Remembered {
  const remembered = deciders.get(inForce)
  if (remembered && ++remembered.asked < mostAsked) return remembered
  const decider = manyDecider(inForce.program, orderMemory(inForce.ready))
  const made: Remembered = { decider, known: new Map(), asked: 0 }
  deciders.set(inForce, made)
  return made
}

const pinned = (pins: Pins | undefined): { pins?: Pins } =>
  pins && Object.keys(pins).length > 0 ? { pins } : { pins: undefined }
