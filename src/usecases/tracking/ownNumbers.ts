import { grams } from '@/core/units'
import { randomUUID } from 'node:crypto'
import { carriersOfNumber, readNumber } from '@/core/tracking'
import type { World } from '@/core/world'
import {
  addOwnLabel,
  decisionOf,
  fromJson,
  labelsByIds,
  labelsOfOrder,
  orderRow,
  ordersById,
  parcelsOfLabels,
  putOnBoard,
  setFlag,
  setShipmentState,
  writeLog,
  type Database,
  type LabelParcel,
  type LabelRow,
} from '@/data'
import { refuse, type Answer, type Application, type Refused } from '../shared/application'
import { currentWorld } from '../shared/changeWorld'
import { freshToken } from '../shared/freshId'
import { takeForOwn } from '../dispatch/stock/holdForLabels'
import { tellTheWorld } from './tellTheWorld'

/** Numbers under which an order left without a label of ours. */
export interface OwnNumbers {
  /** The carrier; empty where the form of the numbers says it. */
  readonly carrier: string
  readonly numbers: readonly string[]
}

interface Read {
  readonly ok: true
  readonly carrier: string
  readonly numbers: readonly string[]
}

/** The numbers as they are kept, and whose they are; or what is wrong with them. */
export function readOwnNumbers({ carrier, numbers }: OwnNumbers, world: World): Read | Refused {
  const carriers = world.carriers.filter(({ retired }) => !retired)
  if (numbers.length === 0) return refuse('bad-value', 'Enter the tracking number under which it left.')
  const wanted = foldName(carrier)
  const named = carriers.find(({ id, name }) => foldName(id) === wanted || foldName(name) === wanted)
  if (carrier !== '' && !named) return refuse('bad-value', `There is no carrier “${carrier}”: choose one of the list.`)
  const own = named ?? proposed(numbers[0]!, carriers)
  if (!own) return refuse('bad-value', `Choose the carrier: the form of ${numbers[0]!} says none, or several.`)
  const read: string[] = []
  for (const text of numbers) {
    const one = readNumber(text, own, carriers)
    if (!one.ok) return refuse('bad-value', one.sentence)
    if (read.includes(one.number)) return refuse('bad-value', `${one.number} is there twice.`)
    read.push(one.number)
  }
  return { ok: true, carrier: own.id, numbers: read }
}

const foldName = (name: string): string => name.trim().toLowerCase()

/** The one carrier whose form a number has. */
function proposed(text: string, carriers: World['carriers']): World['carriers'][number] | undefined {
  const found = carriersOfNumber(text, carriers)
  return found.length === 1 ? carriers.find(({ id }) => id === found[0]!.id) : undefined
}

/**
 * Records under which numbers an order left without a label of ours: channel and customer are told as of any other. An
 * order that has a label keeps it: that one is voided first.
 */
export async function recordOwnNumbers(
  gharry: Application,
  orderId: number,
  given: OwnNumbers,
  author: string = gharry.settings.author,
): Promise<Answer<{ label: number }>> {
  return gharry.db.transaction((trx) => recordOwnNumbersIn({ ...gharry, db: trx }, trx, orderId, given, author))
}

/** The same in a transaction of its cause. */
export async function recordOwnNumbersIn(
  gharry: Application,
  trx: Database,
  orderId: number,
  given: OwnNumbers,
  author: string,
): Promise<Answer<{ label: number }>> {
  const { world } = await currentWorld(trx)
  const read = readOwnNumbers(given, world)
  if (!read.ok) return read
  const row = await orderRow(trx, orderId)
  const [stored] = await ordersById(trx, [orderId])
  if (!row || !stored) return refuse('unknown-order', 'There is no such order.')
  const active = (await labelsOfOrder(trx, orderId)).find(({ state }) =>
    ['queued', 'bought', 'voiding'].includes(state),
  )
  if (active) return refuse('taken', 'This order has a label already: void it first, or leave it as it is.')
  if (row.state === 'cancelled' || row.state === 'combined')
    return refuse('not-waiting', `The order is ${row.state}: nothing of it leaves by itself.`)
  const outcome = (await decisionOf(trx, orderId))?.outcome
  const now = gharry.now().toISOString()
  const routed = outcome?.parcels ?? []
  const label = await addOwnLabel(
    trx,
    {
      orderId,
      key: `own-${randomUUID()}`,
      token: freshToken(),
      carrier: read.carrier,
      service: outcome?.quote?.carrier === read.carrier ? outcome.quote.service : '',
      location: outcome?.location ?? world.locations[0]?.id ?? '',
      trackingNumber: read.numbers[0]!,
      arrivesOn: outcome?.quote?.carrier === read.carrier ? outcome.quote.arrivesOn : null,
    },
    read.numbers.map((trackingNumber, i) => ({
      trackingNumber,
      preset: routed[i]?.preset ?? '',
      weight: routed[i]?.weight ?? grams(0),
      size: routed[i]?.size ?? [],
      contents: contentsOf(routed, read.numbers.length, i),
    })),
    now,
  )
  const [made] = await labelsByIds(trx, [label])
  if (made) await takeForOwn(trx, made, stored.order, now)
  await setShipmentState(trx, [orderId], 'labelled')
  await setFlag(trx, orderId, null)
  const name = world.carriers.find(({ id }) => id === read.carrier)?.name ?? read.carrier
  const sentence = `It left with ${name} under ${read.numbers.join(', ')}, without a label bought here`
  await writeLog(trx, [{ order: orderId, at: now, author, sentence }])
  // It is bought and gone in one moment: each channel is told at the one it wants.
  const after = (await orderRow(trx, orderId))!
  for (const moment of ['bought', 'dispatched'] as const)
    await tellTheWorld(gharry, trx, moment, [{ label, order: after }])
  await setShipmentState(trx, [orderId], 'dispatched')
  await putOnBoard(trx, [label])
  return { ok: true, label }
}

/**
 * As many numbers as parcels were foreseen: each is one of them. Otherwise the first has everything, the others
 * nothing.
 */
function contentsOf(
  routed: readonly Pick<LabelParcel, 'contents'>[],
  numbers: number,
  i: number,
): LabelParcel['contents'] {
  if (routed.length === numbers) return routed[i]?.contents ?? []
  return i === 0 ? [] : [{ item: 0, quantity: 0 }]
}

/** The numbers under which a voided label’s order leaves instead; null when there are none. */
export const replacementOf = ({ replacement }: Pick<LabelRow, 'replacement'>): (OwnNumbers & { by: string }) | null =>
  replacement === null ? null : fromJson<OwnNumbers & { by: string }>(replacement)

/** Whether exactly these numbers are on the active label already. */
export async function hasNumbers(trx: Database, label: number, numbers: readonly string[]): Promise<boolean> {
  const known = ((await parcelsOfLabels(trx, [label])).get(label) ?? []).map(({ trackingNumber }) => trackingNumber)
  return numbers.every((number) => known.includes(number))
}
