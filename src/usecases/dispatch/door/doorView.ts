import { dayText, localTime } from '@/core/calendar'
import type { World } from '@/core/world'
import {
  containersOf,
  type ContainerRow,
  type Database,
  manifestLoads,
  openManifestOf,
  type ManifestParcel,
  parcelsOnManifest,
  standingLoads,
  type StandingParcel,
  standingParcels,
} from '@/data'
import type { Application } from '../../shared/application'
import { currentWorld } from '../../shared/changeWorld'

/** What stands at a door. */
export interface DoorView {
  readonly carrier: string
  readonly location: string
  /** The manifest that is open; null before the first parcel. */
  readonly manifest: number | null
  readonly parcels: number
  /** Grams. */
  readonly weight: number
  /** Those scanned last. */
  readonly last: readonly ManifestParcel[]
  readonly containers: readonly ContainerRow[]
  /** Parcels that are to leave by today and are on no manifest. */
  readonly leaving: number
  /** Parcels that are bought for a later day. */
  readonly later: number
  readonly waiting: readonly StandingParcel[]
}

const mostLast = 12
const mostWaiting = 200

/** The day that it is at a location, `YYYY-MM-DD`. */
export const dayAt = (world: World, location: string, now: Date): string =>
  dayText(localTime(now.getTime(), world.locations.find(({ id }) => id === location)?.timeZone ?? 'UTC').day)

/** What stands at a door: the manifest that is open, what was scanned last, and what still waits. */
export async function showDoor(gharry: Application, carrier: string, location: string): Promise<DoorView> {
  const { world } = await currentWorld(gharry.db)
  return doorView(gharry.db, carrier, location, dayAt(world, location, gharry.now()))
}

/** The same within a transaction. */
export async function doorView(db: Database, carrier: string, location: string, today: string): Promise<DoorView> {
  const open = await openManifestOf(db, carrier, location)
  const load = open && (await manifestLoads(db, [open.id])).get(open.id)
  const loads = await standingLoads(db, { carrier, location })
  return {
    ...{ carrier, location, manifest: open?.id ?? null, parcels: load?.parcels ?? 0, weight: load?.weight ?? 0 },
    // Of a lorry of thousands only these are read, at each scan.
    last: open ? await parcelsOnManifest(db, open.id, mostLast) : [],
    containers: open ? await containersOf(db, open.id) : [],
    leaving: sumOf(loads.filter(({ shipOn }) => shipOn <= today)),
    later: sumOf(loads.filter(({ shipOn }) => shipOn > today)),
    waiting: await standingParcels(db, { carrier, location, until: today }, mostWaiting),
  }
}

const sumOf = (loads: readonly { readonly parcels: number }[]): number =>
  loads.reduce((sum, { parcels }) => sum + parcels, 0)
