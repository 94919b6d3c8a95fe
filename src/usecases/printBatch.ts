import type { Readable } from 'node:stream'
import { DateTime } from 'luxon'
import { pdfFile, type LabelRequest } from '@/adapters'
import type { Order } from '@/core/order'
import { layoutLabel, layoutSlip, type Page, type SlipText } from '@/core/papers'
import type { Routed, World } from '@/core/rulebook'
import { formatMoney, formatWeight, money } from '@/core/units'
import { chunks, decisionOf, fromJson, labelById, labelsOfBatch, listChannels, newestWorld, ordersById, parcelsOfLabels, type Database, type LabelParcel, type LabelRow } from '@/data'
import type { Gharry } from './gharry'

const plainSlip: SlipText = { heading: '{{ order.channel }}', closing: '' }

/** The print file of a batch: for each bought label its packing slip and the label, in the order of the batch. Null when nothing is bought yet. */
export async function printBatch(gharry: Gharry, batch: number): Promise<Readable | null> {
  const labels = (await labelsOfBatch(gharry.db, batch)).filter((label) => label.state === 'bought')
  return labels.length === 0 ? null : print(gharry, labels, `Batch ${batch}`)
}

/** Slip and label of a single order. */
export async function printLabel(gharry: Gharry, labelId: number): Promise<Readable | null> {
  const label = await labelById(gharry.db, labelId)
  return !label || label.state !== 'bought' ? null : print(gharry, [label], `Label ${label.tracking_number ?? ''}`)
}

async function print(gharry: Gharry, labels: readonly LabelRow[], title: string): Promise<Readable> {
  const world = (await newestWorld(gharry.db))!.world
  const channels = new Map((await listChannels(gharry.db)).map((channel) => [channel.id, channel.name]))
  const file = pdfFile(title)
  const write = async (): Promise<void> => {
    for (const part of chunks(labels, 20)) {
      const orders = new Map((await ordersById(gharry.db, part.map((label) => label.order_id))).map(({ id, order }) => [id, order]))
      const parcels = await parcelsOfLabels(gharry.db, part.map((label) => label.id))
      for (const label of part) {
        const order = orders.get(label.order_id)!
        const own = parcels.get(label.id) ?? []
        for (const parcel of own) {
          for (const page of await slipPages(gharry.db, label, parcel, own.length, order, world, channels.get(order.channel) ?? order.channel)) file.add(page)
          file.add(labelPage(label, parcel, own.length, world))
        }
      }
      // Others want the processor too while a long file is made.
      await new Promise((resolve) => setImmediate(resolve))
    }
    file.end()
    await gharry.db('labels').whereIn('id', labels.map((label) => label.id).slice(0, 5000)).whereNull('printed_at').update({ printed_at: gharry.now().toISOString() })
  }
  write().catch((error: unknown) => {
    gharry.log.error({ err: error }, 'print file failed')
    file.stream.destroy(error instanceof Error ? error : new Error(String(error)))
  })
  return file.stream
}

async function slipPages(db: Database, label: LabelRow, parcel: LabelParcel, of: number, order: Order, world: World, channelName: string): Promise<Page[]> {
  const decided: Routed | undefined = (await decisionOf(db, label.order_id))?.outcome
  const template = world.slips.find((slip) => slip.id === decided?.decisions.slip) ?? world.slips[0] ?? plainSlip
  const request = fromJson<LabelRequest>(label.request)
  return layoutSlip({
    orderNumber: order.number, channelName, placedOn: DateTime.fromISO(order.placedAt, { zone: 'utc' }).toFormat('d LLL yyyy'), buyerName: order.buyer.name || order.shipTo.name,
    toLines: request.to.lines, parcelText: of > 1 ? `Parcel ${parcel.position} of ${of}` : '',
    items: [...inside(order, parcel), ...(parcel.position === 1 ? (decided?.decisions.inserts ?? []) : []).map(({ name }) => ({ sku: 'put in', title: name, quantity: 1 }))],
  }, template)
}

/** The items in a parcel; where the books do not say which, all of the order. */
const inside = (order: Order, { contents }: LabelParcel): { sku: string; title: string; quantity: number }[] =>
  contents.length === 0 ? order.items.map(({ sku, title, quantity }) => ({ sku, title, quantity })) : contents.flatMap(({ item, quantity }) => (order.items[item] ? [{ sku: order.items[item].sku, title: order.items[item].title, quantity }] : []))

function labelPage(label: LabelRow, parcel: LabelParcel, of: number, world: World): Page {
  const request = fromJson<LabelRequest>(label.request)
  return layoutLabel({
    carrierName: world.carriers.find((carrier) => carrier.id === label.carrier)?.name ?? label.carrier,
    serviceName: world.services.find((service) => service.id === label.service)?.name ?? label.service,
    trackingNumber: parcel.tracking_number ?? '', symbology: parcel.symbology ?? 'code128', routing: parcel.routing ?? '', reference: request.reference,
    weightText: formatWeight(parcel.weight), shippedOn: (label.bought_at ?? '').slice(0, 10), parcelText: `${parcel.position} of ${of}`, marks: [...(request.signature ? ['SIGNATURE'] : []), ...(request.toCollect > 0 ? [`COLLECT ${formatMoney(money(request.toCollect, world.rates.home))}`] : []), ...request.dangerousGoods], from: request.from, to: request.to,
  })
}
