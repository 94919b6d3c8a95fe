import { createHash } from 'node:crypto'
import { cutText, isHandled, type Order, unNumbers } from '@/core/order'
import { carrierKindOf, type LabelRequest } from '@/adapters'
import { isPostOfficeBox, printedAddress } from '@/core/address'
import { printedLocation } from '@/core/world'
import type { Parcel } from '@/core/packing'
import { amountToInsure } from '@/core/rulebook/decide'
import type { Pins, Routed } from '@/core/rulebook/language'
import { toHome } from '@/core/units'
import {
  balanceOf,
  carrierAccounts,
  carrierConnections,
  type ConnectionRow,
  onOrderAt,
  orderRows,
  ordersById,
  pinsOf,
  type OrderRow,
} from '@/data'
import type { Application } from '../shared/application'
import { factHash } from '../shared/factHash'
import { aboveCeiling } from '../ledger/balances'
import { declaredItems } from './parcelPapers'
import { decide } from '../shared/routeOrders'
import { accountFor } from '../shared/accounts'
import { rulebookInForce, type InForce } from '../shared/rulebookInForce'
import { restoredBooks, type RestoredBooks } from '../shared/restoredBooks'
import { stockKeepers, stockTaker } from '../shared/stockInForce'

/** One order of a batch before it is bought. */
export interface PlannedLabel {
  readonly order: number
  readonly number: string
  readonly buyer: string
  readonly country: string
  readonly carrier: string
  readonly service: string
  readonly zone: string
  readonly location: string
  /** The connection of the account that it is bought with. */
  readonly account: string
  readonly cost: number
  /** Without the contract's discount. */
  readonly listPrice: number
  /** What the buyer paid for shipping; null where its currency has no rate. */
  readonly buyerPaid: number | null
  /** The rule that chose the service; empty without one. */
  readonly rule: string
  readonly lines: readonly { readonly what: string; readonly minor: number }[]
  readonly arrivesOn: string
  readonly daysLate: number | null
  readonly request: LabelRequest
  readonly parcels: readonly Parcel[]
  /** What it was planned on: the facts of the order and its hand pins, as a fingerprint. */
  readonly basis: string
}

export interface BatchPlan {
  readonly labels: readonly PlannedLabel[]
  readonly blocked: readonly { readonly order: number; readonly number: string; readonly reason: string }[]
  readonly total: number
  /** By how much the total goes above what may be spent today without approval. */
  readonly above: number
  readonly byService: readonly { readonly service: string; readonly count: number; readonly cost: number }[]
  /** What is left at each prepaid carrier of the plan when all that is on order is paid, home minor units. */
  readonly balances: Readonly<Record<string, number>>
  /** Orders whose decision has changed since it was made, by the clock alone (a cut-off has passed). */
  readonly moved: number
  /** The edition and the world that it was decided by. */
  readonly edition: number
  readonly world: number
  /** Orders among them that go to the same buyer and address, and could be one shipment. */
  readonly together: readonly (readonly number[])[]
}

/**
 * What buying these orders would do: each cost, the total, and what cannot be bought and why. Decisions are made again
 * for this moment, as a cut-off may have passed since the order was routed. `taking` are numbers of orders whose label
 * is bought already, and is taken over.
 */
