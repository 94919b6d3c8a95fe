import type { ListedLabel, ListedPayment } from '@/adapters'
import {
  addAudit,
  carrierConnections,
  giveFoundKey,
  type ConnectionRow,
  labelsByKeys,
  ordersByNumber,
  writeLog,
} from '@/data'
import { buyBatch } from '../dispatch/buyBatch'
import { forgetAgain } from '../privacy/forget'
import { planBatch } from '../dispatch/planBatch'
import { takeFoundTopUp } from '../ledger/balances'
import { requestVoid } from '../dispatch/voidLabel'
import { type Answer, type Application, refuse } from '../shared/application'
import { keepRestored, newRestored, restoredBooks, type RestoredBooks } from '../shared/restoredBooks'

/*
 * After a restore the carriers know of labels and top-ups that the books have lost: bought and sent after the last part
 * of the backup. Their lists are compared with the books before anything is bought, so that nothing that is paid is
 * unknown, and nothing is bought twice.
 */

/** So much earlier than the books end, carriers are asked: clocks differ. */
const earlierMs = 3_600_000

/** The books are those of a moment, whoever put them back: before anything is bought, carriers are asked what was since. */
export async function askCarriersSince(gharry: Application, until: string): Promise<void> {
  const at = gharry.now().toISOString()
  await keepRestored(gharry, newRestored({ backup: '', until, restoredAt: at }))
  const action = 'asked for a comparison of the books with the carriers'
  await addAudit(gharry.db, { action, about: 'books', after: { until } }, at)
}

/** Compares what is not compared yet; takes over labels whose orders have come in meanwhile. */
export async function compareWithCarriers(gharry: Application): Promise<void> {
  const books = await restoredBooks(gharry)
  if (!books) return
  if (!books.forgotten) {
    await forgetAgain(gharry)
    books.forgotten = true
    await keepRestored(gharry, books)
  }
  if (books.done && books.open.length === 0) return
  const accounts = (await carrierConnections(gharry.db)).filter(({ on }) => on)
  for (const account of accounts) {
    if (books.compared.includes(account.id) || books.without.includes(account.id)) continue
    const paid = await paymentsOf(gharry, account, books.until)
    const listed = paid === 'not now' ? paid : await listOf(gharry, account, books.until)
    for (const { key, amount, at } of paid === 'not now' ? [] : paid)
      if (await takeFoundTopUp(gharry, { key, carrier: account.belongsTo, amount: amount.minor, at })) books.toppedUp++
    if (listed === 'no list') books.without.push(account.id)
    else if (listed !== 'not now') {
      books.open.push(...(await compared(gharry, account, listed)))
      books.compared.push(account.id)
    }
    await keepRestored(gharry, books)
  }
  const open: RestoredBooks['open'] = []
  for (const label of books.open) {
    const why = await takeOver(gharry, label)
    if (why === null) books.taken++
    else open.push({ ...label, why })
  }
  const done = accounts.every(({ id }) => books.compared.includes(id) || books.without.includes(id))
  if (done && !books.done) {
    const { backup, until, taken, toppedUp, without } = books
    const after = {
      backup,
      until,
      taken,
      toppedUp,
      open: open.map(({ trackingNumber, account }) => ({ trackingNumber, account })),
      without,
    }
    await addAudit(
      gharry.db,
      { action: 'compared the books with the carriers after a restore', about: 'books', after },
      gharry.now().toISOString(),
    )
  }
  await keepRestored(gharry, { ...books, open, done })
}

/** What was paid in to an account; nothing where its interface does not list it, or nothing is paid in. */
async function paymentsOf(
  gharry: Application,
  { id, belongsTo }: ConnectionRow,
  until: string,
): Promise<readonly ListedPayment[] | 'not now'> {
  const carrier = await gharry.carrier(belongsTo, { account: id })
  if (!carrier) return 'not now'
  const paid = await carrier.paymentsSince?.(sinceFor(until))
  return paid && !paid.ok ? 'not now' : (paid?.body.payments ?? [])
}

