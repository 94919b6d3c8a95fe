import type { CollectionTerms } from '@/adapters'
import { dayOf } from '@/core/calendar'
import type { World } from '@/core/world'
import {
  addCollection,
  changeCollection,
  collectionById,
  type CollectionPlan,
  type CollectionRow,
  type Database,
} from '@/data'
import { type Answer, type Application, refuse, type Refused } from '../../shared/application'
import { carrierCan } from '../../shared/carrierCan'
import { currentWorld } from '../../shared/changeWorld'
import { dayAt } from '../door/doorView'

export interface CollectionFor {
  readonly carrier: string
  readonly location: string
  readonly day: string
}

/** On what terms a carrier collects, as it says itself; the place is that of the location. */
export async function showTerms(
  gharry: Application,
  { carrier, location, day }: CollectionFor,
): Promise<Answer<{ readonly terms: CollectionTerms | null }>> {
  const { world } = await currentWorld(gharry.db)
  const from = world.locations.find(({ id }) => id === location)
  if (!from) return refuse('unknown-location', 'There is no such location.')
  const client = await gharry.carrier(carrier, { location })
  if (!client?.collectionTerms) return { ok: true, terms: null }
  const { country, address } = from
  const said = await client.collectionTerms({ day, country, postcode: address.postcode })
  return said.ok ? { ok: true, terms: said.body } : refuse('not-reached', said.sentence)
}

const most = 100_000

/** What is wrong with a plan; null when nothing is. */
function against(
  world: World,
  { carrier, location, day }: CollectionFor,
  plan: CollectionPlan,
  now: Date,
): Refused | null {
  if (!world.carriers.some(({ id }) => id === carrier)) return refuse('unknown-carrier', 'There is no such carrier.')
  if (!world.locations.some(({ id }) => id === location))
    return refuse('unknown-location', 'There is no such location.')
  if (Number.isNaN(dayOf(day))) return refuse('bad-day', 'Choose the day.')
  if (day < dayAt(world, location, now)) return refuse('past-day', 'That day is over: choose another one.')
  if (plan.from >= plan.until) return refuse('bad-range', 'The time window ends before it begins.')
  if (plan.parcels + plan.pallets < 1) return refuse('bad-amount', 'Say how many parcels or pallets are to be fetched.')
  if (plan.parcels > most || plan.pallets > most) return refuse('bad-amount', 'So many do not fit into a lorry.')
  return null
}

/**
 * Books a collection: the carrier is asked by the worker. With a carrier that takes no bookings it is one's own record,
 * with the number that was said on the telephone. The key makes one of two clicks.
 */
export async function bookCollection(
  gharry: Application,
  {
    plan,
    confirmation,
    key,
    ...of
  }: CollectionFor & { readonly plan: CollectionPlan; readonly confirmation: string; readonly key: string },
): Promise<Answer<object>> {
  const { world } = await currentWorld(gharry.db)
  const wrong = against(world, of, plan, gharry.now())
  if (wrong) return wrong
  const electronic = (await carrierCan(gharry.db, of.carrier, of.location)).collections
  await addCollection(
    gharry.db,
    {
      ...of,
      ...{ key: `collection-${key}`, agreement: null, state: electronic ? 'queued' : 'own', wish: plan },
      ...{ confirmation: electronic ? '' : confirmation.trim(), author: gharry.settings.author },
    },
    gharry.now().toISOString(),
  )
  return { ok: true }
}

const settled: Readonly<Partial<Record<CollectionRow['state'], string>>> = {
  cancelled: 'It is cancelled already.',
  failed: 'The carrier has not taken it: book another one.',
  queued: 'The carrier is being asked: wait a moment.',
  changing: 'It is being changed: wait a moment.',
  cancelling: 'It is being cancelled.',
}

async function open(db: Database, id: number): Promise<CollectionRow | Refused> {
  const row = await collectionById(db, id)
  if (!row) return refuse('not-found', 'There is no such collection.')
  const why = settled[row.state]
  return why ? refuse(row.state === 'cancelled' || row.state === 'failed' ? 'taken-back' : 'under-way', why) : row
}

/** Changes what was booked: another window, more parcels. Until the carrier has agreed, what was booked stands. */
export async function replanCollection(
  gharry: Application,
  { id, plan, confirmation }: { readonly id: number; readonly plan: CollectionPlan; readonly confirmation: string },
): Promise<Answer<object>> {
  const row = await open(gharry.db, id)
  if ('ok' in row) return row
  const { world } = await currentWorld(gharry.db)
  const wrong = against(world, row, plan, gharry.now())
  if (wrong) return wrong
  const now = gharry.now().toISOString()
  const moved =
    row.state === 'booked'
      ? { state: 'changing' as const, change: plan, attempts: 0, nextAt: now, madeAt: now, problem: null }
      : { wish: plan, confirmation: confirmation.trim() }
  return (await changeCollection(gharry.db, id, [row.state], moved))
    ? { ok: true }
    : refuse('under-way', 'It has changed meanwhile: look again.')
}

/** Cancels a collection. */
export async function cancelCollection(gharry: Application, id: number): Promise<Answer<object>> {
  const row = await open(gharry.db, id)
  if ('ok' in row) return row
  const now = gharry.now().toISOString()
  const moved =
    row.state === 'booked'
      ? { state: 'cancelling' as const, attempts: 0, nextAt: now, madeAt: now, problem: null }
      : { state: 'cancelled' as const }
  return (await changeCollection(gharry.db, id, [row.state], moved))
    ? { ok: true }
    : refuse('under-way', 'It has changed meanwhile: look again.')
}
