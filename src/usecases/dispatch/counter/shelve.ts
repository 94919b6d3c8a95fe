import { randomInt } from 'node:crypto'
import { readCode } from '@/core/bench'
import { dayOf, dayText } from '@/core/calendar'
import { cleanTrackingNumber } from '@/core/tracking'
import { fetchedServices, type World } from '@/core/world'
import {
  type Database,
  isCodeTaken,
  labelById,
  type LabelRow,
  labelsOfOrder,
  orderRow,
  ordersByNumber,
  parcelsByNumber,
  parcelsOfLabels,
  pickupOf,
  shelve,
  writeLog,
} from '@/data'
import { type Answer, type Application, refuse, type Refused } from '../../shared/application'
import { currentWorld } from '../../shared/changeWorld'
import { takeNews } from '../../tracking/followParcels'
import { dayAt } from '../door/doorView'

/** So many days something waits before it is asked about. */
const keptDays = 7
/** Without signs that look or sound alike: codes are read out. */
const signs = '234679ACDEFGHJKMNPQRTVWXY'
const codeLength = 5

/**
 * Puts what was scanned (a slip, an order's number, a parcel's) on a shelf: its buyer is told that it is ready, where,
 * and under which code. Put on another shelf, nobody is told again.
 */
export async function shelveOrder(
  gharry: Application,
  { location, code, place }: { readonly location: string; readonly code: string; readonly place: string },
): Promise<
  Answer<{ readonly number: string; readonly place: string; readonly code: string; readonly moved: boolean }>
> {
  const where = place.trim()
  if (where === '') return refuse('incomplete', 'Scan or type the place on the shelf, too.')
  const { world } = await currentWorld(gharry.db)
  return gharry.db.transaction(
    async (trx): Promise<Answer<{ number: string; place: string; code: string; moved: boolean }>> => {
      const label = await labelNamed(trx, code)
      if ('ok' in label) return label
      const number = (await orderRow(trx, label.orderId))!.number
      const wrong = against(world, location, label, number)
      if (wrong) return wrong
      const before = await pickupOf(trx, label.id)
      if (before?.handedAt) return refuse('on-its-way', `${number} was handed out already.`)
      const now = gharry.now()
      const spoken = before?.code ?? (await freshCode(trx))
      const { author } = gharry.settings
      await shelve(trx, {
        ...{ labelId: label.id, orderId: label.orderId, location, place: where.slice(0, 40), code: spoken, author },
        shelvedAt: now.toISOString(),
        askOn: dayText(dayOf(dayAt(world, location, now)) + keptDays),
      })
      if (!before) await tellReady(gharry, trx, world, label, spoken)
      const sentence = before ? `Moved to ${where} on the shelf` : `On the shelf, ${where}; the code is ${spoken}`
      await writeLog(trx, [{ order: label.orderId, at: now.toISOString(), author, sentence }])
      return { ok: true, number, place: where, code: spoken, moved: before !== undefined }
    },
  )
}

/** The order's number, where what was scanned is to be put on a shelf here; null where it is not. */
export async function toBeShelved(db: Database, location: string, scanned: string): Promise<string | null> {
  const label = await labelNamed(db, scanned)
  if ('ok' in label || (await pickupOf(db, label.id)) !== undefined) return null
  const { world } = await currentWorld(db)
  const number = (await orderRow(db, label.orderId))!.number
  return against(world, location, label, number) === null ? number : null
}

function against(world: World, location: string, label: LabelRow, number: string): Refused | null {
  if (!fetchedServices(world).includes(label.service))
    return refuse('not-known', `${number} is not fetched: it goes to a lorry.`)
  if (label.location !== location) {
    const home = world.locations.find(({ id }) => id === label.location)?.name ?? label.location
    return refuse('not-known', `${number} is to be fetched in ${home}.`)
  }
  if (label.state !== 'bought') return refuse('not-bought', `${number} is ${label.state}: put it aside.`)
  if (label.deliveredAt !== null) return refuse('on-its-way', `${number} was handed out already.`)
  const checks = world.locations.find(({ id }) => id === location)?.checked === true
  return checks && label.checkedAt === null
    ? refuse('not-known', `${number} was not checked at a bench, as this location asks for.`)
    : null
}

async function labelNamed(trx: Database, scanned: string): Promise<LabelRow | Refused> {
  const code = readCode(scanned)
  if (code.kind === 'unreadable') return refuse('bad-value', code.why)
  const plain = scanned.trim().toUpperCase()
  const [parcel] = await parcelsByNumber(trx, [cleanTrackingNumber(plain) ?? plain])
  if (parcel) return (await labelById(trx, parcel.labelId))!
  for (const order of await ordersByNumber(trx, plain)) {
    const label = (await labelsOfOrder(trx, order.id)).filter(({ state }) => state === 'bought').at(-1)
    if (label) return label
  }
  return refuse('not-found', `“${plain.slice(0, 60)}” is no order that waits here.`)
}

async function freshCode(trx: Database): Promise<string> {
  for (;;) {
    const code = Array.from({ length: codeLength }, () => signs[randomInt(signs.length)]!).join('')
    if (!(await isCodeTaken(trx, code))) return code
  }
}

/** The parcels are where they are fetched: the buyer hears of it as of any news. */
async function tellReady(
  gharry: Application,
  trx: Database,
  world: World,
  label: LabelRow,
  code: string,
): Promise<void> {
  const from = world.locations.find(({ id }) => id === label.location)
  const { lines = [], postcode = '', city = '' } = from?.address ?? {}
  const address = [...lines, `${postcode} ${city}`.trim()].filter((line) => line !== '').join(', ')
  const at = gharry.now().toISOString()
  const parcels = (await parcelsOfLabels(trx, [label.id])).get(label.id) ?? []
  await takeNews(
    gharry,
    trx,
    label.carrier,
    parcels.map(({ position, trackingNumber }) => ({
      ...{ id: `shelf-${label.id}-${position}`, trackingNumber: trackingNumber ?? '', at },
      ...{ status: 'waiting to be fetched' as const, place: `${address} (code ${code})`, text: '' },
    })),
  )
}
