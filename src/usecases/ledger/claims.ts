import { csvFile, xlsxFile } from '@/adapters'
import { claimsOwed, type Consigned } from '@/core/claims'
import type { Order } from '@/core/order'
import type { TrackingStatus } from '@/core/tracking'
import { toHome, minorUnits } from '@/core/units'
import type { World } from '@/core/world'
import {
  addClaims,
  addLedger,
  type ClaimableRow,
  claimable,
  claimById,
  type ClaimLine,
  claimsIn,
  claimSums,
  endClaims,
  fromJson,
  labelById,
  moveClaims,
  ordersById,
  writeLog,
} from '@/data'
import { refuse, type Answer, type Application } from '../shared/application'
import { currentWorld } from '../shared/changeWorld'
import { sellersDay } from '../shared/sellersDay'
import { decimalAmount } from './decimalAmount'

const dayMs = 86_400_000
/** Nothing is owed for longer. */
const longest = 120

/**
 * Looks what carriers owe by now, and writes it down; what nobody claimed in time is let go. Gives how many are new.
 */
export async function findClaims(gharry: Application): Promise<number> {
  const { db } = gharry
  const { world } = await currentWorld(db)
  const services = new Map(world.services.filter(({ claims }) => claims).map((service) => [service.id, service]))
  const now = gharry.now()
  const today = now.toISOString().slice(0, 10)
  await endClaims(db, today, now.toISOString())
  if (services.size === 0) return 0
  const since = new Date(now.getTime() - longest * dayMs).toISOString()
  const rows = await claimable(db, since, [...services.keys()])
  const orders = new Map<number, Order>()
  for (const { id, order } of await ordersById(db, [...new Set(rows.map(({ orderId }) => orderId))]))
    orders.set(id, order)
  const found = rows.flatMap((row) => {
    const order = orders.get(row.orderId)
    const service = services.get(row.service)
    if (!order || !service) return []
    return claimsOwed(service, consigned(row, order, world, today), today).map((claim) => ({
      ...{ labelId: row.labelId, position: row.position, orderId: row.orderId, carrier: row.carrier },
      ...{ kind: claim.kind, amount: claim.amount, reason: claim.reason, claimBy: claim.claimBy },
      foundAt: now.toISOString(),
    }))
  })
  return addClaims(db, found)
}

const elsewhere: ReadonlySet<string> = new Set<TrackingStatus>([
  ...(['held at customs', 'waiting to be fetched', 'returned', 'arrived back'] as const),
])

function consigned(row: ClaimableRow, order: Order, world: World, today: string): Consigned {
  const request = fromJson<{ shipOn?: string; insured?: number }>(row.request)
  const bought = row.boughtAt.slice(0, 10)
  return {
    charged: minorUnits(row.charged ?? 0),
    parcels: Number(row.parcels),
    value: minorUnits(valueIn(row, order, world)),
    insured: minorUnits(Math.floor((request.insured ?? 0) / Math.max(1, Number(row.parcels)))),
    shippedOn: request.shipOn ?? (row.dispatchedAt ?? bought).slice(0, 10),
    foreseen: row.arrivesOn,
    deliveredOn: row.deliveredAt?.slice(0, 10) ?? null,
    saidLost: row.status === 'lost',
    // Nobody misses what waits somewhere, or comes back.
    seenOn: elsewhere.has(row.status ?? '') ? today : (row.statusAt ?? row.dispatchedAt ?? bought).slice(0, 10),
    damagedOn: row.damagedAt?.slice(0, 10) ?? null,
  }
}

/** What is in a parcel is worth, home minor units; all of the order where the books do not say what is in it. */
function valueIn({ contents }: ClaimableRow, order: Order, world: World): number {
  const list = contents === null ? [] : fromJson<{ item: number; quantity: number }[]>(contents)
  if (list.length === 0) return toHome(order.value, world.rates) ?? 0
  return list.reduce((sum, { item, quantity }) => {
    const price = order.items[item]?.unitPrice
    return sum + (price ? (toHome(price, world.rates) ?? 0) * quantity : 0)
  }, 0)
}

export interface ClaimsView {
  readonly sums: Awaited<ReturnType<typeof claimSums>>
  readonly claims: readonly ClaimLine[]
  readonly carriers: Readonly<Record<string, string>>
  /** Services whose terms say what is owed; without any, nothing can be found. */
  readonly withTerms: number
}

