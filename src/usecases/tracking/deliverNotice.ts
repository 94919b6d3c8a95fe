import type { Order } from '@/core/order'
import { formatMoney, money } from '@/core/units'
import {
  afterQuiet,
  composeNotice,
  isUrgent,
  type Language,
  type NoticeFacts,
  type NoticeStep,
  ownTextFor,
  smsStopOf,
} from '@/core/telling'
import { usualSeller, type World } from '@/core/world'
import {
  changeHeld,
  channelById,
  handBack,
  type LabelParcel,
  type LabelRow,
  labelById,
  lastNotice,
  type NoticeRow,
  orderRow,
  ordersById,
  parcelsOfLabels,
  returnById,
  type ReturnRow,
  sentTogether,
  silencedBy,
  waitingNotices,
} from '@/data'
import type { Application } from '../shared/application'
import { currentWorld } from '../shared/changeWorld'
import { settleMessage } from '../shared/settleMessage'
import { faceFor } from './faces'
import { letterOf } from './noticeLetter'
import { noticePlan, readerOf } from './notices'
import { returnPdf } from './returns/returnPapers'

const hourMs = 3_600_000

/** What a notice can say about a shipment, or some of its parcels. */
export function noticeFacts(
  gharry: Pick<Application, 'settings'>,
  given: {
    readonly order: Order
    readonly channelName: string
    readonly label: Pick<LabelRow, 'carrier' | 'token' | 'arrivesOn'>
    readonly parcels: readonly Pick<LabelParcel, 'position' | 'trackingNumber'>[]
    /** Those that it is about; none is all. */
    readonly positions: readonly number[]
    readonly day: string
    readonly place: string
    readonly world: World
    /** The return that it is about. */
    readonly row?: ReturnRow
  },
): NoticeFacts {
  const { order, channelName, label, parcels, positions, day, place, world, row } = given
  const { seller = usualSeller } = world
  const some = positions.length === 0 ? parcels : parcels.filter(({ position }) => positions.includes(position))
  const link = `${gharry.settings.publicUrl}/track/${label.token}`
  return {
    order: { number: order.number, channel: channelName, value: formatMoney(order.value) },
    buyer: { name: order.buyer.name || order.shipTo.name },
    seller: { name: seller.name, mail: seller.mail },
    carrier: world.carriers.find(({ id }) => id === label.carrier)?.name ?? label.carrier,
    parcels: {
      numbers: some.flatMap(({ trackingNumber }) => trackingNumber ?? []),
      positions: some.map(({ position }) => position),
      of: parcels.length,
    },
    day: day || (label.arrivesOn ?? ''),
    place,
    items: order.items.map(({ title, sku, quantity }) => ({ title: title || sku, quantity })),
    link,
    stop: `${link}/stop`,
    ...(row ? factsOfReturn(row, order, world) : {}),
  }
}

/** A letter about what comes back names its carrier, its number and its day. */
const factsOfReturn = (row: ReturnRow, order: Order, world: World): Partial<NoticeFacts> => ({
  carrier: world.carriers.find(({ id }) => id === row.carrier)?.name ?? '',
  parcels: { numbers: row.trackingNumber === null ? [] : [row.trackingNumber], positions: [1], of: 1 },
  day: row.state === 'ready' ? (row.validUntil ?? '') : '',
  items: row.pieces.flatMap(({ item, quantity }) => {
    const one = order.items[item]
    return one ? [{ title: one.title || one.sku, quantity }] : []
  }),
  back: {
    refund: formatMoney(money(row.amount, order.value.currency)),
    why: row.state === 'refused' ? row.why : '',
  },
})

/** Puts a notice off until a moment. */
const putOff = (gharry: Application, notice: NoticeRow, until: string): Promise<void> =>
  handBack(
    gharry.db,
    'notices',
    notice,
    gharry.now(),
    Math.max(2, Math.ceil((Date.parse(until) - gharry.now().getTime()) / 1000)),
  )

const drop = ({ db }: Application, notice: NoticeRow, problem: string): Promise<void> =>
  changeHeld(db, 'notices', notice, { state: 'dropped', problem, leaseUntil: null })

/** Something has to be set up before it can go out. */
const fail = ({ db }: Application, notice: NoticeRow, problem: string): Promise<void> =>
  changeHeld(db, 'notices', notice, { state: 'failed', problem, leaseUntil: null })

/**
 * Sends one notice to a customer: unless its label was voided, or they want no more; not in their night, and not within
 * an hour of the one before, unless it is of no use later. What waits to say the same of other parcels goes in the same
 * letter.
 */
