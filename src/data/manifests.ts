import { grams, type Grams } from '@/core/units'
import type { AtDoor } from '@/core/handover'
import { countAll } from './countAll'
import { chunks, type Database } from './database'
import type { OutboxRow } from './outbox'
import { standing } from './engine'

/** What one driver of a carrier got at a location. */
export interface ManifestRow extends OutboxRow {
  readonly carrier: string
  readonly location: string
  /** Names it for both sides. */
  readonly reference: string
  /** `kept`: closed, and the carrier is not told of it in messages. */
  readonly state: 'open' | 'queued' | 'sent' | 'failed' | 'kept'
  readonly openedAt: string
  readonly author: string
  readonly closedAt: string | null
  /** Who signed; empty where nobody did. */
  readonly driver: string
  /** Strokes, as JSON; null without a signature. */
  readonly signature: string | null
  /** What the carrier calls it; empty before it answered. */
  readonly confirmation: string
}

/** A parcel on a manifest. */
export interface ManifestParcel {
  readonly labelId: number
  readonly position: number
  readonly orderId: number
  readonly number: string
  readonly trackingNumber: string
  readonly service: string
  readonly account: string | null
  readonly country: string
  readonly city: string
  readonly weight: Grams
  readonly state: 'queued' | 'bought' | 'failed' | 'voiding' | 'voided'
  /** The code of its container; null where it stands alone. */
  readonly container: string | null
  readonly scanned: boolean
  readonly at: string
}

/** The manifest that is open for a carrier at a location; undefined when there is none. */
export const openManifestOf = (db: Database, carrier: string, location: string): Promise<ManifestRow | undefined> =>
  db('manifests').where({ carrier, location, state: 'open' }).first()

/** Opens a manifest, closed from the beginning when `closed` says so; gives its number. */
export async function addManifest(
  trx: Database,
  row: Pick<ManifestRow, 'carrier' | 'location' | 'reference' | 'author'>,
  now: string,
  closed = false,
): Promise<number> {
  const [made] = (await trx('manifests')
    .insert({ ...row, state: closed ? 'kept' : 'open', openedAt: now, madeAt: now, nextAt: now })
    .returning('id')) as { id: number }[]
  return made!.id
}

/** A manifest; undefined when there is none. */
export const manifestById = (db: Database, id: number): Promise<ManifestRow | undefined> =>
  db('manifests').where({ id }).first()

/** Changes a manifest of a state; false when it has another one meanwhile. */
export async function changeManifest(
  db: Database,
  id: number,
  from: readonly ManifestRow['state'][],
  change: Partial<Omit<ManifestRow, 'id'>>,
): Promise<boolean> {
  return (await db('manifests').where({ id }).whereIn('state', from).update(change)) === 1
}

/** Sends a manifest that the carrier refused once more. */
export const retryManifest = (db: Database, id: number, now: string): Promise<number> =>
  db('manifests')
    .where({ id, state: 'failed' })
    .update({ state: 'queued', attempts: 0, nextAt: now, madeAt: now, problem: null })

/** Puts parcels on a manifest; those that are on one already are left where they are. Gives how many were put. */
export async function addToManifest(
  trx: Database,
  manifest: number,
  parcels: readonly { readonly labelId: number; readonly position: number }[],
  more: {
    readonly containerId: number | null
    readonly scanned: boolean
    readonly at: string
    readonly author: string
  },
): Promise<number> {
  let put = 0
  for (const part of chunks(parcels, 100)) {
    const rows: unknown[] = await trx('manifest_parcels')
      .insert(part.map(({ labelId, position }) => ({ labelId, position, ...more, manifestId: manifest })))
      .onConflict(['label_id', 'position'])
      .ignore()
      .returning('label_id')
    put += rows.length
  }
  return put
}

/** Takes parcels of a label off a manifest that is open; gives how many. */
export const takeOffOpen = (trx: Database, labelId: number, position?: number): Promise<number> =>
  trx('manifest_parcels')
    .where({ labelId, ...(position === undefined ? {} : { position }) })
    .whereIn('manifest_id', trx('manifests').where({ state: 'open' }).select('id'))
    .delete()

/** The parcels of a manifest, the one that was put last first. */
export async function parcelsOnManifest(db: Database, manifest: number, most = 20_000): Promise<ManifestParcel[]> {
  const rows = (await db('manifest_parcels')
    .join('labels', 'labels.id', 'manifest_parcels.label_id')
    .join('orders', 'orders.id', 'labels.order_id')
    .join('label_parcels', (on) =>
      on
        .on('label_parcels.label_id', 'manifest_parcels.label_id')
        .on('label_parcels.position', 'manifest_parcels.position'),
    )
    .leftJoin('containers', 'containers.id', 'manifest_parcels.container_id')
    .where('manifest_parcels.manifest_id', manifest)
    .orderBy([
      { column: 'manifest_parcels.at', order: 'desc' },
      { column: 'manifest_parcels.label_id', order: 'desc' },
    ])
    .limit(most)
    .select('manifest_parcels.*', 'labels.order_id', 'labels.service', 'labels.account', 'labels.state', {
      number: 'orders.number',
      country: 'orders.country',
      city: 'orders.city',
      trackingNumber: 'label_parcels.tracking_number',
      weight: 'label_parcels.weight',
      container: 'containers.code',
    })) as (ManifestParcel & { scanned: boolean | number })[]
  return rows.map((row) => ({ ...row, scanned: Boolean(row.scanned), trackingNumber: row.trackingNumber ?? '' }))
}

