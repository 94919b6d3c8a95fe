import { type Place, placeNamed } from '@/adapters'
import type { ArrivalBook } from '@/core/arrival'
import type { Order } from '@/core/order'
import { type Language, type Face, readable, type ReadableColours } from '@/core/telling'
import type { TrackingStatus } from '@/core/tracking'
import type { World } from '@/core/world'
import {
  channelById,
  eventsOf,
  labelsOfOrder,
  type LabelParcel,
  type LabelRow,
  membersOf,
  newestWorld,
  newsBehind,
  orderOfBuyer,
  orderRows,
  ordersById,
  parcelsOfLabels,
  shipmentOf,
  type TrackingEventRow,
  wordsOfOrders,
} from '@/data'
import { itemsIn } from '../dispatch/parcelItems'
import { refuse, type Answer, type Application } from '../shared/application'
import { isLinkToken, labelByLink } from '../shared/links'
import { recently } from '../shared/recently'
import { rulebookInForce } from '../shared/rulebookInForce'
import { countWrong, type Tries, triesWait } from '../shared/tries'
import { publishedFaces } from './faces'
import { readerOf } from './notices'
import { type BackView, backView } from './returns/backView'
import { dayStillAhead } from './dayStillAhead'

/** One parcel as its customer sees it. Days are `YYYY-MM-DD`. */
export interface TrackedParcel {
  readonly number: string
  readonly status: TrackingStatus
  readonly arrivesOn: string
  /** The day on which it comes most likely, and that by which almost surely; empty where nothing is known. */
  readonly likely: string
  readonly surely: string
  /** Its day is past. */
  readonly late: boolean
  readonly deliveredAt: string | null
  readonly items: readonly { readonly title: string; readonly quantity: number }[]
  readonly events: readonly Pick<TrackingEventRow, 'at' | 'status' | 'place' | 'text'>[]
}

/** What a customer sees: one shipment, and nothing about anybody else. */
export interface ParcelView {
  readonly token: string
  readonly seller: string
  /** Where a customer may write; empty where the seller says none. */
  readonly sellerMail: string
  readonly face: Face
  readonly colours: ReadableColours
  readonly orders: readonly string[]
  readonly carrierName: string
  readonly parcels: readonly TrackedParcel[]
  /** Enough of the address to know it, and no more. */
  readonly address: string
  readonly stops: readonly Place[]
  /** The customer's, where the browser prefers none. */
  readonly language: Language
  readonly zone: string
  readonly back: BackView
  readonly words: readonly {
    readonly kind: 'note' | 'report'
    readonly about: string
    readonly text: string
    readonly day: string
    readonly at: string
    readonly answer: string
  }[]
}

// A link in a mail is read by many; some weeks after the parcel came, it leads nowhere.
const keptFor = 6 * 7 * 86_400_000

const isOver = ({ deliveredAt: delivered, boughtAt: bought }: LabelRow, now: number): boolean =>
  now - Date.parse(delivered ?? bought ?? '') > (delivered ? keptFor : 4 * keptFor)

/** The label behind the unguessable link of a mail, while the link leads somewhere. */
async function labelBehind(gharry: Application, token: string): Promise<LabelRow | undefined> {
  const label = await labelByLink(gharry.db, token)
  return label && !isOver(label, gharry.now().getTime()) ? label : undefined
}

/**
 * What the page behind a link rests on, as a text: the same as long as nothing of it has changed. How what is sent back
 * goes on is not in it.
 */
export const stateBehind = async ({ db }: Application, token: string): Promise<string> =>
  JSON.stringify([isLinkToken(token) ? await newsBehind(db, token) : undefined, await publishedFaces(db)])

/** By the unguessable link of the mail. */
export async function trackByLink(gharry: Application, token: string): Promise<ParcelView | null> {
  const label = await labelBehind(gharry, token)
  return label ? view(gharry, label) : null
}

/**
 * The address that the outermost of one's own proxies saw; what anybody else wrote before it is not believed. Without
 * a proxy it is not known.
 */
export function addressBehind(forwarded: string | null, proxies: number): string {
  const addresses = (forwarded ?? '')
    .split(',')
    .map((address) => address.trim())
    .filter(Boolean)
  return proxies === 0 ? '' : (addresses[addresses.length - proxies] ?? '').slice(0, 60)
}

/** Wrong tries of a kind in ten minutes: from one address, for one order number, and from everybody together. */
const wrongTries = {
  address: { name: 'parcel address', most: 10, minutes: 10 },
  order: { name: 'parcel order', most: 10, minutes: 10 },
  all: { name: 'parcels', most: 2000, minutes: 10 },
} as const satisfies Readonly<Record<string, Tries>>

/**
 * By order number and e-mail together. A wrong pair says the same whether the order exists or not. Wrong tries are
 * limited from one address, for one order number, and in all: then the door stays shut for a while.
 */
export async function findByOrder(
  gharry: Application,
  number: string,
  email: string,
  from: string,
): Promise<Answer<{ token: string }>> {
  const now = gharry.now().getTime()
  const doors = [
    { tries: wrongTries.order, key: number.trim().toLowerCase() },
    { tries: wrongTries.all, key: '' },
    ...(from === '' ? [] : [{ tries: wrongTries.address, key: from }]),
  ]
  const waits = await Promise.all(doors.map(({ tries, key }) => triesWait(gharry, tries, key)))
  if (waits.some((wait) => wait > 0))
    return refuse('too-many-tries', 'Too many tries. Please wait ten minutes, or use the link in your mail.')
  const order = await orderOfBuyer(gharry.db, number.trim(), email.trim().toLowerCase())
  const label =
    order !== undefined &&
    (await labelsOfOrder(gharry.db, (await shipmentOf(gharry.db, order)) ?? order))
      .reverse()
      .find((candidate) => candidate.state === 'bought' && !isOver(candidate, now))
  if (label) return { ok: true, token: label.token }
  for (const { tries, key } of doors) await countWrong(gharry, tries, key)
  return refuse(
    'not-found',
    'We cannot find a parcel for this order number and e-mail address. Check both, or use the link in your mail.',
  )
}

