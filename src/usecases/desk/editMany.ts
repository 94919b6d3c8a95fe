import { waitingStates } from '@/core/order'
import { manyDecider, type ManyDecider, orderMemory } from '@/core/rulebook/bulk'
import {
  decisionsTouched,
  emptySummary,
  type HandEdit,
  handEditor,
  tally,
  type TrialCase,
  type TrialChange,
  type TrialSummary,
} from '@/core/rulebook/change'
import { decisionById, type DecisionId, type Pins } from '@/core/rulebook/language'
import {
  addEdit,
  addJob,
  changeJob,
  type Database,
  editById,
  editByKey,
  type EditOrderRow,
  type EditRow,
  fromJson,
  jobByKey,
  moveEdit,
  newestEdits,
  orderRows,
  ordersById,
  ordersOfEdit,
  outcomesOf,
  pinsOf,
  settleEditOrders,
  toJson,
  writeLog,
  writePins,
} from '@/data'
import { announceOrders } from '../open/announce'
import { refuse, type Answer, type Application, type Refused } from '../shared/application'
import { routeAndRecord } from '../shared/routeOrders'
import { type InForce, rulebookInForce } from '../shared/rulebookInForce'
import { pinPhrase, wrongPin } from './pinDecision'

/** Most orders of one edit. */
export const mostEdited = 5000
const mostEdits = 12
const mostShown = 300
/** So many orders are decided before others are served, or in one transaction. */
const portion = 250
/** When a request that died half-way is taken up by the worker. */
const takenUpAfterMs = 15_000

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

/** Decides orders as they are and as they would be with the edits; nothing is written. */
export async function previewEdit(gharry: Application, given: ManyEdit): Promise<Answer<EditPreview>> {
  const inForce = await rulebookInForce(gharry)
  if (!inForce) return refuse('no-edition', 'Publish a rulebook first.')
  const wrong = wrongEdit(given, inForce)
  if (wrong) return wrong
  const { db } = gharry
  const rows = await orderRows(db, [...new Set(given.orders)])
  const waiting = rows.filter(({ state }) => waitingStates.includes(state))
  const edited = handEditor(given.edits)
  const decider = deciderOf(inForce)
  const now = gharry.now().getTime()
  const summary = emptySummary()
  const changes: TrialChange[] = []
  for (let at = 0; at < waiting.length; at += portion) {
    const ids = waiting.slice(at, at + portion).map(({ id }) => id)
    const pins = await pinsOf(db, ids)
    const cases = (await ordersById(db, ids)).map(({ id, order }): TrialCase => ({
      id,
      order,
      now,
      ...pinned(pins.get(id)),
    }))
    const before = decider.all(decider.memory.read(cases))
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
    left: leftOut(rows.filter(({ state }) => !waitingStates.includes(state)).map(notWaiting)),
  }
}

const deciders = new WeakMap<InForce, { readonly decider: ManyDecider; asked: number }>()
/** After so many previews it is begun anew, so that what it remembers does not grow for ever. */
const mostAsked = 40

/** The decider of an edition in a world, kept while people look at one edit after another: it remembers what it has packed. */
function deciderOf(inForce: InForce): ManyDecider {
  const known = deciders.get(inForce)
  if (known && ++known.asked < mostAsked) return known.decider
  const decider = manyDecider(inForce.program, orderMemory(inForce.ready))
  deciders.set(inForce, { decider, asked: 0 })
  return decider
}

const pinned = (pins: Pins | undefined): { pins?: Pins } =>
  pins && Object.keys(pins).length > 0 ? { pins } : { pins: undefined }

const notWaiting = ({ number, state }: { readonly number: string; readonly state: string }) => ({
  number,
  why: `It is ${state}: its decisions stand.`,
})

function leftOut(list: readonly { readonly number: string; readonly why: string }[]): LeftOut[] {
  const byWhy = new Map<string, string[]>()
  for (const { number, why } of list) byWhy.set(why, [...(byWhy.get(why) ?? []), number])
  return [...byWhy].map(([why, numbers]) => ({ why, count: numbers.length, numbers: numbers.slice(0, 5) }))
}

