import { randomBytes } from 'node:crypto'
import type { HandedFile, HandOver, LabelRequest } from '@/adapters'
import { nobody, type Routed } from '@/core/rulebook/language'
import { usualSeller, type World } from '@/core/world'
import {
  addHandOvers,
  changeHeld,
  connectionById,
  decisionOf,
  dropHandOvers,
  fromJson,
  handBack,
  labelById,
  ordersById,
  outcomesOf,
  parcelsOfLabels,
  writeLog,
  type Database,
  type HandOverRow,
  type LabelRow,
} from '@/data'
import type { Application } from '../shared/application'
import { currentWorld } from '../shared/changeWorld'
import { freshToken } from '../shared/freshId'
import { onceIn } from '../shared/onceIn'
import { settleMessage } from '../shared/settleMessage'
import { itemsIn } from './parcelItems'
import { papersOf } from './printBatch'

/** Whom the papers of a shipment go to: as a rule or a hand pin says, else whose place its location is. */
function partnerFor(decided: Routed | undefined, location: string, world: World): string | null {
  const said = decided?.decisions.handOver ?? world.locations.find(({ id }) => id === location)?.partner ?? null
  return said === nobody ? null : said
}

/** Queues the hand-overs of what was just bought, in the transaction of its purchase; nothing of what stays here. */
export async function queueHandOvers(gharry: Application, trx: Database, labels: readonly LabelRow[]): Promise<void> {
  const { world } = await onceIn(trx, 'world', () => currentWorld(trx))
  // Most orders stay in the house: what was decided is asked only where somebody could take them.
  if ((world.partners ?? []).length === 0) return
  const decided = await outcomesOf(
    trx,
    labels.map(({ orderId }) => orderId),
  )
  const handed = labels.flatMap((label) => {
    const partner = partnerFor(decided.get(label.orderId), label.location, world)
    return partner === null ? [] : [{ label, partner }]
  })
  const now = gharry.now().toISOString()
  await addHandOvers(
    trx,
    handed.map(({ label, partner }) => ({
      ...{ kind: 'hand over' as const, key: `hand-over-${label.id}`, token: freshToken() },
      // Partners keep what they got: a reference is never used again, even by a Gharry that begins anew.
      reference: `H${label.id}-${randomBytes(3).toString('hex')}`,
      ...{ partner, orderId: label.orderId, labelId: label.id },
    })),
    now,
  )
  const nameOf = (partner: string): string => world.partners?.find(({ id }) => id === partner)?.name ?? partner
  await writeLog(
    trx,
    handed.map(({ label, partner }) => ({
      ...{ order: label.orderId, at: now, author: 'Gharry', sentence: `To be handed over to ${nameOf(partner)}` },
    })),
  )
}

/** Nothing is handed over any more for a voided label; what has left, or may have, is taken back. */
export async function takeBackHandOvers(gharry: Application, trx: Database, label: number): Promise<void> {
  const out = await dropHandOvers(trx, label)
  await addHandOvers(
    trx,
    out.map(({ reference, token, partner, orderId }) => ({
      kind: 'take back' as const,
      key: `take-back-${label}`,
      ...{ reference, token, partner, orderId, labelId: label },
    })),
    gharry.now().toISOString(),
  )
}

/** Hands papers over to a partner, or says that they are void. The key makes a repeated one the same one. */
export async function deliverHandOver(gharry: Application, row: HandOverRow): Promise<void> {
  const { db } = gharry
  const label = await labelById(db, row.labelId)
  // The carrier has not answered yet whether it takes the label back.
  if (row.kind === 'hand over' && label?.state === 'voiding') return handBack(db, 'handovers', row, gharry.now(), 2)
  const client = await gharry.partner(row.partner)
  const { world } = await currentWorld(db)
  const seller = world.seller ?? usualSeller
  const [stored] = await ordersById(db, [row.orderId])
  if (!label || !stored)
    return changeHeld(db, 'handovers', row, {
      state: 'failed',
      problem: 'The order does not exist any more.',
      leaseUntil: null,
    })
  const key = `${row.key}-${row.reference}`
  const result =
    row.kind === 'take back'
      ? await client.takeBack({ reference: row.reference, order: stored.order.number, seller }, key)
      : await client.handOver(
          await handOverOf(gharry, row, label, stored.order, world),
          [await papersFor(gharry, row, label)],
          key,
        )
  const more = result.ok ? { receipt: result.body.receipt } : {}
  await settleMessage(gharry, 'handovers', row, result, { partner: row.partner }, more)
}

/** The papers as the partner wants them. */
async function papersFor(
  gharry: Application,
  { partner, reference }: HandOverRow,
  label: LabelRow,
): Promise<HandedFile> {
  const settings = (await connectionById(gharry.db, partner))?.settings
  const wanted = settings === undefined ? undefined : fromJson<{ papers?: 'pdf' | 'zpl' }>(settings).papers
  const { content, format, type } = await papersOf(gharry, label, wanted ?? 'pdf')
  return { name: `${reference}.${format}`, type, content }
}

async function handOverOf(
  gharry: Application,
  row: HandOverRow,
  label: LabelRow,
  order: Awaited<ReturnType<typeof ordersById>>[number]['order'],
  world: World,
): Promise<HandOver> {
  const request = fromJson<LabelRequest>(label.request)
  const parcels = (await parcelsOfLabels(gharry.db, [label.id])).get(label.id) ?? []
  const decided = (await decisionOf(gharry.db, label.orderId))?.outcome
  const { name, company, lines, postcode, city, region, country } = order.shipTo
  return {
    reference: row.reference,
    order: order.number,
    location: world.locations.find(({ id }) => id === label.location)?.name ?? label.location,
    seller: world.seller ?? usualSeller,
    placedOn: order.placedAt.slice(0, 10),
    shipOn: request.shipOn,
    recipient: { name, company, lines, postcode, city, region, country, phone: order.buyer.phone },
    carrier: world.carriers.find(({ id }) => id === label.carrier)?.name ?? label.carrier,
    service: world.services.find(({ id }) => id === label.service)?.name ?? label.service,
    parcels: parcels.map((parcel) => ({
      trackingNumber: parcel.trackingNumber ?? '',
      weight: parcel.weight,
      items: itemsIn(order, parcel).map(({ sku, title, quantity }) => ({ sku, title, quantity })),
    })),
    inserts: (decided?.decisions.inserts ?? []).map((insert) => insert.name),
    message: order.message ?? '',
    answerUrl: `${gharry.settings.publicUrl}/partner/${row.token}`,
  }
}
