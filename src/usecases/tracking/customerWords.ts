import {
  addWords,
  closeWords,
  countWords,
  type CustomerWords,
  type Database,
  letterById,
  markWords,
  orderRow,
  pinsOf,
  removePin,
  setReport,
  silence,
  wordsById,
  wordsOfOrders,
  writeLog,
} from '@/data'
import { refuse, type Answer, type Application } from '../shared/application'
import { labelByLink } from '../shared/links'
import { routeAgain } from '../shared/routeOrders'
import { type InForce, rulebookInForce } from '../shared/rulebookInForce'

/** What a note can be about, and what a report. */
export const noteKinds = ['neighbour', 'place', 'another day', 'other'] as const
export const reportKinds = ['not here', 'damaged', 'incomplete', 'wrong item', 'other'] as const

/** How reports stand on the Desk. */
const reportWords: Readonly<Record<string, string>> = {
  'not here': 'The customer says that it did not arrive',
  damaged: 'The customer says that it is damaged',
  incomplete: 'The customer says that something is missing',
  'wrong item': 'The customer says that it is the wrong item',
  answer: 'The buyer answered',
  'not reached': 'A letter to the buyer came back',
  other: 'The customer says that something is wrong',
}
const noteWords: Readonly<Record<string, string>> = {
  neighbour: 'leave it with a neighbour',
  place: 'leave it at a place',
  'another day': 'bring it on another day',
  answer: 'answered a text message',
  other: 'a note',
}

/** What a customer wrote, in a sentence for people at the Desk. */
export const wordsSentence = ({ kind, about, day }: Pick<CustomerWords, 'kind' | 'about' | 'day'>): string =>
  kind === 'report'
    ? (reportWords[about] ?? reportWords.other!)
    : `The customer: ${noteWords[about] ?? noteWords.other!}${day ? ` (${day})` : ''}`

const mostADay = 5
const longest = 1000

/** What a customer wrote, without control characters and runs of blanks. */
export const oneLine = (text: string): string =>
  text
    .replace(/\p{Cc}/gu, ' ')
    .replace(/ {2,}/g, ' ')
    .trim()

/** Takes what a customer writes on the page of a parcel; a report makes a case on the Desk. */
export async function takeCustomerWords(
  gharry: Application,
  token: string,
  given: { readonly kind: 'note' | 'report'; readonly about: string; readonly text: string; readonly day: string },
): Promise<Answer<object>> {
  const { db } = gharry
  const label = await labelByLink(db, token)
  if (!label || label.state !== 'bought') return refuse('not-found', 'There is no such parcel.')
  const kinds: readonly string[] = given.kind === 'note' ? noteKinds : reportKinds
  const text = oneLine(given.text)
  if (!kinds.includes(given.about)) return refuse('bad-value', 'choose')
  if (text.length > longest) return refuse('bad-value', 'too-long')
  if (text === '' && (given.about === 'other' || given.about === 'place')) return refuse('bad-value', 'say-it')
  if (given.about === 'another day' && !/^\d{4}-\d{2}-\d{2}$/.test(given.day)) return refuse('bad-value', 'which-day')
  const now = gharry.now()
  if ((await countWords(db, label.orderId, new Date(now.getTime() - 86_400_000).toISOString())) >= mostADay)
    return refuse('too-many-tries', 'too-many')
  const day = given.about === 'another day' ? given.day : ''
  const words = {
    ...{ orderId: label.orderId, labelId: label.id, kind: given.kind, about: given.about },
    text,
    day,
    at: now.toISOString(),
  }
  await db.transaction(async (trx) => {
    await addWords(trx, words)
    const sentence = `${wordsSentence(words)}${text ? `: ${text.slice(0, 300)}` : ''}`
    if (given.kind === 'report') await setReport(trx, label.orderId, sentence)
    await writeLog(trx, [{ order: label.orderId, at: words.at, author: 'Customer', sentence }])
    await showWordsOnBoard(trx, label.orderId)
  })
  return { ok: true }
}

/** The board shows how much of what a customer wrote nobody has read. */
export async function showWordsOnBoard(trx: Database, order: number): Promise<void> {
  const open = (await wordsOfOrders(trx, [order])).filter(({ closedAt }) => closedAt === null)
  await markWords(trx, order, open.length)
}

/** A person has dealt with what a customer wrote. */
export async function closeCustomerWords(gharry: Application, id: number, answer: string): Promise<Answer<object>> {
  const words = await wordsById(gharry.db, id)
  if (!words) return refuse('missing', 'There is no such note (any more).')
  const at = gharry.now().toISOString()
  const inForce = words.letterId === null ? null : await rulebookInForce(gharry)
  await gharry.db.transaction(async (trx) => {
    if (!(await closeWords(trx, id, answer.trim().slice(0, longest), at))) return
    const open = (await wordsOfOrders(trx, [words.orderId])).filter(
      ({ closedAt, kind }) => closedAt === null && kind === 'report',
    )
    const [next] = open
    await setReport(trx, words.orderId, next ? wordsSentence(next) : null)
    const done = doneWith(words)
    const sentence = answer.trim() === '' ? done : `${done}: ${answer.trim().slice(0, 300)}`
    await writeLog(trx, [{ order: words.orderId, at, author: gharry.settings.author, sentence }])
    await showWordsOnBoard(trx, words.orderId)
    if (words.letterId !== null && inForce && open.every(({ letterId }) => letterId !== words.letterId))
      await endHold(gharry, trx, words.letterId, inForce)
  })
  return { ok: true }
}

function doneWith({ kind, letterId }: CustomerWords): string {
  if (letterId !== null) return 'The answer was read'
  return kind === 'report' ? 'The case is closed' : 'The note was read'
}

/** What a letter held goes on once a person has read its answer; what somebody holds for another reason stays. */
async function endHold(gharry: Application, trx: Database, letterId: number, inForce: InForce): Promise<void> {
  const letter = await letterById(trx, letterId)
  if (!letter || letter.hold === null) return
  const pins = (await pinsOf(trx, [letter.orderId])).get(letter.orderId)
  if (pins?.hold !== letter.hold) return
  await removePin(trx, letter.orderId, 'hold')
  await routeAgain(gharry, trx, [letter.orderId], inForce)
}

/** Ends all letters to whom a parcel's letters go, by the link in them. */
export async function stopLetters(gharry: Application, token: string): Promise<boolean> {
  const label = await labelByLink(gharry.db, token)
  const order = label && (await orderRow(gharry.db, label.orderId))
  if (!order) return false
  const at = gharry.now().toISOString()
  if (order.email === '') return true
  await gharry.db.transaction(async (trx) => {
    await silence(trx, { address: order.email, why: 'stopped', said: 'by the link in a letter', at })
    await writeLog(trx, [{ order: order.id, at, author: 'Customer', sentence: 'The customer wants no more letters' }])
  })
  return true
}
