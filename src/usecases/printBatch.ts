import type { Readable } from 'node:stream'
import { DateTime } from 'luxon'
import { pdfFile, type LabelRequest } from '@/adapters'
import type { Order } from '@/core/order'
import { layoutLabel, layoutSlip, type Page, type SlipText } from '@/core/papers'
import type { Routed, World } from '@/core/rulebook'
import { formatWeight } from '@/core/units'
import { chunks, decisionOf, fromJson, labelById, labelsOfBatch, listChannels, newestWorld, ordersById, type Database, type LabelRow } from '@/data'
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
      for (const label of part) {
        const order = orders.get(label.order_id)!
        for (const page of await slipPages(gharry.db, label, order, world, channels.get(order.channel) ?? order.channel)) file.add(page)
        file.add(labelPage(label, world))
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

async function slipPages(db: Database, label: LabelRow, order: Order, world: World, channelName: string): Promise<Page[]> {
  const decided: Routed | undefined = (await decisionOf(db, label.order_id))?.outcome
  const template = world.slips.find((slip) => slip.id === decided?.decisions.slip) ?? world.slips[0] ?? plainSlip
  const request = fromJson<LabelRequest>(label.request)
  return layoutSlip({
    orderNumber: order.number, channelName, placedOn: DateTime.fromISO(order.placedAt, { zone: 'utc' }).toFormat('d LLL yyyy'), buyerName: order.buyer.name || order.shipTo.name,
    toLines: request.to.lines, items: [...order.items.map(({ sku, title, quantity }) => ({ sku, title, quantity })), ...(decided?.decisions.inserts ?? []).map(({ name }) => ({ sku: 'put in', title: name, quantity: 1 }))],
  }, template)
}

function labelPage(label: LabelRow, world: World): Page {
  const request = fromJson<LabelRequest>(label.request)
  return layoutLabel({
    carrierName: world.carriers.find((carrier) => carrier.id === label.carrier)?.name ?? label.carrier,
    serviceName: world.services.find((service) => service.id === label.service)?.name ?? label.service,
    trackingNumber: label.tracking_number ?? '', symbology: label.symbology ?? 'code128', routing: label.routing ?? '', reference: request.reference,
    weightText: formatWeight(request.weight), shippedOn: (label.bought_at ?? '').slice(0, 10), parcelText: '1 of 1', marks: request.signature ? ['SIGNATURE'] : [], from: request.from, to: request.to,
  })
}
