import { chunks, type Database } from './database'

export const claimStates = ['owed', 'claimed', 'granted', 'refused', 'let go'] as const
export interface ClaimRow {
  readonly id: number
  readonly labelId: number
  readonly position: number
  readonly orderId: number
  readonly carrier: string
  readonly kind: 'late' | 'lost' | 'damaged'
  /** Minor units of the home currency. */
  readonly amount: number
  readonly reason: string
  readonly claimBy: string
  readonly state: (typeof claimStates)[number]
  readonly foundAt: string
  readonly claimedAt: string | null
  readonly settledAt: string | null
  readonly granted: number | null
  readonly note: string
}
/** A claim with what a carrier is told of its parcel. */
export interface ClaimLine extends ClaimRow {
  readonly number: string
  readonly trackingNumber: string
  readonly service: string
  readonly boughtAt: string
  readonly arrivesOn: string | null
  readonly deliveredAt: string | null
}

/** Writes claims that were found; each parcel has one of a kind, once. Gives how many are new. */
export async function addClaims(
  db: Database,
  list: readonly Omit<ClaimRow, 'id' | 'claimedAt' | 'settledAt' | 'granted' | 'note' | 'state'>[],
): Promise<number> {
  let made = 0
  for (const part of chunks(list, 60)) {
    const rows = (await db('claims')
      .insert(part.map((claim) => ({ ...claim, state: 'owed' })))
      .onConflict(['label_id', 'position', 'kind'])
      .ignore()
      .returning('id')) as unknown[]
    made += rows.length
  }
  return made
}

/** A parcel that something may be owed for. */
export interface ClaimableRow {
  readonly labelId: number
  readonly position: number
  readonly parcels: number
  readonly orderId: number
  readonly carrier: string
  readonly service: string
  readonly charged: number | null
  readonly request: string
  readonly boughtAt: string
  readonly dispatchedAt: string | null
  readonly arrivesOn: string | null
  readonly deliveredAt: string | null
  readonly status: string | null
  readonly statusAt: string | null
  readonly contents: string | null
  readonly damagedAt: string | null
}
/** Parcels of these services, bought since a moment, that came late, were reported as damaged, or have not come. */
export async function claimable(db: Database, since: string, services: readonly string[]): Promise<ClaimableRow[]> {
  const damaged = db('customer_words')
    .whereRaw('customer_words.label_id = labels.id')
    .where({ kind: 'report' })
    .whereIn('about', ['damaged', 'incomplete'])
  const at = 'COALESCE(labels.bought_at, labels.made_at)'
  const parcelsOf = db({ own: 'label_parcels' }).whereRaw('own.label_id = labels.id').count()
  return db('labels')
    .join('label_parcels', 'label_parcels.label_id', 'labels.id')
    .where('labels.state', 'bought')
    .where('labels.own', false)
    .where('labels.bought_at', '>=', since)
    .whereIn('labels.service', services)
    .where(
      (q) =>
        void q
          .whereRaw('SUBSTR(labels.delivered_at, 1, 10) > labels.arrives_on')
          .orWhereNull('labels.delivered_at')
          .orWhereExists(damaged.clone().select(db.raw('1'))),
    )
    .select('labels.order_id', 'labels.carrier', 'labels.service', 'labels.charged', 'labels.request', {
      labelId: 'labels.id',
      position: 'label_parcels.position',
      parcels: parcelsOf,
      boughtAt: db.raw(at),
      dispatchedAt: 'labels.dispatched_at',
      arrivesOn: 'labels.arrives_on',
      deliveredAt: 'labels.delivered_at',
      status: 'label_parcels.status',
      statusAt: 'label_parcels.status_at',
      contents: 'label_parcels.contents',
      damagedAt: damaged.clone().min('at'),
    })
}

const withParcels = (db: Database): ReturnType<Database> =>
  db('claims')
    .join('labels', 'labels.id', 'claims.label_id')
    .join('label_parcels', (on) => {
      on.on('label_parcels.label_id', 'claims.label_id').andOn('label_parcels.position', 'claims.position')
    })
    .join('orders', 'orders.id', 'claims.order_id')
    .select('claims.*', 'orders.number', 'labels.service', {
      trackingNumber: db.raw(`COALESCE(label_parcels.tracking_number, '')`),
      boughtAt: db.raw('COALESCE(labels.bought_at, labels.made_at)'),
      arrivesOn: 'labels.arrives_on',
      deliveredAt: 'labels.delivered_at',
    }) as ReturnType<Database>

/** Claims in a state, those that end soonest first; of one carrier, or of all. */
export async function claimsIn(
  db: Database,
  states: readonly ClaimRow['state'][],
  carrier: string | undefined,
  most: number,
): Promise<ClaimLine[]> {
  const query = withParcels(db).whereIn('claims.state', states).orderBy(['claims.claim_by', 'claims.id']).limit(most)
  if (carrier !== undefined) void query.where('claims.carrier', carrier)
  return (await query) as ClaimLine[]
}

/** How many claims there are by carrier and state, what they come to, and what was granted. */
export async function claimSums(
  db: Database,
): Promise<
  { carrier: string; state: ClaimRow['state']; n: number; amount: number; granted: number; firstEnds: string }[]
> {
  const rows = (await db('claims')
    .select('carrier', 'state')
    .count({ n: '*' })
    .sum({ amount: 'amount', granted: 'granted' })
    .min({ firstEnds: 'claim_by' })
    .groupBy('carrier', 'state')
    .orderBy(['carrier', 'state'])) as {
    carrier: string
    state: ClaimRow['state']
    n: number
    amount: number
    granted: number | null
    firstEnds: string
  }[]
  return rows.map((row) => ({
    ...row,
    n: Number(row.n),
    amount: Number(row.amount),
    granted: Number(row.granted ?? 0),
  }))
}

/** A claim; undefined when there is none. */
export const claimById = (db: Database, id: number): Promise<ClaimRow | undefined> => db('claims').where({ id }).first()
/** All claims about an order. */
export const claimsOfOrder = (db: Database, order: number): Promise<ClaimRow[]> =>
  db('claims').where({ orderId: order }).orderBy('id')

/** Moves claims that are still in one of these states; gives those that were moved. */
export async function moveClaims(
  db: Database,
  ids: readonly number[],
  from: readonly ClaimRow['state'][],
  change: Partial<Pick<ClaimRow, 'state' | 'claimedAt' | 'settledAt' | 'granted' | 'note'>>,
): Promise<ClaimRow[]> {
  const moved: ClaimRow[] = []
  for (const part of chunks(ids, 400))
    moved.push(
      ...((await db('claims').whereIn('id', part).whereIn('state', from).update(change).returning('*')) as ClaimRow[]),
    )
  return moved
}

/** Lets go of what nobody claimed in time. */
export const endClaims = (db: Database, today: string, settledAt: string): Promise<number> =>
  db('claims')
    .where({ state: 'owed' })
    .where('claim_by', '<', today)
    .update({ state: 'let go', settledAt, note: 'Its time was over.' })