/** What is owed and what was claimed, or what came of it. */
export async function showClaims(gharry: Application, settled: boolean, carrier?: string): Promise<ClaimsView> {
  const { world } = await currentWorld(gharry.db)
  const states = settled ? (['granted', 'refused', 'let go'] as const) : (['owed', 'claimed'] as const)
  return {
    sums: await claimSums(gharry.db),
    claims: await claimsIn(gharry.db, states, carrier, 500),
    carriers: Object.fromEntries(world.carriers.map(({ id, name }) => [id, name])),
    withTerms: world.services.filter(({ claims }) => claims).length,
  }
}

const columns = [
  ...['claim', 'reference', 'tracking number', 'service', 'for', 'because', 'sent on', 'foreseen for'],
  ...['delivered at', 'amount', 'currency', 'claim by'],
]

/** The file for a carrier: what is owed and not claimed yet. Null when there is nothing. */
export async function claimFile(gharry: Application, carrier: string, format: 'csv' | 'xlsx'): Promise<Buffer | null> {
  const { world } = await currentWorld(gharry.db)
  const lines = await claimsIn(gharry.db, ['owed'], carrier, 10_000)
  if (lines.length === 0) return null
  const { home } = world.rates
  const nameOf = (id: string): string => world.services.find((service) => service.id === id)?.name ?? id
  const rows = lines.map((line) => ({
    ...{ claim: `G-${line.id}`, reference: line.number, 'tracking number': line.trackingNumber },
    ...{ service: nameOf(line.service), for: line.kind, because: line.reason, 'sent on': line.boughtAt.slice(0, 10) },
    ...{ 'foreseen for': line.arrivesOn ?? '', 'delivered at': line.deliveredAt ?? '' },
    ...{ amount: decimalAmount(line.amount, home), currency: home, 'claim by': line.claimBy },
  }))
  return format === 'xlsx' ? xlsxFile('Claims', columns, rows) : csvFile(columns, rows)
}

/** A person has sent claims to their carrier. */
export async function markClaimed(gharry: Application, ids: readonly number[]): Promise<Answer<{ claimed: number }>> {
  const at = gharry.now().toISOString()
  return gharry.db.transaction(async (trx) => {
    const moved = await moveClaims(trx, ids, ['owed'], { state: 'claimed', claimedAt: at })
    await writeLog(
      trx,
      moved.map(({ orderId, kind, reason }) => ({
        ...{ order: orderId, at, author: gharry.settings.author },
        sentence: `Claimed at the carrier: ${kind}, ${reason}`,
      })),
    )
    return { ok: true as const, claimed: moved.length }
  })
}

/**
 * What a carrier granted of a claim is booked: it stands at the carrier, and shipping cost less. Nothing granted is a
 * refusal.
 */
export async function settleClaim(
  gharry: Application,
  id: number,
  granted: number,
  note: string,
): Promise<Answer<object>> {
  const claim = await claimById(gharry.db, id)
  if (!claim) return refuse('missing', 'There is no such claim (any more).')
  if (!Number.isInteger(granted) || granted < 0) return refuse('bad-value', 'Enter what was granted; 0 for nothing.')
  if (granted > claim.amount) return refuse('bad-value', 'More was granted than was claimed: look at the amount again.')
  const label = await labelById(gharry.db, claim.labelId)
  const at = gharry.now().toISOString()
  return gharry.db.transaction(async (trx): Promise<Answer<object>> => {
    const state = granted > 0 ? 'granted' : 'refused'
    const moved = await moveClaims(trx, [id], ['owed', 'claimed'], {
      state,
      settledAt: at,
      granted,
      note: note.slice(0, 300),
    })
    if (moved.length === 0) return refuse('taken', 'This claim is settled already.')
    const day = await sellersDay(gharry, trx)
    if (granted > 0 && label) {
      const { carrier, service, zone } = label
      await addLedger(trx, [
        { labelId: label.id, kind: `claim ${id}`, at, day, carrier, service, zone, amount: -granted },
      ])
    }
    const sentence = granted > 0 ? `Claim granted: ${claim.kind}` : `Claim refused: ${claim.kind}`
    await writeLog(trx, [{ order: claim.orderId, at, author: gharry.settings.author, sentence }])
    return { ok: true }
  })
}
