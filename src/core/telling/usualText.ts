import type { Language } from './language'
import { isOfReturn, type Medium, type NoticeStep } from './steps'
import { de } from './words/de'
import { en } from './words/en'
import { fr } from './words/fr'
import { nl } from './words/nl'
import { pl } from './words/pl'
import type { NoticeWords } from './words/words'

export const wordsOf: Readonly<Record<Language, NoticeWords>> = { en, nl, de, fr, pl }

/** The placeholders of a notice, with what each is. */
export const noticePlaceholders: readonly (readonly [name: string, is: string])[] = [
  ['order.number', 'the order’s number'],
  ['order.channel', 'where it was ordered'],
  ['order.value', 'what it is worth'],
  ['buyer.name', 'the buyer'],
  ['buyer.firstName', 'the first word of the name'],
  ['seller.name', 'you'],
  ['seller.mail', 'where you are written to'],
  ['carrier', 'the carrier'],
  ['parcel.numbers', 'the tracking numbers'],
  ['parcel.count', 'how many parcels it is about'],
  ['parcel.note', 'which parcels, where it is not all'],
  ['day', 'when it should come, or came'],
  ['place', 'where the carrier saw it'],
  ['items', 'what is in the order: item.title, item.quantity'],
  ['refund', 'what is paid back for a return'],
  ['why', 'why a return is not taken'],
  ['link', 'the customer’s page'],
  ['stop', 'where letters are stopped'],
]

/** Gharry's own text of a step, as the seller would begin to change it. */
export function usualText(step: NoticeStep, medium: Medium, language: Language): { subject: string; body: string } {
  const words = wordsOf[language]
  const { subject, says, sms } = words.steps[step]
  if (medium === 'text') return { subject: '', body: sms }
  const hello = `${words.hello} {{ buyer.firstName }},`
  const number = `${words.numbers}: {{ parcel.numbers }}`
  const numbers = isOfReturn(step) ? `{% if parcel.numbers != "" %}${number}{% endif %}` : number
  return { subject, body: [hello, says, '{{ parcel.note }}', '{{ link }}', numbers, '{{ seller.name }}'].join('\n\n') }
}
