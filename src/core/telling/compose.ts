import { DateTime } from 'luxon'
import { type Budget, documentBudget, fillText } from '@/core/texts'
import type { Language } from './language'
import type { Medium, NoticeStep } from './steps'
import { usualText, wordsOf } from './usualText'
import type { NoticeWords } from './words/words'

/** What a notice can say: what is known of the order and of the parcels that it is about. */
export interface NoticeFacts {
  readonly order: { readonly number: string; readonly channel: string; readonly value: string }
  readonly buyer: { readonly name: string }
  readonly seller: { readonly name: string; readonly mail: string }
  readonly carrier: string
  readonly parcels: {
    readonly numbers: readonly string[]
    /** Which of the shipment's they are; 1 is the first. */
    readonly positions: readonly number[]
    readonly of: number
  }
  /** `YYYY-MM-DD`: when it should come, or came; empty where nobody knows. */
  readonly day: string
  readonly place: string
  readonly items: readonly { readonly title: string; readonly quantity: number }[]
  readonly link: string
  /** Where a customer says that nothing more shall be written. */
  readonly stop: string
  /** About something that the customer sends back: what is paid back for it, and why it was answered as it was. */
  readonly back?: { readonly refund: string; readonly why: string }
}

/** A day as it is said in a language. */
export function dayIn(language: string, day: string): string {
  // English is read in many countries: day before month, as most of them write it.
  const read = DateTime.fromISO(day, { zone: 'utc', locale: language === 'en' ? 'en-GB' : language })
  return read.isValid ? read.toLocaleString({ weekday: 'long', day: 'numeric', month: 'long' }) : ''
}

// Where a link or the stop line goes, whatever the template made of it: replaced once the text is filled.
const linkMark = '\u0001\u0002\u0001'

function scopeOf(facts: NoticeFacts, language: Language, words: NoticeWords, link: string): object {
  const { order, buyer, seller, carrier, parcels, place, items, stop } = facts
  return {
    order,
    buyer: { name: buyer.name, firstName: buyer.name.split(' ')[0] || words.there },
    seller,
    carrier,
    parcel: {
      numbers: parcels.numbers.join(', '),
      count: parcels.numbers.length,
      note: parcels.numbers.length < parcels.of ? words.about(parcels.positions.join(', '), parcels.of) : '',
    },
    ...{ day: dayIn(language, facts.day), place, items, link, stop },
    ...{ refund: facts.back?.refund ?? '', why: facts.back?.why ?? '' },
  }
}

/** A notice as it is sent. `problem` says why a text of the seller's own was not taken. */
export interface Notice {
  readonly subject: string
  readonly text: string
  /** Paragraphs of the letter; the one that is the link alone is null. */
  readonly paragraphs: readonly (string | null)[]
  readonly see: string
  readonly stopWords: string
  readonly language: Language
  readonly problem: string | null
}

/** Says a step to a customer, in the seller's own words where there are some that can be filled, else in Gharry's. */
export function composeNotice(
  step: NoticeStep,
  medium: Medium,
  language: Language,
  facts: NoticeFacts,
  own?: { readonly subject: string; readonly body: string },
  budget: Budget = documentBudget(),
): Notice {
  const tried = own && filled(step, medium, language, facts, own, budget)
  if (tried && 'notice' in tried) return tried.notice
  const usual = filled(step, medium, language, facts, usualText(step, medium, language), documentBudget())
  if (!('notice' in usual)) throw new Error(usual.sentence)
  return { ...usual.notice, problem: tried?.sentence ?? null }
}

/** What is wrong with a text of the seller's own for these facts; null when nothing is. */
export function problemOf(
  step: NoticeStep,
  medium: Medium,
  language: Language,
  facts: NoticeFacts,
  own: { readonly subject: string; readonly body: string },
): string | null {
  const tried = filled(step, medium, language, facts, own, documentBudget())
  return 'notice' in tried ? null : tried.sentence
}

function filled(
  step: NoticeStep,
  medium: Medium,
  language: Language,
  facts: NoticeFacts,
  own: { readonly subject: string; readonly body: string },
  budget: Budget,
): { readonly notice: Notice } | { readonly sentence: string } {
  const words = wordsOf[language]
  const scope = scopeOf(facts, language, words, medium === 'mail' ? linkMark : facts.link)
  const subject = fillText(own.subject, scope, budget, 'subject')
  if (!subject.ok) return { sentence: subject.sentence }
  const body = fillText(own.body, scope, budget, 'text')
  if (!body.ok) return { sentence: body.sentence }
  const oneLine = subject.text.replace(/\s+/g, ' ').trim().slice(0, 200)
  const see = words.steps[step].see
  const rest = { see: see ?? words.see, stopWords: words.stop, language, problem: null }
  if (medium === 'text') {
    const text = body.text.replace(/\s+/g, ' ').trim()
    return text === ''
      ? { sentence: 'The text cannot be filled: it comes out empty.' }
      : { notice: { subject: '', text, paragraphs: [text], ...rest } }
  }
  const paragraphs = body.text
    .replace(/ {1,9},/g, ',')
    .split(/\n[ \t]*\n/)
    .map((part) => part.trim())
    .filter((part) => part !== '')
    .map((part) => (part === linkMark ? null : part.replaceAll(linkMark, facts.link)))
  if (paragraphs.length === 0) return { sentence: 'The text cannot be filled: it comes out empty.' }
  const text = paragraphs.map((part) => part ?? `${see ?? words.where}: ${facts.link}`).join('\n\n')
  return { notice: { subject: oneLine || facts.order.number, text: `${text}\n`, paragraphs, ...rest } }
}

/** What a text message ends with, once a customer has not heard it yet. */
export const smsStopOf = (language: Language): string => wordsOf[language].smsStop

/** Facts of no order in particular, to try a text with. */
export const sampleFacts: NoticeFacts = {
  order: { number: 'M-1042', channel: 'Mossgill Shop', value: '58.90 EUR' },
  buyer: { name: 'Ada Sample' },
  seller: { name: 'Your shop', mail: 'hello@shop.example' },
  carrier: 'The carrier',
  parcels: { numbers: ['NUMBER1'], positions: [1], of: 2 },
  day: '2026-11-30',
  place: 'Ghent',
  items: [{ title: 'An item', quantity: 2 }],
  link: 'https://shop.example/track/…',
  stop: 'https://shop.example/stop/…',
  back: { refund: '34.90 EUR', why: '' },
}
