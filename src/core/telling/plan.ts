import { z } from 'zod'
import { languages } from './language'
import { mediums, type Medium, type NoticeStep, noticeSteps } from './steps'

/** Whether customers are told of a step by a medium, and which of them; an empty list is no limit. */
export interface Telling {
  readonly on: boolean
  readonly channels: readonly string[]
  readonly countries: readonly string[]
  readonly languages: readonly string[]
}

/** A text of the seller's own, in place of Gharry's; for one channel, or (`''`) for all. */
export interface OwnText {
  readonly step: NoticeStep
  readonly medium: Medium
  readonly language: string
  readonly channel: string
  /** Empty for text messages. */
  readonly subject: string
  readonly body: string
}

/** How customers are told. */
export interface NoticePlan {
  readonly steps: Readonly<Record<NoticeStep, Readonly<Record<Medium, Telling>>>>
  /** Minutes that a notice waits after its cause. */
  readonly waits: number
  readonly quiet: { readonly from: string; readonly until: string }
  readonly texts: readonly OwnText[]
}

const clock = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'is no time such as 21:00')
const telling = z.strictObject({
  on: z.boolean(),
  channels: z.array(z.string().min(1).max(64)).max(200),
  countries: z.array(z.string().regex(/^[A-Z]{2}$/)).max(250),
  languages: z.array(z.enum(languages)).max(20),
})
/** Most characters of a text of the seller's own. */
export const longestText = 20_000
const ownText = z.strictObject({
  step: z.enum(noticeSteps),
  medium: z.enum(mediums),
  language: z.enum(languages),
  channel: z.string().max(64),
  // A line break in a subject would begin another head of the mail.
  subject: z
    .string()
    .max(200, 'is longer than 200 characters')
    .regex(/^[^\r\n\u2028\u2029]*$/, 'is more than one line'),
  body: z.string().min(1, 'is empty').max(longestText, 'is longer than 20,000 characters'),
})
export const noticePlanSchema = z.strictObject({
  steps: z.record(z.enum(noticeSteps), z.record(z.enum(mediums), telling)),
  waits: z.int().min(0).max(1440),
  quiet: z.strictObject({ from: clock, until: clock }),
  texts: z.array(ownText).max(500),
})

const everybody = (on: boolean): Telling => ({ on, channels: [], countries: [], languages: [] })
const usuallyMailed: ReadonlySet<NoticeStep> = new Set([
  ...(['label made', 'number changed', 'waiting to be fetched', 'delayed', 'delivery failed', 'coming back'] as const),
  ...(['return agreed', 'return refused', 'return arrived', 'paid back'] as const),
])

/** How customers are told before anybody says otherwise: by mail, of what they have to know, and nothing more. */
export const usualPlan: NoticePlan = {
  steps: Object.fromEntries(
    noticeSteps.map((step) => [step, { mail: everybody(usuallyMailed.has(step)), text: everybody(false) }]),
  ) as unknown as NoticePlan['steps'],
  waits: 0,
  quiet: { from: '00:00', until: '00:00' },
  texts: [],
}

/** Whom a notice is for. */
export interface Told {
  readonly channel: string
  readonly country: string
  readonly language: string
}

const among = (list: readonly string[], value: string): boolean => list.length === 0 || list.includes(value)

/** Whether somebody is told of a step by a medium. */
export function isTold(plan: NoticePlan, step: NoticeStep, medium: Medium, to: Told): boolean {
  const { on, channels, countries, languages: spoken } = plan.steps[step][medium]
  return on && among(channels, to.channel) && among(countries, to.country) && among(spoken, to.language)
}

/** The seller's own text: that of the channel, else the one for all channels; undefined where there is none. */
export const ownTextFor = (
  plan: Pick<NoticePlan, 'texts'>,
  step: NoticeStep,
  medium: Medium,
  { channel, language }: Pick<Told, 'channel' | 'language'>,
): OwnText | undefined => {
  const own = plan.texts.filter((text) => text.step === step && text.medium === medium && text.language === language)
  return own.find((text) => text.channel === channel) ?? own.find((text) => text.channel === '')
}