/** How many parcels each manifest has, and what they weigh, in grams. */
export async function manifestLoads(
  db: Database,
  ids: readonly number[],
): Promise<Map<number, { parcels: number; weight: number }>> {
  const rows = (await db('manifest_parcels')
    .join('label_parcels', (on) =>
      on
        .on('label_parcels.label_id', 'manifest_parcels.label_id')
        .on('label_parcels.position', 'manifest_parcels.position'),
    )
    .whereIn('manifest_id', ids)
    .groupBy('manifest_id')
    .select('manifest_id')
    .count({ parcels: '*' })
    .sum({ weight: 'label_parcels.weight' })) as { manifestId: number; parcels: number; weight: number }[]
  return new Map(
    rows.map(({ manifestId, parcels, weight }) => [manifestId, { parcels: Number(parcels), weight: Number(weight) }]),
  )
}

/** Manifests whose doors are open, and those that are closed, the newest first. */
export const openManifests = (db: Database): Promise<ManifestRow[]> =>
  db('manifests').where({ state: 'open' }).orderBy('id', 'desc')
/** See `openManifests`. */
export const closedManifests = (db: Database, most: number, skip: number): Promise<ManifestRow[]> =>
  db('manifests').whereNot({ state: 'open' }).orderBy('id', 'desc').limit(most).offset(skip)
/** How many are closed. */
export const countClosedManifests = (db: Database): Promise<number> =>
  countAll(db('manifests').whereNot({ state: 'open' }))

/** A container of a manifest. */
export interface ContainerRow {
  readonly id: number
  readonly manifestId: number
  readonly code: string
  /** How many are in it. */
  readonly parcels: number
}
/** Makes a container; its code is known only once it has a number, so `codeOf` says it. */
export async function addContainer(
  trx: Database,
  manifest: number,
  codeOf: (id: number, nth: number) => string,
  now: string,
): Promise<ContainerRow> {
  const nth = (await containersOf(trx, manifest)).length + 1
  const [made] = (await trx('containers').insert({ manifestId: manifest, code: '', madeAt: now }).returning('id')) as {
    id: number
  }[]
  const code = codeOf(made!.id, nth)
  await trx('containers').where({ id: made!.id }).update({ code })
  return { id: made!.id, manifestId: manifest, code, parcels: 0 }
}
/** The containers of a manifest, the first one first. */
export async function containersOf(db: Database, manifest: number): Promise<ContainerRow[]> {
  const rows = (await db('containers')
    .where('containers.manifest_id', manifest)
    .leftJoin('manifest_parcels', 'manifest_parcels.container_id', 'containers.id')
    .groupBy('containers.id')
    .orderBy('containers.id')
    .select('containers.id', 'containers.manifest_id', 'containers.code')
    .count({ parcels: 'manifest_parcels.label_id' })) as ContainerRow[]
  return rows.map((row) => ({ ...row, parcels: Number(row.parcels) }))
}

/** A parcel as the door sees it, by any way in which its number may be written; the newest first. */
export async function parcelAtDoor(
  db: Database,
  numbers: readonly string[],
): Promise<(AtDoor & { readonly labelId: number; readonly position: number; readonly orderId: number }) | undefined> {
  const row = (await db('label_parcels')
    .join('labels', 'labels.id', 'label_parcels.label_id')
    .join('orders', 'orders.id', 'labels.order_id')
    .leftJoin('manifest_parcels', (on) =>
      on
        .on('label_parcels.label_id', 'manifest_parcels.label_id')
        .on('label_parcels.position', 'manifest_parcels.position'),
    )
    .whereIn('label_parcels.tracking_number', numbers)
    .orderBy('labels.id', 'desc')
    .first({
      ...{ labelId: 'labels.id', position: 'label_parcels.position', orderId: 'orders.id', order: 'orders.number' },
      ...{ number: 'label_parcels.tracking_number', carrier: 'labels.carrier', location: 'labels.location' },
      ...{ state: 'labels.state', checkedAt: 'labels.checked_at', flag: 'orders.flag' },
      ...{ status: 'label_parcels.status', manifest: 'manifest_parcels.manifest_id' },
    })) as
    | (Omit<AtDoor, 'checked' | 'underWay'> & {
        labelId: number
        position: number
        orderId: number
        checkedAt: string | null
        status: string | null
      })
    | undefined
  if (!row) return undefined
  const { checkedAt, status, ...rest } = row
  return { ...rest, checked: checkedAt !== null, underWay: (status ?? 'announced') !== 'announced' }
}