const sinceFor = (until: string): string => new Date(Date.parse(until) - earlierMs).toISOString()

async function listOf(
  gharry: Application,
  { id, belongsTo }: ConnectionRow,
  until: string,
): Promise<ListedLabel[] | 'no list' | 'not now'> {
  const carrier = await gharry.carrier(belongsTo, { account: id })
  if (!carrier) return 'not now'
  if (!carrier.labelsSince) return 'no list'
  const since = sinceFor(until)
  const labels: ListedLabel[] = []
  for (let cursor = ''; ;) {
    const page = await carrier.labelsSince(since, cursor)
    if (!page.ok) {
      gharry.log.warn({ account: id, kind: page.kind }, 'the list of labels after a restore is not there yet')
      return 'not now'
    }
    labels.push(...page.body.labels)
    if (!page.body.more || page.body.cursor === cursor) return labels
    cursor = page.body.cursor
  }
}

/** What the carrier has and the books do not; a label that it has voided meanwhile is voided here too. */
async function compared(
  gharry: Application,
  account: ConnectionRow,
  listed: readonly ListedLabel[],
): Promise<RestoredBooks['open']> {
  const known = new Map(
    (
      await labelsByKeys(
        gharry.db,
        listed.map(({ key }) => key),
      )
    ).map((row) => [row.key, row]),
  )
  for (const label of listed) {
    const row = known.get(label.key)
    // Asked for once more, the carrier says that it is done.
    if (row?.state === 'bought' && label.state === 'voided') await requestVoid(gharry, row.id)
  }
  return listed
    .filter(({ key, state }) => state === 'bought' && !known.has(key))
    .map(({ key, reference, service, trackingNumber, charged }) => ({
      ...{ account: account.id, carrier: account.belongsTo, key, reference, service, trackingNumber },
      ...{ charged: { minor: charged.minor, currency: charged.currency }, why: '' },
    }))
}

/** Asks for the label under its own key, for its order; why that cannot be done, null when it is under way. */
async function takeOver(gharry: Application, label: RestoredBooks['open'][number]): Promise<string | null> {
  const ids = (await ordersByNumber(gharry.db, label.reference)).map((order) => order.id)
  if (ids.length === 0) return 'No order has this number.'
  if (ids.length > 1) return 'Several orders have this number.'
  const [id] = ids as [number]
  // Its order was put into a batch before anybody knew: what is asked for is the label that is there.
  if (await giveFoundKey(gharry.db, id, label)) {
    await logFound(gharry, id, label.trackingNumber)
    return null
  }
  const plan = await planBatch(gharry, ids, new Set([label.reference]))
  if (plan.labels.length === 0) return plan.blocked[0]?.reason ?? 'Its order cannot be bought.'
  const { key, account, carrier, service } = label
  const answer = await buyBatch(gharry, ids, plan.total, 'bought before the books were restored', null, {
    found: new Map([[id, { key, account, carrier, service }]]),
    taking: new Set([label.reference]),
  })
  if (!answer.ok) return answer.sentence
  await logFound(gharry, id, label.trackingNumber)
  return null
}

const logFound = (gharry: Application, order: number, trackingNumber: string): Promise<void> =>
  writeLog(gharry.db, [
    {
      ...{ order, at: gharry.now().toISOString(), author: gharry.settings.author },
      sentence: `Found again at the carrier after the books were restored: label ${trackingNumber}`,
    },
  ])

/** A person has looked at what could not be taken over: nothing more is said of it, and those orders can be bought. */
export async function settleRestored(gharry: Application): Promise<Answer<object>> {
  const books = await restoredBooks(gharry)
  if (!books?.done)
    return refuse('not-restored', 'Nothing is open after a restore, or the carriers have not answered yet.')
  await keepRestored(gharry, { ...books, open: [], without: [], compared: [...books.compared, ...books.without] })
  return { ok: true }
}