export async function deliverNotice(gharry: Application, notice: NoticeRow): Promise<void> {
  const { db } = gharry
  const label = await labelById(db, notice.labelId)
  const order = await orderRow(db, notice.orderId)
  const [stored] = await ordersById(db, [notice.orderId])
  if (label?.state === 'voiding') return handBack(db, 'notices', notice, gharry.now(), 2)
  if (!label || !order || !stored || label.state !== 'bought')
    return drop(gharry, notice, 'The label was voided first.')
  const silenced = await silencedBy(db, notice.recipient)
  if (silenced)
    return drop(
      gharry,
      notice,
      silenced.why === 'stopped'
        ? 'The customer wants no more messages.'
        : `Nothing is sent there any more, as it came back: ${silenced.said}`,
    )
  const channel = await channelById(db, order.channelId)
  const plan = await noticePlan(db)
  const reader = readerOf(stored.order, channel)
  const now = gharry.now().toISOString()
  const awake = afterQuiet(now, reader.zone, plan.quiet)
  if (awake > now) return putOff(gharry, notice, awake)
  const same = (await waitingNotices(db, [notice.orderId], notice.medium)).filter(
    ({ step, labelId, day, returnId }) =>
      step === notice.step && labelId === notice.labelId && day === notice.day && returnId === notice.returnId,
  )
  const [oldest] = same
  // The oldest speaks for all.
  if (oldest && oldest.id !== notice.id) return putOff(gharry, notice, oldest.nextAt)
  const last = await lastNotice(db, notice.orderId, notice.medium)
  const free = last === null ? now : new Date(Date.parse(last) + hourMs).toISOString()
  if (free > now && !isUrgent(notice.step)) return putOff(gharry, notice, free)
  return sendNow(gharry, notice, {
    ...{ order: stored.order, channelId: order.channelId, label, channel, plan, same },
    first: last === null,
  })
}

/** A notice that goes out now. */
interface Due {
  readonly order: Order
  readonly channelId: string
  readonly label: LabelRow
  readonly channel: Awaited<ReturnType<typeof channelById>>
  readonly plan: Awaited<ReturnType<typeof noticePlan>>
  /** What waits to say the same, itself among them. */
  readonly same: readonly NoticeRow[]
  readonly first: boolean
}

async function sendNow(
  gharry: Application,
  notice: NoticeRow,
  { order, channelId, label, channel, plan, same, first }: Due,
): Promise<void> {
  const { db } = gharry
  const { world } = await currentWorld(db)
  const { language } = readerOf(order, channel)
  const step = notice.step as NoticeStep
  const row = notice.returnId === null ? undefined : await returnById(db, notice.returnId)
  const facts = noticeFacts(gharry, {
    order,
    channelName: channel?.name ?? '',
    label,
    ...(row ? { row } : {}),
    parcels: (await parcelsOfLabels(db, [label.id])).get(label.id) ?? [],
    positions: same.some(({ position }) => position === 0) ? [] : same.map(({ position }) => position),
    ...{ day: notice.day, place: notice.place, world },
  })
  const own = ownTextFor(plan, step, notice.medium, { channel: channelId, language })
  const said = composeNotice(step, notice.medium, language, facts, own)
  if (said.problem) gharry.log.warn({ notice: notice.id, step }, 'a text of the seller could not be filled')
  const key = `${notice.key}-${label.token.slice(0, 8)}`
  const sentBack = step === 'return agreed' ? row : undefined
  const letter: Letter = { label, order, channelId, language, said, facts, first, key, sentBack }
  const sent =
    notice.medium === 'text' ? await sendText(gharry, notice, letter) : await sendMail(gharry, notice, letter, world)
  if ('cannot' in sent) return fail(gharry, notice, sent.cannot)
  const others = same.filter(({ id }) => id !== notice.id).map(({ id }) => id)
  await db.transaction(async (trx) => {
    await settleMessage({ ...gharry, db: trx }, 'notices', notice, sent.result, {}, sent.more)
    if (sent.result.ok) await sentTogether(trx, others, gharry.now().toISOString())
  })
}

/** What one notice says, and of what. */
interface Letter {
  readonly label: LabelRow
  readonly order: Order
  readonly channelId: string
  readonly language: Language
  readonly said: ReturnType<typeof composeNotice>
  readonly facts: NoticeFacts
  /** The first to this customer: it says how to end them. */
  readonly first: boolean
  readonly key: string
  /** The return whose label goes with it. */
  readonly sentBack: ReturnRow | undefined
}
/** What became of it; or what a person has to set up first. */
type Sent =
  | { readonly result: Parameters<typeof settleMessage>[3]; readonly more?: { readonly receipt: string } }
  | { readonly cannot: string }

async function sendText(gharry: Application, { recipient }: NoticeRow, letter: Letter): Promise<Sent> {
  const gateway = await gharry.messenger()
  if (!gateway)
    return { cannot: 'There is no gateway for text messages: connect one under Intake, Connections; then try again.' }
  const { said, first, language, key } = letter
  const text = first ? `${said.text} ${smsStopOf(language)}` : said.text
  const result = await gateway.client.send({ to: recipient, text }, key)
  return { result, ...(result.ok ? { more: { receipt: `${gateway.id} ${result.body.id}` } } : {}) }
}

async function sendMail(gharry: Application, notice: NoticeRow, letter: Letter, world: World): Promise<Sent> {
  const { seller = usualSeller } = world
  if (seller.mail === '') return { cannot: 'Say in Set-up, Seller, from which address letters come; then try again.' }
  const { bounceDomain } = gharry.settings
  const { colours, logo } = await faceFor(gharry, letter.channelId)
  const bounce = `notice+${notice.id}-${letter.label.token.slice(0, 12)}@${bounceDomain}`
  const paper = letter.sentBack && (await returnPdf(gharry, letter.sentBack))
  const result = await gharry.mail.send({
    from: { name: seller.name, address: seller.mail },
    to: notice.recipient,
    key: letter.key,
    ...(bounceDomain === '' ? {} : { bounce }),
    ...(paper ? { attachments: [{ name: 'return-label.pdf', type: 'application/pdf', content: paper }] } : {}),
    ...letterOf(letter.said, letter.facts, letter.order.shipTo, colours, logo),
  })
  return { result }
}
