import { parcelNumbers, readCode } from '@/core/bench'
import { readTote } from '@/core/waves'
import {
  beginCheck,
  changeCheck,
  checkById,
  checkOfParcel,
  type CheckRow,
  type Database,
  labelsOfBatch,
  labelsOfOrder,
  orderRow,
  ordersByNumber,
  parcelsByNumber,
  parcelsOfLabels,
  waitingSingle,
} from '@/data'
import { refuse, type Answer, type Application, type Refused } from '../../shared/application'
import { currentWorld } from '../../shared/changeWorld'
import { type BenchView, benchView, parcelFacts } from './benchView'

/** A parcel that a code names. */
interface Named {
  readonly labelId: number
  readonly position: number
}

/**
 * Opens the parcel that a scanned code names: its label, the slip of its order (the first parcel that is not checked),
 * or an item that is all of a waiting order. What cannot be packed is refused with why.
 * @param take another bench has it: it is taken over
 * @param items whether an item may open the parcel that is waiting for it alone
 */
export async function openParcel(
  gharry: Application,
  {
    bench,
    code,
    take,
    items = true,
  }: { readonly bench: string; readonly code: string; readonly take: boolean; readonly items?: boolean },
): Promise<Answer<{ view: BenchView }>> {
  const { db } = gharry
  const named = await parcelNamed(db, code, items)
  if ('ok' in named) return named
  const facts = await parcelFacts(db, named.labelId, named.position)
  if (!facts) return refuse('not-found', 'There is no such parcel (any more).')
  const { label, row, parcel } = facts
  if (label.state !== 'bought') return notBought(row.number, label.state)
  if (label.dispatchedAt) return refuse('on-its-way', `${row.number} was handed over already.`)
  const known = await checkOfParcel(db, label.id, parcel.position)
  if (known?.state === 'done')
    return refuse('taken', `${row.number} was checked already, at ${known.bench}: one of two parcels is wrong.`)
  const at = gharry.now().toISOString()
  const check = await db.transaction(async (trx): Promise<CheckRow | Refused> => {
    const open = await checkOfParcel(trx, label.id, parcel.position)
    if (open?.bench === bench) return open
    if (open && !take) return refuse('under-way', `${open.bench} has ${row.number} open: take it over?`)
    if (open) await changeCheck(trx, open.id, { state: 'left', why: `taken over by ${bench}`, doneAt: at })
    const id = await beginCheck(trx, {
      ...{ labelId: label.id, position: parcel.position, orderId: row.id, bench, author: gharry.settings.author },
      ...{ counted: facts.inside.lines.map(() => 0), computed: parcel.weight, beganAt: at },
    })
    const begun = id === undefined ? undefined : await checkById(trx, id)
    return begun ?? refuse('taken', `${row.number} was checked meanwhile.`)
  })
  if ('ok' in check) return check
  return { ok: true, view: await benchView(db, check, facts) }
}

function notBought(number: string, state: string): Refused {
  if (state === 'queued')
    return refuse('under-way', `The label of ${number} is being bought: scan it again in a moment.`)
  return refuse('not-bought', `The label of ${number} is ${state}: put the parcel aside, and take its label off.`)
}

async function parcelNamed(db: Database, scanned: string, items: boolean): Promise<Named | Refused> {
  const code = readCode(scanned)
  if (code.kind === 'unreadable') return refuse('bad-value', code.why)
  const plain = scanned.trim()
  const tote = readTote(plain)
  if (tote) return inTote(db, tote.batch, tote.tote)
  const [labelled] = await parcelsByNumber(db, parcelNumbers(code, scanned))
  if (labelled) return labelled
  if (code.kind === 'text' || code.kind === 'item') {
    for (const order of await ordersByNumber(db, plain.toUpperCase())) {
      const found = await firstUnchecked(db, order.id, plain.toUpperCase(), order.state)
      if (found) return found
    }
    const single = items && (await singleOf(db, plain, code.kind === 'item' ? code.gtin : null))
    if (single) return single
  }
  return refuse('not-found', `“${plain.slice(0, 60)}” is no order, label or item that waits here.`)
}

async function inTote(db: Database, batch: number, tote: number): Promise<Named | Refused> {
  const label = (await labelsOfBatch(db, batch)).find(({ position }) => position === tote - 1)
  const row = label && (await orderRow(db, label.orderId))
  return row
    ? firstUnchecked(db, row.id, row.number, row.state)
    : refuse('not-found', `Batch ${batch} has no tote ${tote}.`)
}

async function firstUnchecked(db: Database, order: number, number: string, state: string): Promise<Named | Refused> {
  const label = (await labelsOfOrder(db, order))
    .filter((one) => one.state !== 'voided' && one.state !== 'failed')
    .at(-1)
  if (!label)
    return refuse(
      'nothing-to-buy',
      state === 'cancelled' ? `${number} is cancelled: put it back.` : `${number} has no label yet: buy it first.`,
    )
  const parcels = (await parcelsOfLabels(db, [label.id])).get(label.id) ?? []
  for (const { position } of parcels)
    if ((await checkOfParcel(db, label.id, position))?.state !== 'done') return { labelId: label.id, position }
  return { labelId: label.id, position: 1 }
}

async function singleOf(db: Database, plain: string, gtin: string | null): Promise<Named | null> {
  const { world } = await currentWorld(db)
  const card = world.items.find(
    ({ sku, gtins = [] }) =>
      sku.toUpperCase() === plain.toUpperCase() ||
      (gtin !== null && gtins.some((one) => one.padStart(14, '0') === gtin)),
  )
  const found = card && (await waitingSingle(db, card.sku))
  return found ? { labelId: found.labelId, position: 1 } : null
}
