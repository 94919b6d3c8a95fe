import { isCounter } from '@/core/world'
import {
  type Database,
  labelsByIds,
  manifestLoads,
  type ManifestRow,
  markStillHere,
  closedManifests,
  countClosedManifests,
  openManifests,
  standingLoads,
  type StandingParcel,
  standingParcels,
} from '@/data'
import { type Answer, type Application, refuse } from '../../shared/application'
import { currentWorld } from '../../shared/changeWorld'
import { sellersDay } from '../../shared/sellersDay'
import { handOverUnscanned } from './handedOver'

/** A manifest with what is on it. */
export type ManifestLine = Pick<
  ManifestRow,
  'id' | 'carrier' | 'location' | 'state' | 'openedAt' | 'closedAt' | 'driver' | 'confirmation' | 'problem' | 'author'
> & { readonly parcels: number; readonly weight: number; readonly signed: boolean }

/** A lorry that could be loaded: what stands there for it today, and what is on it. */
export interface DoorLine {
  readonly carrier: string
  readonly location: string
  readonly manifest: number | null
  readonly parcels: number
  /** To leave by today. */
  readonly waiting: number
  /** Bought for a later day, and the first of these days. */
  readonly later: number
  readonly next: string | null
}

export interface ManifestsView {
  readonly today: string
  readonly doors: readonly DoorLine[]
  readonly manifests: readonly ManifestLine[]
  /** What was to leave before today and is on no manifest: asked about. */
  readonly leftBehind: readonly StandingParcel[]
  /** How many are closed, of which so many are shown at once. */
  readonly closed: number
  readonly pageSize: number
}

const pageSize = 60
const mostAsked = 500

/** The lorries of today, what was closed, and what should have left before. */
export async function showManifests(gharry: Application, skip = 0): Promise<ManifestsView> {
  const { db } = gharry
  const { world } = await currentWorld(db)
  const driven = ({ carrier }: { readonly carrier: string }): boolean => !isCounter(world, carrier)
  const today = await sellersDay(gharry, db)
  const rows = [...(await openManifests(db)), ...(await closedManifests(db, pageSize, skip))]
  const loads = await manifestLoads(
    db,
    rows.map(({ id }) => id),
  )
  const manifests = rows.map(({ signature, ...row }): ManifestLine => ({
    ...{ id: row.id, carrier: row.carrier, location: row.location, state: row.state, openedAt: row.openedAt },
    ...{ closedAt: row.closedAt, driver: row.driver, confirmation: row.confirmation, problem: row.problem },
    ...{ author: row.author, signed: signature !== null },
    ...(loads.get(row.id) ?? { parcels: 0, weight: 0 }),
  }))
  return {
    today,
    doors: (await doorsOf(db, today, manifests)).filter(driven),
    manifests: manifests.filter(({ state }) => state !== 'open'),
    ...{ closed: await countClosedManifests(db), pageSize },
    leftBehind: (await standingParcels(db, { before: today }, mostAsked)).filter(driven),
  }
}

async function doorsOf(db: Database, today: string, manifests: readonly ManifestLine[]): Promise<readonly DoorLine[]> {
  const doors = new Map<string, DoorLine>()
  const put = (carrier: string, location: string, change: (door: DoorLine) => DoorLine): void => {
    const key = JSON.stringify([location, carrier])
    doors.set(
      key,
      change(doors.get(key) ?? { carrier, location, manifest: null, parcels: 0, waiting: 0, later: 0, next: null }),
    )
  }
  for (const { carrier, location, parcels, shipOn } of await standingLoads(db))
    put(carrier, location, (door) =>
      shipOn <= today
        ? { ...door, waiting: door.waiting + parcels }
        : { ...door, later: door.later + parcels, next: door.next !== null && door.next < shipOn ? door.next : shipOn },
    )
  for (const { id, carrier, location, parcels, state } of manifests)
    if (state === 'open') put(carrier, location, (door) => ({ ...door, manifest: id, parcels }))
  return [...doors].sort(([a], [b]) => (a < b ? -1 : 1)).map(([, door]) => door)
}

/**
 * What a person says of parcels that should have left: they did, without a scan; or they are here still, and leave
 * today.
 */
export async function settleLeftBehind(
  gharry: Application,
  { labels, left }: { readonly labels: readonly number[]; readonly left: boolean },
): Promise<Answer<{ readonly settled: number }>> {
  const today = await sellersDay(gharry, gharry.db)
  return gharry.db.transaction(async (trx): Promise<Answer<{ settled: number }>> => {
    if (!left) {
      await markStillHere(trx, labels, today)
      return { ok: true, settled: labels.length }
    }
    const rows = (await labelsByIds(trx, labels)).filter(
      ({ state, dispatchedAt }) => state === 'bought' && dispatchedAt === null,
    )
    if (rows.length === 0) return refuse('on-its-way', 'None of them stands here any more: look again.')
    return { ok: true, settled: await handOverUnscanned(gharry, trx, rows) }
  })
}
