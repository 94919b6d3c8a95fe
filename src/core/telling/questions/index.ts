import { documentBudget, fillText } from '@/core/texts'
import { isLanguage, type Language } from '../language'
import { wordsOf } from '../usualText'
import { de } from './de'
import { en } from './en'
import { fr } from './fr'
import { nl } from './nl'
import { pl } from './pl'
import type { QuestionId, QuestionWords } from './words'

export type { QuestionId } from './words'

const questionWords: Readonly<Record<Language, QuestionWords>> = { en, nl, de, fr, pl }

/** The questions that Gharry has words for, with what each is called. */
export const questions: readonly { readonly id: QuestionId; readonly name: string }[] = [
  { id: 'po box', name: 'Post-office box: which address' },
  { id: 'address', name: 'Address that nobody finds' },
  { id: 'telephone', name: 'Telephone number for the carrier' },
  { id: 'later', name: 'It would leave later' },
  { id: 'out of stock', name: 'Something is out of stock' },
]

/** The placeholders of a letter to a buyer, with what each is. */
export const letterPlaceholders: readonly (readonly [name: string, is: string])[] = [
  ['order.number', 'the order’s number'],
  ['order.channel', 'where it was ordered'],
  ['order.address', 'where it goes, line by line'],
  ['buyer.name', 'the buyer'],
  ['buyer.firstName', 'the first word of the name'],
  ['seller.name', 'you'],
  ['items', 'what is in the order: item.title, item.quantity'],
  ['link', 'where the buyer answers'],
]

/** What a letter to a buyer can say. */
export interface LetterFacts {
  readonly order: { readonly number: string; readonly channel: string; readonly address: string }
  readonly buyer: { readonly name: string }
  readonly seller: { readonly name: string; readonly mail: string }
  readonly items: readonly { readonly title: string; readonly quantity: number }[]
  /** Where the buyer answers. */
  readonly link: string
}

/** A subject and a text with placeholders. */
export interface LetterText {
  readonly subject: string
  readonly body: string
}

/** A letter as it is sent; paragraphs as in a notice, where null is the button. */
export interface BuyerLetter extends LetterText {
  readonly paragraphs: readonly (string | null)[]
  readonly language: Language
}

/** Gharry's own text of a question, as a person would begin to change it. */
export function questionText(question: QuestionId, language: Language): LetterText {
  const { subject, says } = questionWords[language].questions[question]
  const hello = `${wordsOf[language].hello} {{ buyer.firstName }},`
  return { subject, body: [hello, says, '{{ link }}', '{{ seller.name }}'].join('\n\n') }
}

/** What a letter in a language says besides: on its button, and that a mail back is an answer, too. */
export function answerWords(language: string): { readonly button: string; readonly byMail: string } {
  const { answer, byMail } = questionWords[isLanguage(language) ? language : 'en']
  return { button: answer, byMail }
}

const linkMark = '\u0001\u0003\u0001'

/**
 * A letter to one buyer. A text that does not say where to answer ends with the button: no question goes out that
 * cannot be answered. What is wrong with a text comes back as a sentence.
 * @example composeLetter('en', questionText('telephone', 'en'), facts) // { letter: { subject: 'A telephone number for
 * …' } }
 */
export function composeLetter(
  language: Language,
  text: LetterText,
  facts: LetterFacts,
): { readonly letter: BuyerLetter } | { readonly sentence: string } {
  const words = questionWords[language]
  const budget = documentBudget()
  const firstName = facts.buyer.name.split(' ')[0] || wordsOf[language].there
  const scope = { ...facts, buyer: { ...facts.buyer, firstName }, link: linkMark }
  const subject = fillText(text.subject, scope, budget, 'subject')
  if (!subject.ok) return { sentence: subject.sentence }
  const body = fillText(text.body, scope, budget, 'text')
  if (!body.ok) return { sentence: body.sentence }
  const said = body.text
    .split(/\n[ \t]*\n/)
    .map((part) => part.trim())
    .filter((part) => part !== '')
    .map((part) => (part === linkMark ? null : part.replaceAll(linkMark, facts.link)))
  if (said.every((part) => part === null)) return { sentence: 'The text cannot be filled: it comes out empty.' }
  const paragraphs = said.some((part) => part === null || part.includes(facts.link)) ? said : [...said, null]
  return {
    letter: {
      subject: subject.text.replace(/\s+/g, ' ').trim().slice(0, 200) || facts.order.number,
      body: `${paragraphs.map((part) => part ?? `${words.answer}: ${facts.link}`).join('\n\n')}\n`,
      paragraphs,
      language,
    },
  }
}