export async function planBatch(
  gharry: Application,
  ids: readonly number[],
  taking: ReadonlySet<string> = new Set(),
): Promise<BatchPlan> {
  const inForce = await rulebookInForce(gharry)
  const rows = new Map((await orderRows(gharry.db, ids)).map((row) => [row.id, row]))
  const facts = new Map((await ordersById(gharry.db, ids)).map(({ id, order }) => [id, order]))
  const pins = await pinsOf(gharry.db, ids)
  const accounts = (await carrierConnections(gharry.db)).filter(({ on }) => on)
  const labels: PlannedLabel[] = []
  const blocked: { order: number; number: string; reason: string }[] = []
  let moved = 0
  const decided = new Map(
    [...facts].flatMap(([id, order]) =>
      inForce ? [[id, decide(order, inForce, gharry.now(), pins.get(id))] as const] : [],
    ),
  )
  const take = await stockTaker(
    gharry.db,
    await stockKeepers(gharry.db),
    [...decided].map(([id, { location }]) => ({ location: location ?? '', items: facts.get(id)!.items })),
  )
  const whyAfterRestore = afterRestore(await restoredBooks(gharry))
  for (const id of byPriority(ids, rows)) {
    const row = rows.get(id)
    const order = facts.get(id)
    if (!row || !order || !inForce) {
      blocked.push({
        order: id,
        number: row?.number ?? `#${id}`,
        reason: inForce ? 'There is no such order.' : 'No rulebook is published yet.',
      })
      continue
    }
    const routed = decided.get(id)!
    const reason =
      whyNot(row, routed, accounts) ??
      (taking.has(row.number) ? null : whyAfterRestore(row.number)) ??
      outOfStock(take(routed.location ?? '', order.items), routed, inForce)
    if (reason) blocked.push({ order: id, number: row.number, reason })
    else {
      const planned = {
        ...plan(row, order, routed, inForce, pins.get(id)),
        account: usedAccount(accounts, routed.quote!.carrier, routed.location ?? '')!.id,
      }
      if (planned.service !== row.service || planned.cost !== row.cost || planned.arrivesOn !== row.arrivesOn) moved++
      labels.push(planned)
    }
  }
  const total = labels.reduce((sum, label) => sum + label.cost, 0)
  return {
    labels,
    blocked,
    total,
    above: await aboveCeiling(gharry, total),
    edition: inForce?.edition ?? 0,
    world: inForce?.worldVersion ?? 0,
    byService: groupByService(labels),
    balances: await balancesFor(gharry, new Set(labels.map(({ carrier }) => carrier)), accounts),
    moved,
    together: togetherOf(labels, rows),
  }
}

/** Why an order waits for what is not there; null when all of it is. */
function outOfStock(
  missing: { readonly sku: string; readonly left: number } | null,
  { location }: Routed,
  { ready }: InForce,
): string | null {
  if (missing === null) return null
  const place = ready.world.locations.find(({ id }) => id === location)?.name ?? location
  const left = missing.left === 0 ? 'none' : `only ${missing.left}`
  return `Not in stock in ${place}: ${left} of ${missing.sku} is free. Count it under Dispatch, Stock, if it is there.`
}

async function balancesFor(
  { db }: Application,
  carriers: ReadonlySet<string>,
  accounts: readonly ConnectionRow[],
): Promise<Readonly<Record<string, number>>> {
  const balances: Record<string, number> = {}
  const limits = new Map((await carrierAccounts(db)).map(({ carrier, creditLimit }) => [carrier, creditLimit]))
  for (const carrier of carriers) {
    const limit = limits.get(carrier) ?? null
    if (limit !== null || isPrepaid(accounts, carrier))
      balances[carrier] = (await balanceOf(db, carrier)) + (limit ?? 0) - (await onOrderAt(db, carrier))
  }
  return balances
}

/** Whether labels of the carrier are paid out of a balance. */
const isPrepaid = (accounts: readonly ConnectionRow[], carrier: string): boolean =>
  accounts.some(({ belongsTo, kind }) => belongsTo === carrier && carrierKindOf(kind)?.can.prepaid === true)

/** The account that a location buys with; those that are off are not bought with. */
const usedAccount = (
  accounts: readonly ConnectionRow[],
  carrier: string,
  location: string,
): ConnectionRow | undefined =>
  accountFor(
    accounts.filter(({ belongsTo }) => belongsTo === carrier),
    { location },
  )

/** Urgent orders first; otherwise as they were given. */
const byPriority = (ids: readonly number[], rows: ReadonlyMap<number, OrderRow>): number[] =>
  [...ids].sort((a, b) => (rows.get(a)?.priority ?? 1) - (rows.get(b)?.priority ?? 1))

/** Tells by its number why an order is not bought, though it can be, after the books were put back; null where nothing is in the way. */
function afterRestore(books: RestoredBooks | null): (number: string) => string | null {
  if (books?.done === false)
    return () =>
      'The books were put back to an earlier moment: nothing is bought until the carriers have said what was bought since.'
  const found = new Set(books?.open.map(({ reference }) => reference))
  return (number) =>
    found.has(number)
      ? 'A label for it was bought before the books were restored, and is in no order yet: see Health in the set-up.'
      : null
}

function whyNot(row: OrderRow, routed: Routed, accounts: readonly ConnectionRow[]): string | null {
  if (row.state === 'buying') return 'It is being bought already.'
  if (row.state === 'cancelled') return 'It is cancelled.'
  if (row.state === 'combined') return 'It goes in the shipment of several orders: buy that one.'
  if (row.state !== 'attention' && row.state !== 'held' && row.state !== 'ready') return `It is ${row.state} already.`
  if (routed.problems[0]) return routed.problems[0].sentence
  if (routed.decisions.hold !== null) return `It is held: ${routed.decisions.hold}.`
  if (!routed.quote || routed.parcels.length === 0) return 'No service was decided.'
  const { carrier } = routed.quote
  if (!accounts.some(({ belongsTo }) => belongsTo === carrier))
    return `The carrier "${carrier}" has no connection: choose another service.`
  return usedAccount(accounts, carrier, routed.location ?? '') === undefined
    ? `The carrier "${carrier}" has no account that this location uses: choose another service, or set one up.`
    : null
}

