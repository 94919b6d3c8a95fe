import { waitingStates } from '@/core/order'
import { decisionsTouched, type HandEdit, handEditor, type TrialCase } from '@/core/rulebook/change'
import type { DecisionId, Pins } from '@/core/rulebook/language'
import {
  addAudit,
  addEdit,
  addJob,
  changeJob,
  countOfEdit,
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
import { refuse, type Answer, type Application } from '../shared/application'
import { routeAndRecord } from '../shared/routeOrders'
import { type InForce, rulebookInForce } from '../shared/rulebookInForce'
import { type LeftOut, leftOut, linesOf, type ManyEdit, mostEdited, standsBecause, wrongEdit } from './manyEdit'

/** So many orders are decided in one transaction. */
const portion = 250
/** When a request that died half-way is taken up by the worker. */
const takenUpAfterMs = 15_000

/** What became of an edit. */
export interface EditDone {
  readonly edit: number
  readonly changed: number
  readonly left: readonly LeftOut[]
}

/**
 * Decides by hand for many orders, some at a time; what was decided before is kept, for one undo. The same key twice is
 * one edit. When the machine dies half-way, the worker goes on.
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
    if (edit === undefined) return
    await addEditJob(trx, edit, 'under way', now)
    const after = { edits: given.edits, orders: orders.map(({ id }) => id) }
    await addAudit(trx, { action: 'orders edited', about: `edit ${edit}`, after }, now.toISOString())
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
    changed: await countOfEdit(db, edit, good),
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
  const edits = fromJson<readonly HandEdit[]>(edit.edits)
  const touched = decisionsTouched(edits)
  const next = edit.state === 'undoing' ? backwards(rows) : forwards(edits, await outcomesOf(trx, ids))
  const settled = stored.map(({ id, order }) => {
    const row = states.get(id)!
    const now = pins.get(id) ?? {}
    if (!waitingStates.includes(row.state)) return { id, answer: { why: standsBecause(row.state) } as const, now }
    return { id, answer: next(id, { id, order }, now), now }
  })
  const changed = settled.flatMap(({ id, answer }) => ('pins' in answer ? [{ order: id, pins: answer.pins }] : []))
  const at = gharry.now().toISOString()
  const { author } = gharry.settings
  await writePins(trx, changed, touched, author, at)
  await settleEditOrders(
    trx,
    settled.map(({ id, answer, now }) => ({
      editId: edit.id,
      orderId: id,
      ...became(edit, answer, now, touched),
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

function forwards(edits: readonly HandEdit[], outcomes: Awaited<ReturnType<typeof outcomesOf>>): Next {
  const edited = handEditor(edits)
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
