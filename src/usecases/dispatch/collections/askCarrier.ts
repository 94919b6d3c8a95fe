import type { BookedCollection, CallResult, CarrierClient, CollectionWish } from '@/adapters'
import { toHome } from '@/core/units'
import type { World } from '@/core/world'
import {
  book,
  changeCollection,
  changeHeld,
  type CollectionPlan,
  type CollectionRow,
  collectionsToSee,
  noteSeen,
  putBack,
  toJson,
} from '@/data'
import type { Application } from '../../shared/application'
import { currentWorld } from '../../shared/changeWorld'
import { sellersDay } from '../../shared/sellersDay'

/** Asks a carrier for what is wanted of a collection: to come, to come otherwise, or not to come. */
export async function deliverCollection(gharry: Application, row: CollectionRow): Promise<void> {
  const { db } = gharry
  const { world } = await currentWorld(db)
  if (row.day < (await sellersDay(gharry, db)))
    return settle(
      gharry,
      row,
      world,
      { state: row.state === 'queued' ? 'failed' : 'booked', problem: 'The day is over.' },
      null,
    )
  const client = await gharry.carrier(row.carrier, { location: row.location })
  const result = await asked(client, row, world)
  if (!result.ok && result.kind !== 'refused')
    return putBack(db, 'collections', row, gharry.now(), result.sentence, result.retryAfter)
  if (result.ok) return accepted(gharry, row, world, result.body)
  // Refused as it is so already: what the carrier has is what counts.
  const now = row.state === 'queued' ? null : await client?.collection?.(row.confirmation)
  if (now?.ok && now.body.state === 'cancelled') return accepted(gharry, row, world, now.body)
  if (row.state === 'queued') return settle(gharry, row, world, { state: 'failed', problem: result.sentence }, null)
  const what = row.state === 'changing' ? 'It stays as it was booked' : 'It still comes'
  return settle(gharry, row, world, { state: 'booked', problem: `${what}: ${result.sentence}` }, null)
}

function asked(client: CarrierClient | null, row: CollectionRow, world: World): Promise<CallResult<BookedCollection>> {
  const wish = wishOf(row, row.change ?? row.wish, world)
  const call = {
    queued: () => client?.bookCollection?.(wish, row.key),
    changing: () => client?.changeCollection?.(row.confirmation, wish, `${row.key}-${Date.parse(row.madeAt)}`),
    cancelling: () => client?.cancelCollection?.(row.confirmation, `${row.key}-cancel`),
  }[row.state as 'queued' | 'changing' | 'cancelling']
  return (
    call() ??
    Promise.resolve({
      ok: false,
      kind: 'refused',
      sentence: 'Its account takes no bookings: call the carrier.',
      retryAfter: 0,
    })
  )
}

function wishOf({ id, location, day }: CollectionRow, plan: CollectionPlan, world: World): CollectionWish {
  const from = world.locations.find((one) => one.id === location)
  const { company = '', lines = [], postcode = '', city = '' } = from?.address ?? {}
  return {
    ...{ ...plan, reference: `collection ${id}`, day, country: from?.country ?? '', postcode },
    address: [company, ...lines, `${postcode} ${city}`].filter((line) => line.trim() !== ''),
  }
}

/** Writes what the carrier has now, and what it costs. */
async function accepted(gharry: Application, row: CollectionRow, world: World, has: BookedCollection): Promise<void> {
  const cancelled = has.state === 'cancelled'
  const wish = { ...(row.change ?? row.wish), from: has.from, until: has.until }
  const charged = cancelled || has.charge === null ? 0 : (toHome(has.charge, world.rates) ?? 0)
  await settle(
    gharry,
    row,
    world,
    { state: cancelled ? 'cancelled' : 'booked', problem: null, wish, confirmation: has.confirmation },
    charged,
  )
}

interface Settled extends Pick<CollectionRow, 'state' | 'problem'> {
  readonly wish?: CollectionPlan
  readonly confirmation?: string
  readonly note?: string
}

/** Writes a row that one holds, and books what its cost has changed by; null where it stays. */
async function settle(
  gharry: Application,
  row: CollectionRow,
  world: World,
  { wish, ...change }: Settled,
  cost: number | null,
): Promise<void> {
  const now = gharry.now().toISOString()
  await gharry.db.transaction(async (trx) => {
    await changeHeld(trx, 'collections', row, {
      ...change,
      ...{ change: null, leaseUntil: null, sentAt: now },
      ...(wish ? { wish: toJson(wish) } : {}),
      ...(cost === null ? {} : { cost }),
    })
    const more = cost === null ? 0 : cost - row.cost
    await book(trx, [
      {
        ...{
          key: `${row.key}-${row.madeAt}-${row.state}`,
          at: now,
          day: await sellersDay(gharry, trx),
          kind: 'collection',
        },
        ...{
          carrier: row.carrier,
          debit: more > 0 ? 'shipping' : 'balance',
          credit: more > 0 ? 'balance' : 'shipping',
        },
        ...{ amount: Math.abs(more), labelId: null, author: row.author },
        note: `Collection of ${row.day} in ${world.locations.find(({ id }) => id === row.location)?.name ?? row.location}`,
      },
    ])
  })
}

const seenEveryMs = 10 * 60_000
const mostSeen = 50

/** Asks carriers how what was booked stands: a carrier may change it, or not come. */
export async function seeCollections(gharry: Application): Promise<void> {
  const now = gharry.now()
  const { world } = await currentWorld(gharry.db)
  const today = await sellersDay(gharry, gharry.db)
  const before = new Date(now.getTime() - seenEveryMs).toISOString()
  for (const row of await collectionsToSee(gharry.db, today, before, mostSeen)) {
    const client = await gharry.carrier(row.carrier, { location: row.location })
    const has = await client?.collection?.(row.confirmation)
    if (!has?.ok) continue
    await noteSeen(gharry.db, row.id, now.toISOString())
    const { state, from, until } = has.body
    if (state === 'cancelled') {
      await settle(
        gharry,
        row,
        world,
        { state: 'cancelled', problem: null, note: 'The carrier has cancelled it: nobody comes.' },
        0,
      )
      continue
    }
    if (from === row.wish.from && until === row.wish.until) continue
    await changeCollection(gharry.db, row.id, ['booked'], {
      wish: { ...row.wish, from, until },
      note: `The carrier comes from ${from} to ${until}, not from ${row.wish.from} to ${row.wish.until}.`,
    })
  }
}