/** What stands at a location for a carrier and is on no manifest. */
export interface StandingParcel {
  readonly labelId: number
  readonly position: number
  readonly orderId: number
  readonly number: string
  readonly carrier: string
  readonly location: string
  readonly service: string
  readonly trackingNumber: string
  readonly weight: number
  readonly shipOn: string | null
  readonly checkedAt: string | null
  /** What its label costs, home minor units; of the whole shipment. */
  readonly charged: number
}
/** Which of them: of a carrier, of a location, to leave by a day, or before it and not said to be here still. */
export interface Standing {
  readonly carrier?: string
  readonly location?: string
  readonly until?: string
  readonly before?: string
}

const standingRows = (db: Database, { carrier, location, until, before }: Standing): ReturnType<Database> => {
  const labels = db('labels').whereRaw(standing).where({ state: 'bought' }).select('id')
  if (carrier !== undefined) void labels.where({ carrier })
  if (location !== undefined) void labels.where({ location })
  if (until !== undefined) void labels.where('ship_on', '<=', until)
  if (before !== undefined)
    void labels
      .where('ship_on', '<', before)
      .where((q) => void q.whereNull('still_here').orWhere('still_here', '<', before))
  return db('labels')
    .whereIn('labels.id', labels)
    .join('label_parcels', 'label_parcels.label_id', 'labels.id')
    .whereNotExists(
      db('manifest_parcels')
        .select(db.raw('1'))
        .whereRaw('manifest_parcels.label_id = labels.id AND manifest_parcels.position = label_parcels.position'),
    ) as ReturnType<Database>
}

/** What stands there, the oldest first, `most` at most. */
export const standingParcels = (db: Database, which: Standing, most: number): Promise<StandingParcel[]> =>
  standingRows(db, which)
    .join('orders', 'orders.id', 'labels.order_id')
    .orderBy(['labels.ship_on', 'labels.id', 'label_parcels.position'])
    .limit(most)
    .select({
      ...{ labelId: 'labels.id', position: 'label_parcels.position', orderId: 'orders.id', number: 'orders.number' },
      ...{ carrier: 'labels.carrier', location: 'labels.location', service: 'labels.service' },
      ...{ trackingNumber: 'label_parcels.tracking_number', weight: 'label_parcels.weight' },
      ...{ shipOn: 'labels.ship_on', checkedAt: 'labels.checked_at', charged: 'labels.charged' },
    }) as unknown as Promise<StandingParcel[]>

/** How much stands where, by carrier and the day on which it is to leave. */
export async function standingLoads(
  db: Database,
  which: Standing = {},
): Promise<{ location: string; carrier: string; shipOn: string; parcels: number; weight: Grams }[]> {
  const rows = (await standingRows(db, which)
    .groupBy('labels.location', 'labels.carrier', 'labels.ship_on')
    .select('labels.location', 'labels.carrier', 'labels.ship_on')
    .count({ parcels: '*' })
    .sum({ weight: 'label_parcels.weight' })) as unknown as {
    location: string
    carrier: string
    shipOn: string | null
    parcels: number
    weight: number
  }[]
  return rows.map((row) => ({
    ...row,
    shipOn: row.shipOn ?? '',
    parcels: Number(row.parcels),
    weight: grams(Number(row.weight)),
  }))
}

/** Writes that labels are still here on a day: they are asked about no more before the next. */
export async function markStillHere(db: Database, ids: readonly number[], day: string): Promise<void> {
  for (const part of chunks(ids, 500)) await db('labels').whereIn('id', part).update({ stillHere: day })
}

/** Of labels, those all of whose parcels are on manifests that are closed. */
export async function whollyHandedOver(trx: Database, ids: readonly number[]): Promise<Set<number>> {
  const whole = new Set<number>()
  for (const part of chunks(ids, 400)) {
    const rows = (await trx('label_parcels')
      .leftJoin('manifest_parcels', (on) =>
        on
          .on('label_parcels.label_id', 'manifest_parcels.label_id')
          .on('label_parcels.position', 'manifest_parcels.position'),
      )
      .leftJoin('manifests', (on) => on.on('manifests.id', 'manifest_parcels.manifest_id'))
      .whereIn('label_parcels.label_id', part)
      .groupBy('label_parcels.label_id')
      .select({ id: 'label_parcels.label_id' })
      .select({
        open: trx.raw(`SUM(CASE WHEN manifests.id IS NULL OR manifests.state = 'open' THEN 1 ELSE 0 END)`),
      })) as {
      id: number
      open: number
    }[]
    for (const { id, open } of rows) if (Number(open) === 0) whole.add(id)
  }
  return whole
}

/** How many manifests and coming collections a carrier has refused. */
export async function countRefusedHandOvers(db: Database, today: string): Promise<number> {
  return (
    (await countAll(db('manifests').where({ state: 'failed' }))) +
    (await countAll(db('collections').where({ state: 'failed' }).where('day', '>=', today)))
  )
}
