import { type Found, labelById, ordersById, type ReturnRow, returnsOf } from '@/data'
import { answerReturn } from '@/usecases/tracking/returns/answerReturn'
import { askReturnFor } from '@/usecases/tracking/returns/askReturn'
import { checkReturn } from '@/usecases/tracking/returns/checkReturn'
import { makeReturnLabel } from '@/usecases/tracking/returns/makeReturnLabel'
import { takeReturnNews } from '@/usecases/tracking/returns/returnNews'
import type { Application } from '@/usecases/shared/application'

/** What buyers of the last weeks want to send back: why, in which words, and how far each has come. */
const wishes: readonly (readonly [
  reason: string,
  words: string,
  until: 'asked' | 'ready' | 'coming' | 'here' | 'settled' | 'refused',
])[] = [
  ['damaged', 'Dented on one side. The box was fine.', 'asked'],
  ['wrong item', 'I ordered another size.', 'ready'],
  ['not as described', 'Smaller than on the picture.', 'asked'],
  ['wrong item', '', 'here'],
  ['came too late', 'I have bought one in the meantime.', 'ready'],
  ['changed mind', '', 'coming'],
  ['damaged', 'It came open in the box.', 'asked'],
  ['wrong item', 'Not what I ordered.', 'settled'],
  ['changed mind', 'Opened, but not used.', 'here'],
  ['not as described', 'Another colour than I thought.', 'refused'],
]

/** Returns of the demo, each as far as it has come; `urls` are the carriers' stand-ins. */
export async function comingBack(gharry: Application, urls: ReadonlyMap<string, string>): Promise<void> {
  const rows: { id: number; orderId: number }[] = await gharry
    .db('labels')
    .where({ state: 'bought', status: 'delivered', location: 'ghent' })
    .whereIn('carrier', ['heron', 'northlight'])
    .whereIn('order_id', gharry.db('orders').whereIn('country', ['BE', 'NL', 'DE', 'FR']).select('id'))
    .orderBy('delivered_at', 'desc')
    .limit(400)
    .select('id', 'order_id')
  // Some of them, not one after the other, and none that is alive.
  const orders = new Map(
    (
      await ordersById(
        gharry.db,
        rows.map(({ orderId }) => orderId),
      )
    ).map(({ id, order }) => [id, order]),
  )
  const sound = rows.filter(
    ({ orderId }) =>
      !orders.get(orderId)!.items.some(({ tags, dangerousGoods }) => tags.includes('live') || dangerousGoods !== ''),
  )
  const every = Math.max(1, Math.floor(sound.length / wishes.length))
  for (const [i, [reason, words, until]] of wishes.entries()) {
    const label = sound[i * every]
    if (!label) return
    const asked = await askReturnFor(gharry, { label: label.id, pieces: [{ item: 0, quantity: 1 }], reason, words })
    if (!asked.ok) throw new Error(asked.sentence)
    await goOn(gharry, (await returnsOf(gharry.db, { labelId: label.id })).at(-1)!, until, urls)
  }
}

async function goOn(
  gharry: Application,
  row: ReturnRow,
  until: (typeof wishes)[number][2],
  urls: ReadonlyMap<string, string>,
): Promise<void> {
  if (until === 'refused')
    return void (await answerReturn(gharry, {
      ...{ id: row.id, take: false, service: '', paidByBuyer: false },
      why: 'It is what our page shows and says.',
    }))
  if (row.state !== 'making') return
  await makeReturnLabel(gharry, row)
  if (until === 'ready') return
  const { trackingNumber, carrier } = (await returnsOf(gharry.db, { labelId: row.labelId })).at(-1)!
  await fetch(`${urls.get(carrier)}/admin/returns/drop`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ trackingNumber }),
  })
  const label = (await labelById(gharry.db, row.labelId))!
  const since = Date.parse(label.deliveredAt ?? gharry.now().toISOString())
  const news = (hours: number, status: 'collected' | 'in transit' | 'delivered', place: string) => ({
    ...{ id: `${trackingNumber}-${status}`, trackingNumber: trackingNumber!, status, place, text: '' },
    at: new Date(Math.min(since + hours * 3_600_000, gharry.now().getTime() - 3_600_000 * (60 - hours))).toISOString(),
  })
  const way = [news(20, 'collected', 'Counter'), news(30, 'in transit', 'Sorting centre')]
  await gharry.db.transaction(
    async (trx) =>
      void (await takeReturnNews(gharry, trx, carrier, until === 'coming' ? way : [...way, news(55, 'delivered', '')])),
  )
  if (until !== 'settled') return
  const found: Found[] = row.pieces.map(({ item, quantity }) => ({ item, quantity, condition: 'as new', kept: true }))
  await checkReturn(gharry, { id: row.id, found, amount: null, withShipping: true, note: 'Left bin of shelf B' })
}
