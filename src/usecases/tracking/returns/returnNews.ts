import type { CarrierEvent } from '@/adapters'
import { afterNews, type TrackingStatus } from '@/core/tracking'
import {
  addLedger,
  addReturn,
  changeReturn,
  type Database,
  labelById,
  labelsByReturn,
  ordersById,
  parcelsOfLabels,
  type ReturnRow,
  returnsByNumbers,
  writeLog,
} from '@/data'
import type { Application } from '../../shared/application'
import { sellersDay } from '../../shared/sellersDay'
import { tellReturn } from './answerReturn'

const mostNews = 60

/**
 * Takes news of parcels on their way back, in the caller's transaction; gives the numbers that are of returns. A label
 * that lay in the box and is used without a word makes a return of its own. What a label costs is booked once, when it
 * is first used.
 */
export async function takeReturnNews(
  gharry: Application,
  trx: Database,
  carrier: string,
  events: readonly CarrierEvent[],
): Promise<ReadonlySet<string>> {
  const numbers = [...new Set(events.map(({ trackingNumber }) => trackingNumber))]
  if (numbers.length === 0) return new Set()
  await openThoseFromBoxes(gharry, trx, carrier, numbers)
  const rows = await returnsByNumbers(trx, carrier, numbers)
  for (const [number, row] of rows)
    await move(
      gharry,
      trx,
      row,
      events.filter(({ trackingNumber }) => trackingNumber === number),
    )
  return new Set(rows.keys())
}

/** Labels that lay in boxes and that no return uses yet. */
async function openThoseFromBoxes(
  gharry: Application,
  trx: Database,
  carrier: string,
  numbers: readonly string[],
): Promise<void> {
  const known = await returnsByNumbers(trx, carrier, numbers)
  const boxes = await labelsByReturn(
    trx,
    carrier,
    numbers.filter((number) => !known.has(number)),
  )
  for (const [number, { label, position }] of boxes) {
    const parcel = (await parcelsOfLabels(trx, [label.id])).get(label.id)?.find((one) => one.position === position)
    const [stored] = await ordersById(trx, [label.orderId])
    const pieces =
      parcel && parcel.contents.length > 0
        ? parcel.contents
        : (stored?.order.items ?? []).map(({ quantity }, item) => ({ item, quantity }))
    const now = gharry.now().toISOString()
    await addReturn(
      trx,
      {
        ...{ orderId: label.orderId, labelId: label.id, state: 'ready', reason: '', words: '', pieces },
        ...{ askedBy: 'the label in the box', location: label.location, key: `return-box-${number}` },
        ...{ carrier, service: label.service, account: label.account, trackingNumber: number },
        symbology: parcel?.symbology ?? 'code128',
      },
      now,
    )
    const sentence = 'The label in the box is used: something comes back'
    await writeLog(trx, [{ order: label.orderId, at: now, author: 'Gharry', sentence }])
  }
}

async function move(
  gharry: Application,
  trx: Database,
  row: ReturnRow,
  events: readonly CarrierEvent[],
): Promise<void> {
  const byTime = [...events].sort((a, b) => Date.parse(a.at) - Date.parse(b.at))
  const heard = new Set(row.news.map(({ at, status }) => `${at} ${status}`))
  const fresh = byTime.filter(({ at, status }) => !heard.has(`${at} ${status}`))
  if (fresh.length === 0) return
  let { status, statusAt } = row
  for (const event of fresh) {
    const next = afterNews({ status, at: statusAt }, event)
    if (next) [status, statusAt] = [next.status, next.at]
  }
  const used = row.usedAt ?? fresh.find((event) => event.status !== 'announced')?.at ?? null
  const news = [...row.news, ...fresh.map(({ at, status: said, place, text }) => ({ at, status: said, place, text }))]
  // What lapsed here, or was refused, and comes all the same, is on its way.
  const comes = used !== null && row.state !== 'checked' ? ({ state: 'coming' } as const) : {}
  await changeReturn(trx, row.id, [row.state], {
    ...{ status, statusAt, usedAt: used, news: news.slice(-mostNews) },
    ...comes,
  })
  const now = gharry.now().toISOString()
  if (row.usedAt === null && used !== null) {
    await bookUse(gharry, trx, row, now)
    await writeLog(trx, [
      { order: row.orderId, at: now, author: 'Gharry', sentence: 'What comes back is with the carrier' },
    ])
  }
  if (isThere(status) && !isThere(row.status)) await tellReturn(gharry, trx, row, 'return arrived')
}

const isThere = (status: string | null): boolean => (status as TrackingStatus | null) === 'delivered'

/** What the carrier said that the label costs; one from the box is known by the invoice alone. */
async function bookUse(gharry: Application, trx: Database, row: ReturnRow, now: string): Promise<void> {
  const label = await labelById(trx, row.labelId)
  if (!label || row.charge === 0) return
  const { carrier, service } = row
  await addLedger(trx, [
    {
      ...{ labelId: label.id, kind: `return ${row.id}`, at: now, day: await sellersDay(gharry, trx) },
      ...{ carrier, service, zone: label.zone, amount: row.charge },
    },
  ])
}
