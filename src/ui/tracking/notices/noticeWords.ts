import { mediums, type Medium, type NoticePlan, type NoticeStep, noticeSteps, type Telling } from '@/core/telling'

/** Steps as they stand in the table: when it is … */
export const stepWords: Readonly<Record<NoticeStep, string>> = {
  'label made': 'packed and labelled',
  'number changed': 'under a new number',
  collected: 'collected',
  'out for delivery': 'with the driver',
  'waiting to be fetched': 'waiting to be fetched',
  delivered: 'delivered',
  delayed: 'late, with a new day',
  'delivery failed': 'not delivered',
  'coming back': 'coming back',
  'arrived back': 'back with us',
  'return agreed': 'to be sent back, with its label',
  'return refused': 'not taken back',
  'return arrived': 'sent back and here',
  'paid back': 'sent back and paid',
}
export const mediumWords: Readonly<Record<Medium, string>> = { mail: 'by mail', text: 'by text message' }

/** Who is told, in a word. */
export function whoText({ on, channels, countries, languages }: Telling): string {
  if (!on) return 'nobody'
  return channels.length + countries.length + languages.length === 0 ? 'everybody' : 'some'
}

/** A plan as a person reads it, line by line. */
export const planLines = (plan: NoticePlan): string[] => [
  ...noticeSteps.flatMap((step) =>
    mediums.map((medium) => {
      const { channels, countries, languages } = plan.steps[step][medium]
      const some = [...channels, ...countries, ...languages].join(', ')
      return `${stepWords[step]}, ${mediumWords[medium]}: ${whoText(plan.steps[step][medium])} ${some}`.trim()
    }),
  ),
  `wait ${plan.waits} minutes`,
  `quiet ${plan.quiet.from} to ${plan.quiet.until}`,
  ...plan.texts.map(({ step, medium, language, channel, subject, body }) =>
    [step, medium, language, channel, subject, body.slice(0, 120)].filter(Boolean).join(': '),
  ),
]