/** The world, and what was learned of its lanes. */
const worldFor = async (
  gharry: Application,
): Promise<{ readonly world: World | undefined; readonly arrivals: ArrivalBook | undefined }> => ({
  world: (await newestWorld(gharry.db))?.world,
  arrivals: (await rulebookInForce(gharry))?.ready.arrivals,
})

async function view(gharry: Application, label: LabelRow): Promise<ParcelView | null> {
  const { db } = gharry
  if (!label.trackingNumber || label.state === 'voided' || label.state === 'voiding') return null
  const [stored] = await ordersById(db, [label.orderId])
  if (!stored) return null
  const { order } = stored
  const known = await recently(db, 'world for customers', () => worldFor(gharry))
  const { world, arrivals } = known
  const [channel, members, faces] = await Promise.all([
    channelById(db, order.channel),
    membersOf(db, label.orderId),
    publishedFaces(db),
  ])
  const face = faces.channels[order.channel] ?? faces.all
  const parcels = (await parcelsOfLabels(db, [label.id])).get(label.id) ?? []
  const events = await eventsOf(db, label.id)
  const today = gharry.now().toISOString().slice(0, 10)
  const way = { service: label.service, zone: label.zone, location: label.location, country: order.shipTo.country }
  const ahead = (percent: number): string => dayStillAhead(arrivals, way, label.arrivesOn, percent, today) ?? ''
  const days = { likely: ahead(50), surely: ahead(90) }
  const reader = readerOf(order, channel)
  return {
    token: label.token,
    seller: world?.seller?.name ?? '',
    sellerMail: world?.seller?.mail ?? '',
    face,
    colours: readable(face.colours),
    orders: members.length > 0 ? (await orderRows(db, members)).map(({ number }) => number) : [order.number],
    carrierName: world?.carriers.find((carrier) => carrier.id === label.carrier)?.name ?? label.carrier,
    parcels: parcels.map((parcel) => tracked(parcel, label, order, events, days, today)),
    address: face.show.address ? partOfAddress(order) : '',
    stops: face.show.map ? stopsOf(world, label, order, events) : [],
    ...{ language: reader.language, zone: reader.zone },
    back: await backView(gharry, label, order, parcels, world, face.asks.returns !== false),
    words: (await wordsOfOrders(db, [label.orderId]))
      .filter(({ about, letterId }) => about !== 'answer' && letterId === null)
      .map(({ kind, about, text, day, at, answer }) => ({ kind, about, text, day, at, answer })),
  }
}

function tracked(
  parcel: LabelParcel,
  label: LabelRow,
  order: Order,
  events: readonly TrackingEventRow[],
  days: { readonly likely: string; readonly surely: string },
  today: string,
): TrackedParcel {
  const status = (parcel.status ?? label.status ?? 'announced') as TrackingStatus
  // News that names no parcel is about the whole shipment.
  const own = events.filter(({ position }) => position === parcel.position || position === 0)
  const delivered = own.find((event) => event.status === 'delivered')?.at ?? label.deliveredAt
  return {
    number: parcel.trackingNumber ?? '',
    status,
    arrivesOn: label.arrivesOn ?? '',
    ...days,
    late: label.arrivesOn !== null && label.arrivesOn < today,
    deliveredAt: status === 'delivered' ? delivered : null,
    items: itemsIn(order, parcel).map(({ title, sku, quantity }) => ({ title: title || sku, quantity })),
    events: own.map(({ at, status: seen, place, text }) => ({ at, status: seen, place, text })),
  }
}

/** First name and initial, postcode without its end, city. */
function partOfAddress({ shipTo }: Order): string {
  const [first = '', ...rest] = shipTo.name.split(' ').filter(Boolean)
  const name = [first, rest.length > 0 ? `${rest.at(-1)!.slice(0, 1)}.` : ''].filter(Boolean).join(' ')
  const postcode = shipTo.postcode.length > 3 ? `${shipTo.postcode.slice(0, -2)}··` : shipTo.postcode
  return [name || shipTo.company, [postcode, shipTo.city].filter(Boolean).join(' ')].filter(Boolean).join(', ')
}

/** Where it left, where it was seen, and where it goes: as far as the shipped map knows the places. */
function stopsOf(
  world: World | undefined,
  label: LabelRow,
  { shipTo }: Order,
  events: readonly TrackingEventRow[],
): readonly Place[] {
  const from = world?.locations.find(({ id }) => id === label.location)
  const countries = [from?.country ?? '', shipTo.country]
  const names = [from?.address?.city ?? from?.name ?? '', ...events.map(({ place }) => place)]
  const stops = names.flatMap((name) => placeNamed(name, countries) ?? [])
  const end = placeNamed(shipTo.city, [shipTo.country])
  return [...stops, ...(end ? [end] : [])].filter((stop, i, all) => i === 0 || all[i - 1]!.name !== stop.name)
}