/** What a plan rests on: when it has changed by the time of buying, the order is planned anew. */
export const basisOf = (order: Order, pins: Pins | undefined): string =>
  createHash('sha1')
    .update(factHash(order))
    .update(JSON.stringify(Object.entries(pins ?? {}).sort(([a], [b]) => (a < b ? -1 : 1))))
    .digest('base64')

function plan(
  row: OrderRow,
  order: Order,
  routed: Routed,
  inForce: InForce,
  pins: Pins | undefined,
): Omit<PlannedLabel, 'account'> {
  const quote = routed.quote!
  const location = inForce.ready.world.locations.find((candidate) => candidate.id === routed.location)!
  return {
    order: row.id,
    number: row.number,
    buyer: row.buyer,
    country: row.country,
    carrier: quote.carrier,
    service: quote.service,
    zone: quote.zone,
    location: location.id,
    cost: quote.cost,
    listPrice: quote.list,
    buyerPaid: toHome(order.shippingPaid, inForce.ready.world.rates),
    rule: ruleOf(routed),
    lines: quote.lines,
    arrivesOn: quote.arrivesOn,
    daysLate: routed.daysLate,
    parcels: routed.parcels,
    basis: basisOf(order, pins),
    request: {
      service: quote.service,
      fromCountry: location.country,
      toCountry: order.shipTo.country,
      toPostcode: order.shipTo.postcode,
      from: {
        lines: printedLocation(location),
      },
      to: { lines: printedAddress(order.shipTo) },
      parcels: routed.parcels.map(({ weight, size, dangerousGoods, notStackable }) => ({
        weight,
        size,
        ...(dangerousGoods ? { dangerousGoods } : {}),
        ...(notStackable === undefined ? {} : { notStackable }),
      })),
      reference: fillReference(routed.decisions.reference, order),
      shipOn: quote.leavesOn,
      signature: routed.decisions.signature,
      toCollect: order.paymentMethod === 'cash on delivery' ? (row.value ?? 0) : 0,
      residential: routed.residential,
      postOfficeBox: isPostOfficeBox(order.shipTo.lines),
      notStackable: order.items.some((item) => isHandled(item, 'not stackable')),
      dangerousGoods: unNumbers(order.items),
      duties: routed.decisions.duties,
      returnLabel: routed.decisions.returnLabel,
      customs: routed.trade === 'export' ? declaredItems(order.items) : null,
      currency: inForce.ready.world.rates.home,
      insured: amountToInsure(routed.decisions.insurance, row.value, inForce.ready) ?? 0,
    },
  }
}

/** Which rule chose the service; a person's choice is no rule's. */
function ruleOf({ trail }: Routed): string {
  const by = trail.decisions.find(({ decision }) => decision === 'picks')?.by
  if (by?.kind === 'rule') return by.rule
  return by?.kind === 'pin' ? 'by hand' : ''
}

const fillReference = (template: string, order: Order): string =>
  cutText(
    template
      .replaceAll('{number}', order.number)
      .replaceAll('{channel}', order.channel)
      .replaceAll('{sku}', order.items[0]?.sku ?? ''),
    35,
  )

function togetherOf(labels: readonly PlannedLabel[], rows: ReadonlyMap<number, OrderRow>): number[][] {
  const groups = new Map<string, number[]>()
  for (const { order } of labels) {
    const { combineKey: key, pinned } = rows.get(order)!
    if (key !== '' && !pinned) groups.set(key, [...(groups.get(key) ?? []), order])
  }
  return [...groups.values()].filter((group) => group.length > 1)
}

function groupByService(labels: readonly PlannedLabel[]): { service: string; count: number; cost: number }[] {
  const groups = new Map<string, { service: string; count: number; cost: number }>()
  for (const { service, cost } of labels) {
    const group = groups.get(service) ?? { service, count: 0, cost: 0 }
    groups.set(service, { service, count: group.count + 1, cost: group.cost + cost })
  }
  return [...groups.values()].sort((a, b) => b.count - a.count)
}
