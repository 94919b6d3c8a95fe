import { buffer } from 'node:stream/consumers'
import { pdfFile } from '@/adapters'
import { type Declaration, declarationPages, declaredValue, layoutLabel, type Page } from '@/core/papers'
import { english, money, notationOf } from '@/core/units'
import { usualSeller } from '@/core/world'
import { filesOfReturns, ordersById, returnById, returnFile, type ReturnRow } from '@/data'
import type { Application } from '../../shared/application'
import { currentWorld } from '../../shared/changeWorld'
import { labelByLink } from '../../shared/links'

/**
 * The label of a return as a PDF: as the carrier drew it, else drawn here, with customs papers behind; null when there
 * is none.
 */
export async function returnPdf(gharry: Application, row: ReturnRow): Promise<Buffer | null> {
  const [given] = (await filesOfReturns(gharry.db, [row.id], 'pdf')).get(row.id) ?? []
  if (given !== undefined) return (await returnFile(gharry.db, given))?.content ?? null
  if (row.trackingNumber === null || row.state === 'refused' || row.state === 'lapsed') return null
  const pages = await pagesOf(gharry, row, row.trackingNumber)
  const pdf = pdfFile(`Return of ${row.trackingNumber}`)
  for (const page of pages) pdf.add(page)
  pdf.end()
  return buffer(pdf.stream)
}

async function pagesOf(gharry: Application, row: ReturnRow, number: string): Promise<Page[]> {
  const { world } = await currentWorld(gharry.db)
  const [stored] = await ordersById(gharry.db, [row.orderId])
  const { request } = row
  if (!stored || !request) return []
  const { seller = usualSeller } = world
  const nameIn = (list: readonly { readonly id: string; readonly name: string }[], id: string): string =>
    list.find((one) => one.id === id)?.name ?? id
  const label = layoutLabel({
    carrierName: nameIn(world.carriers, row.carrier),
    serviceName: nameIn(world.services, row.service),
    trackingNumber: number,
    ...{ symbology: row.symbology, routing: row.routing || 'RETURN', reference: request.reference },
    weightText: notationOf(english.locale, seller.units).weight(request.weight),
    ...{ shippedOn: '', parcelText: '1 of 1', marks: [`Return of ${stored.order.number}`] },
    ...{ from: request.from, to: request.to },
  })
  if (!request.customs) return [label]
  const declaration: Declaration = {
    ...{ number, reference: request.reference, from: request.from.lines, to: request.to.lines },
    ...{ items: request.customs, grossWeight: request.weight, shippedOn: gharry.now().toISOString().slice(0, 10) },
    ...{ incoterm: 'DAP', shippingPaid: money(0, declaredValue(request.customs)?.currency ?? world.rates.home) },
    sender: request.from.lines[0] ?? '',
  }
  return [label, ...declarationPages(declaration, 'CN 23')]
}

/** The label of a return for the buyer whose page this is; null when it is not theirs, or there is none. */
export async function returnLabelFor(gharry: Application, token: string, id: number): Promise<Buffer | null> {
  const label = await labelByLink(gharry.db, token)
  const row = await returnById(gharry.db, id)
  return label && row?.labelId === label.id && (row.state === 'ready' || row.state === 'coming')
    ? returnPdf(gharry, row)
    : null
}
