import type { LetterAnswer } from '@/adapters'
import { type Language, languageOf } from '@/core/telling'
import {
  addWords,
  countWords,
  type Database,
  letterById,
  letterByToken,
  type LetterRow,
  noteAnswered,
  noteCameBack,
  orderRow,
  setReport,
  silence,
  wordsOfOrders,
  writeLog,
} from '@/data'
import { refuse, type Answer, type Application } from '../shared/application'
import { isLinkToken } from '../shared/links'
import { wordsSentence } from './customerWords'
import { letterName } from './deliverLetter'

const longest = 2000
const mostADay = 5
/** A link in a letter leads somewhere for so long. */
const openForMs = 60 * 86_400_000

/** What a buyer sees who follows the link in a letter. */
export interface LetterPage {
  readonly order: string
  readonly channel: string
  readonly subject: string
  /** The letter without its button. */
  readonly paragraphs: readonly string[]
  readonly language: Language
  /** What they answered, the newest first. */
  readonly answers: readonly { readonly at: string; readonly text: string }[]
}

const openLetter = async (gharry: Application, token: string): Promise<LetterRow | undefined> => {
  const letter = isLinkToken(token) ? await letterByToken(gharry.db, token) : undefined
  return letter && gharry.now().getTime() - Date.parse(letter.madeAt) < openForMs ? letter : undefined
}

/** The letter behind a link; null when it leads nowhere (any more). */
export async function showLetter(gharry: Application, token: string): Promise<LetterPage | null> {
  const letter = await openLetter(gharry, token)
  const order = letter && (await orderRow(gharry.db, letter.orderId))
  if (!letter || !order) return null
  const words = await wordsOfOrders(gharry.db, [order.id])
  return {
    order: order.number,
    channel: order.channelId,
    subject: letter.subject,
    paragraphs: letter.paragraphs.filter((part) => part !== null),
    language: languageOf(letter.language, ''),
    answers: words.flatMap(({ letterId, at, text }) => (letterId === letter.id ? [{ at, text }] : [])),
  }
}

/** Takes what a buyer answers on the page of a letter. */
export async function answerByPage(gharry: Application, token: string, said: string): Promise<Answer<object>> {
  const letter = await openLetter(gharry, token)
  if (!letter) return refuse('not-found', 'not-found')
  // Lines stay: an address has some.
  const text = plain(said)
  if (text === '') return refuse('bad-value', 'say-it')
  if (text.length > longest) return refuse('bad-value', 'too-long')
  const since = new Date(gharry.now().getTime() - 86_400_000).toISOString()
  if ((await countWords(gharry.db, letter.orderId, since)) >= mostADay) return refuse('too-many-tries', 'too-many')
  await gharry.db.transaction((trx) => takeAnswer(gharry, trx, letter, text))
  return { ok: true }
}

/** Takes a mail back to a letter: its answer, or that it came back. What fits no letter is left. */
export async function answerByMail(gharry: Application, { name, answer, cameBack }: LetterAnswer): Promise<void> {
  const id = Number(/^(\d{1,12})-/.exec(name)?.[1] ?? 0)
  const letter = id === 0 ? undefined : await letterById(gharry.db, id)
  // The address is only known to whom the letter went.
  if (!letter || letterName(letter) !== name) return
  if (cameBack) {
    if (letter.state === 'waiting') throw new Error('not sent yet')
    return gharry.db.transaction((trx) => takeBack(gharry, trx, letter, cameBack))
  }
  const text = plain(answer).slice(0, longest)
  const since = new Date(gharry.now().getTime() - 86_400_000).toISOString()
  if (text === '' || (await countWords(gharry.db, letter.orderId, since)) >= 4 * mostADay) return
  await gharry.db.transaction((trx) => takeAnswer(gharry, trx, letter, text))
}

const plain = (text: string): string =>
  text
    .replace(/\r\n?/g, '\n')
    .replace(/[^\P{Cc}\n]/gu, ' ')
    .replace(/\n{3,}/g, '\n\n')
    .trim()

/** The answer lands on the order, which stays held: only a person knows what it means. */
async function takeAnswer(gharry: Application, trx: Database, letter: LetterRow, text: string): Promise<void> {
  const at = gharry.now().toISOString()
  // A mail may come twice, and a button be pressed twice.
  const [newest] = (await wordsOfOrders(trx, [letter.orderId])).filter(({ letterId }) => letterId === letter.id)
  if (newest?.text === text && newest.closedAt === null) return
  const words = { kind: 'report' as const, about: 'answer', text, day: '' }
  await addWords(trx, { ...words, orderId: letter.orderId, labelId: 0, letterId: letter.id, at })
  await noteAnswered(trx, letter.id, at)
  await setReport(trx, letter.orderId, `${wordsSentence(words)}: ${text.replace(/\s+/g, ' ').slice(0, 300)}`)
  await writeLog(trx, [{ order: letter.orderId, at, author: 'Customer', sentence: `Answered: ${text.slice(0, 300)}` }])
}

async function takeBack(
  gharry: Application,
  trx: Database,
  letter: LetterRow,
  { forGood, said }: NonNullable<LetterAnswer['cameBack']>,
): Promise<void> {
  const at = gharry.now().toISOString()
  const problem = `The letter came back: ${said}`
  await noteCameBack(trx, letter.id, problem)
  const words = { kind: 'report' as const, about: 'not reached', text: said, day: '' }
  await addWords(trx, { ...words, orderId: letter.orderId, labelId: 0, letterId: letter.id, at })
  await setReport(trx, letter.orderId, `${wordsSentence(words)}: ${said}`)
  await writeLog(trx, [{ order: letter.orderId, at, author: 'Gharry', sentence: problem }])
  if (forGood) await silence(trx, { address: letter.recipient, why: 'came back', said, at })
}
