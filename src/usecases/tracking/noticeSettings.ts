import {
  composeNotice,
  isTold,
  type Language,
  type Medium,
  type NoticePlan,
  noticePlanSchema,
  type NoticeStep,
  ownTextFor,
  problemOf,
  sampleFacts,
  smsWeight,
  type SmsWeight,
  usualPlan,
} from '@/core/telling'
import {
  channelById,
  documentBy,
  findOrder,
  labelsOfOrder,
  listChannels,
  newestLabelled,
  orderRow,
  ordersById,
  parcelsOfLabels,
  saveDocument,
} from '@/data'
import { refuse, type Answer, type Application } from '../shared/application'
import { currentWorld } from '../shared/changeWorld'
import { noticeFacts } from './deliverNotice'
import { faceFor } from './faces'
import { letterHtml } from './noticeLetter'
import { noticePlan, readerOf, whyNobody } from './notices'

export interface NoticesView {
  readonly version: number
  readonly plan: NoticePlan
  readonly channels: readonly { readonly id: string; readonly name: string; readonly why: string }[]
  /** A gateway for text messages is connected and used. */
  readonly gateway: boolean
  /** Who writes; empty where that is not said yet. */
  readonly from: string
}

/** How customers are told, and what of it cannot be done as things are. */
export async function showNotices(gharry: Application): Promise<NoticesView> {
  const { db } = gharry
  const channels = (await listChannels(db)).filter(({ retired }) => !retired)
  return {
    version: (await documentBy(db, 'notices'))?.version ?? 0,
    plan: await noticePlan(db),
    channels: channels.map((channel) => ({
      ...{ id: channel.id, name: channel.name },
      why: whyNobody(channel),
    })),
    gateway: (await gharry.messenger()) !== null,
    from: (await currentWorld(db)).world.seller?.mail ?? '',
  }
}

/** Takes how customers are told. A text that cannot be filled is refused, with what is wrong in it. */
export async function saveNotices(
  gharry: Application,
  version: number,
  given: unknown,
): Promise<Answer<{ version: number }>> {
  const parsed = noticePlanSchema.safeParse(given)
  if (!parsed.success) {
    const issue = parsed.error.issues[0]!
    return refuse('bad-value', `${issue.path.slice(-1).join('')} ${issue.message}.`)
  }
  const plan = parsed.data as NoticePlan
  for (const { step, medium, language, subject, body } of plan.texts) {
    const wrong = problemOf(step, medium, language as Language, sampleFacts, { subject, body })
    if (wrong) return refuse('bad-value', `“${step}” by ${medium}, ${language}: ${wrong}`)
  }
  const saved = await saveDocument(gharry.db, 'notices', version, plan, true, gharry.now().toISOString())
  return saved
    ? { ok: true, version: version + 1 }
    : refuse('world-changed', 'Somebody else has changed the notices meanwhile: theirs are shown beside yours.')
}

export interface NoticePreview {
  /** Of the order that it is shown with. */
  readonly number: string
  readonly subject: string
  readonly text: string
  /** Empty for text messages. */
  readonly html: string
  readonly weight: SmsWeight
  /** What is wrong with the text; then Gharry's own is shown. */
  readonly problem: string | null
  /** Whether this customer would be told, and why not. */
  readonly told: string
  readonly language: Language
}

/** A step as it would be said to the customer of an order (by its number; the newest with a label without one). */
export async function previewNotice(
  gharry: Application,
  given: {
    readonly plan: unknown
    readonly step: NoticeStep
    readonly medium: Medium
    readonly language: Language
    readonly number: string
  },
): Promise<Answer<NoticePreview>> {
  const { db } = gharry
  const parsed = noticePlanSchema.safeParse(given.plan)
  const plan = parsed.success ? (parsed.data as NoticePlan) : usualPlan
  const wrong = parsed.success
    ? null
    : `${parsed.error.issues[0]!.path.slice(-1).join('')} ${parsed.error.issues[0]!.message}.`
  const typed = given.number.trim()
  const id = typed === '' ? await newestLabelled(db) : await findOrder(db, typed)
  const [stored] = id === undefined ? [] : await ordersById(db, [id])
  const row = id === undefined ? undefined : await orderRow(db, id)
  if (!stored || !row)
    return refuse(
      'unknown-order',
      typed === '' ? 'There is no order with a label yet to show it with.' : `There is no order "${typed}".`,
    )
  const channel = await channelById(db, stored.order.channel)
  const label = (await labelsOfOrder(db, stored.id)).at(-1)
  const { world } = await currentWorld(db)
  const facts = noticeFacts(gharry, {
    order: stored.order,
    channelName: channel?.name ?? '',
    label: label ?? { carrier: row.carrier ?? '', token: 'preview', arrivesOn: row.arrivesOn },
    parcels: label ? ((await parcelsOfLabels(db, [label.id])).get(label.id) ?? []) : [],
    ...{ positions: [], day: '', place: given.step === 'waiting to be fetched' ? 'Ghent' : '', world },
  })
  const own = ownTextFor(plan, given.step, given.medium, { channel: stored.order.channel, language: given.language })
  const said = composeNotice(given.step, given.medium, given.language, facts, own)
  const { colours, logo } = await faceFor(gharry, stored.order.channel)
  const reader = readerOf(stored.order, channel)
  const to = { channel: stored.order.channel, country: stored.order.shipTo.country, language: reader.language }
  return {
    ok: true,
    ...{ number: stored.order.number, subject: said.subject, text: said.text, language: given.language },
    html: given.medium === 'mail' ? letterHtml(said, facts, stored.order.shipTo, colours, logo) : '',
    weight: smsWeight(said.text),
    problem: wrong ?? said.problem,
    told: whyNobody(channel) || toldSentence(plan, given, to, given.medium === 'mail' ? reader.mail : reader.phone),
  }
}

function toldSentence(
  plan: NoticePlan,
  { step, medium }: { readonly step: NoticeStep; readonly medium: Medium },
  to: Parameters<typeof isTold>[3],
  address: string,
): string {
  if (!plan.steps[step][medium].on) return 'Nobody is told of this step so.'
  if (!isTold(plan, step, medium, to)) return 'This customer is not among those who are told.'
  if (address !== '') return `This customer is told, at ${address}.`
  return medium === 'mail'
    ? 'The order has no e-mail address.'
    : 'The order has no telephone number that takes text messages.'
}