function wrongEdit({ orders, edits }: ManyEdit, inForce: InForce): Refused | null {
  if (orders.length === 0) return refuse('no-orders', 'Choose the orders first.')
  if (orders.length > mostEdited)
    return refuse(
      'batch-too-large',
      `At most ${mostEdited.toLocaleString('en')} orders are edited at once: choose fewer.`,
    )
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
const linesOf = (edits: readonly HandEdit[], inForce: InForce): string[] =>
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

/** What became of an edit. */
export interface EditDone {
  readonly edit: number
  readonly changed: number
  readonly left: readonly LeftOut[]
}

/**
 * Decides by hand for many orders, some at a time; what was decided before is kept, for one undo. The same key twice is one
 * edit. When the machine dies half-way, the worker goes on.
 */
export async function editMany(
  gharry: Application,
  given: ManyEdit & { readonly key: string },
): Promise<Answer<EditDone>> {
  const inForce = await rulebookInForce(gharry)
  if (!inForce) return refuse('no-edition', 'Publish a rulebook first.')
  const wrong = wrongEdit(given, inForce)
  if (wrong) return wrong
  const { db } = gharry
  const orders = await orderRows(db, [...new Set(given.orders)])
  if (orders.length === 0) return refuse('no-orders', 'None of these orders is there (any more).')
  const now = gharry.now()
  const sentence = linesOf(given.edits, inForce).join('; ')
  await db.transaction(async (trx) => {
    const edit = await addEdit(
      trx,
      {
        ...{ key: given.key, author: gharry.settings.author, madeAt: now.toISOString() },
        ...{ edits: toJson(given.edits), sentence },
      },
      orders.map(({ id }) => id).sort((a, b) => a - b),
    )
    if (edit !== undefined) await addEditJob(trx, edit, 'under way', now)
  })
  const edit = (await editByKey(db, given.key))!
  await workEdit(gharry, edit.id)
  return { ok: true, ...(await whatBecame(db, edit.id, 'done', 'left')) }
}

/** Puts back what an edit replaced, for each order that still waits and was not decided otherwise since. */
export async function undoEdit(gharry: Application, id: number): Promise<Answer<EditDone>> {
  const { db } = gharry
  const moved = await db.transaction(async (trx) => {
    const done = await moveEdit(trx, id, 'done', 'undoing')
    if (done) await addEditJob(trx, id, 'undoing', gharry.now())
    return done
  })
  const edit = await editById(db, id)
  if (!edit) return refuse('missing', 'There is no such edit.')
  if (!moved && edit.state === 'under way') return refuse('under-way', 'It is still under way: wait a moment.')
  await workEdit(gharry, id)
  return { ok: true, ...(await whatBecame(db, id, 'undone', 'kept')) }
}

const jobKey = (edit: number, state: EditRow['state']): string => `edit-${edit}-${state === 'undoing' ? 'undo' : 'do'}`

const addEditJob = (trx: Database, edit: number, state: EditRow['state'], now: Date): Promise<void> =>
  addJob(
    trx,
    'edit orders',
    jobKey(edit, state),
    { edit },
    now.toISOString(),
    new Date(now.getTime() + takenUpAfterMs).toISOString(),
  )

async function whatBecame(
  db: Database,
  edit: number,
  good: EditOrderRow['state'],
  bad: EditOrderRow['state'],
): Promise<EditDone> {
  const left = await ordersOfEdit(db, edit, bad, mostEdited)
  const numbers = new Map(
    (
      await orderRows(
        db,
        left.map(({ orderId }) => orderId),
      )
    ).map(({ id, number }) => [id, number]),
  )
  return {
    edit,
    changed: (await ordersOfEdit(db, edit, good, mostEdited)).length,
    left: leftOut(left.map(({ orderId, why }) => ({ number: numbers.get(orderId) ?? '', why: why ?? '' }))),
  }
}

/** Goes on with an edit, or its undoing, until it is done: some orders a transaction. */
export async function workEdit(gharry: Application, id: number): Promise<void> {
  const { db } = gharry
  for (;;) {
    const edit = await editById(db, id)
    if (!edit || edit.state === 'done' || edit.state === 'undone') return
    const inForce = await rulebookInForce(gharry)
    if (!inForce) return
    const undoing = edit.state === 'undoing'
    const worked = await db.transaction(async (trx) => {
      const rows = await ordersOfEdit(trx, id, undoing ? 'done' : 'waiting', portion)
      if (rows.length > 0) await workPortion(gharry, trx, edit, rows, inForce)
      else {
        await moveEdit(trx, id, edit.state, undoing ? 'undone' : 'done')
        const job = await jobByKey(trx, jobKey(id, edit.state))
        if (job) await changeJob(trx, job.id, { state: 'done', sentAt: gharry.now().toISOString(), leaseUntil: null })
      }
      return rows.length
    })
    if (worked === 0) return
    await new Promise((resolve) => setImmediate(resolve))
  }
}

async function workPortion(
  gharry: Application,
  trx: Database,
  edit: EditRow,
  rows: readonly EditOrderRow[],
  inForce: InForce,
): Promise<void> {
  const ids = rows.map(({ orderId }) => orderId)
  const states = new Map((await orderRows(trx, ids)).map((row) => [row.id, row]))
  const pins = await pinsOf(trx, ids)
  const stored = await ordersById(trx, ids)
  const touched = decisionsTouched(fromJson<readonly HandEdit[]>(edit.edits))
  const next = edit.state === 'undoing' ? backwards(rows) : forwards(edit, await outcomesOf(trx, ids))
  const settled = stored.map(({ id, order }) => {
    const row = states.get(id)!
    const now = pins.get(id) ?? {}
    if (!waitingStates.includes(row.state))
      return { id, answer: { why: `It is ${row.state}: its decisions stand.` } as const, now }
    return { id, answer: next(id, { id, order }, now), now }
  })
  const changed = settled.flatMap(({ id, answer, now }) =>
    'pins' in answer ? [{ order: id, pins: answer.pins, now }] : [],
  )
  const at = gharry.now().toISOString()
  const { author } = gharry.settings
  await writePins(trx, changed, touched, author, at)
  await settleEditOrders(
    trx,
    settled.map(({ id, answer, now }) => ({
      ...{ editId: edit.id, orderId: id, ...became(edit, answer, now, touched) },
    })),
  )
  const sentence = edit.state === 'undoing' ? `Taken back: ${edit.sentence}` : `Decided by hand: ${edit.sentence}`
  await writeLog(
    trx,
    changed.map(({ order }) => ({ order, at, author, sentence })),
  )
  const moved = new Set(changed.map(({ order }) => order))
  await routeAndRecord(
    trx,
    stored.filter(({ id }) => moved.has(id)),
    inForce,
    gharry.now(),
  )
  await announceOrders(trx, gharry.now(), [...moved])
}

type Settled = { readonly pins: Pins } | { readonly why: string }
type Next = (id: number, given: { readonly id: number; readonly order: TrialCase['order'] }, now: Pins) => Settled

function forwards(edit: EditRow, outcomes: Awaited<ReturnType<typeof outcomesOf>>): Next {
  const edited = handEditor(fromJson<readonly HandEdit[]>(edit.edits))
  return (id, given, now) => {
    const pins = edited({ ...given, tags: outcomes.get(id)?.decisions.tags ?? [] }, now)
    return pins === now ? { why: 'There was no value for it.' } : { pins }
  }
}

function backwards(rows: readonly EditOrderRow[]): Next {
  const known = new Map(rows.map((row) => [row.orderId, row]))
  return (id, _, now) => {
    const { before, after } = known.get(id)!
    const was = fromJson<Pins>(before ?? '{}')
    const made = fromJson<Pins>(after ?? '{}')
    const touched = [...new Set([...Object.keys(was), ...Object.keys(made)])] as DecisionId[]
    if (touched.some((decision) => JSON.stringify(now[decision]) !== JSON.stringify(made[decision])))
      return { why: 'Somebody has decided it otherwise since.' }
    return { pins: was }
  }
}

/** The row of an order after its portion. */
function became(
  { state }: EditRow,
  answer: Settled,
  now: Pins,
  touched: readonly DecisionId[],
): Pick<EditOrderRow, 'state' | 'before' | 'after' | 'why'> {
  const only = (pins: Pins): string =>
    toJson(Object.fromEntries(touched.flatMap((id) => (id in pins ? [[id, pins[id]]] : []))))
  const undoing = state === 'undoing'
  if ('why' in answer) return { state: undoing ? 'kept' : 'left', before: null, after: null, why: answer.why }
  return { state: undoing ? 'undone' : 'done', before: only(now), after: only(answer.pins), why: null }
}

/** The newest edits, for whoever wants one back. */
export const showEdits = async (gharry: Application): Promise<{ edits: Awaited<ReturnType<typeof newestEdits>> }> => ({
  edits: await newestEdits(gharry.db, 20),
})
