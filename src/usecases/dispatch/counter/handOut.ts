import type { Strokes } from '@/core/handover'
import { dayOf, dayText } from '@/core/calendar'
import {
  changePickup,
  findOnShelf,
  labelById,
  orderRow,
  parcelsOfLabels,
  type PickupLine,
  pickupOf,
  toJson,
  writeLog,
} from '@/data'
import { type Answer, type Application, refuse } from '../../shared/application'
import { currentWorld } from '../../shared/changeWorld'
import { sendNoticeAgain } from '../../tracking/noticesByHand'
import { takeNews } from '../../tracking/followParcels'
import { dayAt } from '../door/doorView'
import { requestVoid } from '../voidLabel'
import { toBeShelved } from './shelve'

/** What waits under a code, an order's number or a name; or the order that is to be put on the shelf first. */
export async function findAtCounter(
  gharry: Application,
  { location, words }: { readonly location: string; readonly words: string },
): Promise<Answer<{ readonly found: readonly PickupLine[]; readonly shelve: string | null }>> {
  const asked = words.trim()
  if (asked.length < 3) return refuse('bad-value', 'Type the code, the order’s number, or three letters of the name.')
  const found = await findOnShelf(gharry.db, location, asked)
  const shelve = found.length > 0 ? null : await toBeShelved(gharry.db, location, asked)
  return found.length > 0 || shelve !== null
    ? { ok: true, found, shelve }
    : refuse('not-found', `Nothing waits here under “${asked.slice(0, 60)}”: ask for the order’s number.`)
}

/** Hands a shipment out: who took it, with a signature; the channel and the customer hear of it as of any delivery. */
export async function handOut(
  gharry: Application,
  { label, to, signature }: { readonly label: number; readonly to: string; readonly signature: Strokes },
): Promise<Answer<{ readonly number: string }>> {
  const name = to.trim()
  if (name === '') return refuse('incomplete', 'Enter who takes it.')
  if (!signature.some((stroke) => stroke.length > 2))
    return refuse('incomplete', 'A signature is missing: let them sign.')
  return gharry.db.transaction(async (trx): Promise<Answer<{ number: string }>> => {
    const line = await pickupOf(trx, label)
    if (!line) return refuse('not-found', 'This is on no shelf.')
    const at = gharry.now().toISOString()
    const row = await labelById(trx, label)
    if (row?.state !== 'bought')
      return refuse('not-bought', `${line.number} is ${row?.state ?? 'gone'}: do not hand it out.`)
    // A buyer who has cancelled is not given it as well.
    const flag = (await orderRow(trx, line.orderId))?.flag ?? null
    if (flag !== null) return refuse('order-moved', `${line.number} has changed: ${flag} Do not hand it out.`)
    if (!(await changePickup(trx, label, { handedAt: at, handedTo: name, signature: toJson(signature) })))
      return refuse('taken', `${line.number} was handed out meanwhile, or put back.`)
    const parcels = (await parcelsOfLabels(trx, [label])).get(label) ?? []
    await takeNews(
      gharry,
      trx,
      row.carrier,
      parcels.map(({ position, trackingNumber }) => ({
        ...{ id: `counter-${label}-${position}`, trackingNumber: trackingNumber ?? '', at },
        ...{ status: 'delivered' as const, place: '', text: '' },
      })),
    )
    await writeLog(trx, [
      {
        order: line.orderId,
        at,
        author: gharry.settings.author,
        sentence: `Handed out to ${name}, against a signature`,
      },
    ])
    return { ok: true, number: line.number }
  })
}

/** So many days more something is kept that was asked about. */
const moreDays = 7

/**
 * What becomes of what nobody has fetched: its buyer is reminded, it is kept longer, or it goes back into the stock and
 * its order to the Desk.
 */
export async function settleLate(
  gharry: Application,
  { label, what }: { readonly label: number; readonly what: 'remind' | 'keep' | 'put back' },
): Promise<Answer<object>> {
  const line = await pickupOf(gharry.db, label)
  if (!line || line.handedAt || line.putBackAt) return refuse('not-found', 'This is on no shelf (any more).')
  const { world } = await currentWorld(gharry.db)
  const now = gharry.now()
  const askOn = dayText(dayOf(dayAt(world, line.location, now)) + moreDays)
  if (what === 'put back') {
    const asked = await requestVoid(gharry, label)
    if (!asked.ok) return asked
    await changePickup(gharry.db, label, { putBackAt: now.toISOString() })
    return { ok: true }
  }
  if (what === 'remind') {
    const sent = await sendNoticeAgain(gharry, line.orderId, 'mail')
    if (!sent.ok) return sent
  }
  await changePickup(gharry.db, label, { askOn, ...(what === 'remind' ? { remindedAt: now.toISOString() } : {}) })
  return { ok: true }
}
