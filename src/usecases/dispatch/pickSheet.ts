import { layoutPickSheet, wholeSheet } from '@/core/papers'
import { pickList, toteCode, type Wanted } from '@/core/waves'
import { usualSeller } from '@/core/world'
import { batchSummaries, labelsOfBatch, newestWorld, ordersById, parcelsOfLabels } from '@/data'
import type { Application } from '../shared/application'
import { itemsIn } from './parcelItems'
import { keepPages, type PrintFile } from './printBatch'

/**
 * The pick list of a batch: each SKU once along the places, and a tote for each order. Null when nothing is to be
 * picked.
 */
export async function printPickSheet(gharry: Application, batch: number): Promise<PrintFile | null> {
  const { db } = gharry
  const [summary] = await batchSummaries(db, { id: batch })
  const labels = (await labelsOfBatch(db, batch)).filter(({ state }) => state === 'bought' || state === 'queued')
  if (!summary || labels.length === 0) return null
  const world = (await newestWorld(db))!.world
  const orders = new Map(
    (
      await ordersById(
        db,
        labels.map(({ orderId }) => orderId),
      )
    ).map(({ id, order }) => [id, order]),
  )
  const parcels = await parcelsOfLabels(
    db,
    labels.map(({ id }) => id),
  )
  const wanted = labels.flatMap((label): Wanted[] => {
    const order = orders.get(label.orderId)!
    return (parcels.get(label.id) ?? []).flatMap((parcel) =>
      itemsIn(order, parcel).map(({ sku, title, quantity }) => ({
        ...{ tote: label.position + 1, sku, title: title || sku, quantity },
      })),
    )
  })
  const [location] = new Set(labels.map((label) => label.location))
  const places = new Map(world.items.map(({ sku, places: own = {} }) => [sku, own[location ?? ''] ?? own[''] ?? '']))
  const stops = pickList(wanted, (sku) => places.get(sku) ?? '')
  const pieces = stops.reduce((sum, { quantity }) => sum + quantity, 0)
  const paper = wholeSheet((world.seller ?? usualSeller).paper)
  const from = world.locations.find(({ id }) => id === location)?.name ?? location ?? ''
  const pages = layoutPickSheet(
    {
      title: summary.name === '' ? `Batch ${batch}` : `${summary.name}, batch ${batch}`,
      about: `${from}: ${labels.length} ${labels.length === 1 ? 'order' : 'orders'}, ${pieces} pieces of ${stops.length} SKUs${summary.leavesBy ? `, leaves by ${summary.leavesBy.slice(11, 16)} UTC` : ''}`,
      totes: labels.map(({ position, orderId }) => ({
        ...{ tote: position + 1, number: orders.get(orderId)!.number, code: toteCode(batch, position + 1) },
      })),
    },
    stops,
    paper,
  )
  return keepPages(gharry, `Pick list ${batch}`, pages, paper)
}
