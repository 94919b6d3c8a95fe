import { printedAddress } from '@/core/address'
import { waitingStates, type Order } from '@/core/order'
import {
  type BuyerLetter,
  composeLetter,
  type Language,
  letterPlaceholders,
  type LetterFacts,
  type LetterText,
  type QuestionId,
  questions,
  questionText,
} from '@/core/telling'
import { usualSeller, type World } from '@/core/world'
import {
  addLetters,
  type ChannelRow,
  channelById,
  type Database,
  keepLetterText,
  lettersOfOrder,
  type LetterTextRow,
  letterTexts,
  orderRows,
  ordersById,
  type OrderRow,
  pinsOf,
  removeLetterText,
  setPin,
  silencedBy,
  writeLog,
} from '@/data'
import { refuse, type Answer, type Application } from '../shared/application'
import { currentWorld } from '../shared/changeWorld'
import { freshToken } from '../shared/freshId'
import { routeAgain } from '../shared/routeOrders'
import { type InForce, rulebookInForce } from '../shared/rulebookInForce'
import { readerOf, whyNobody } from '../tracking/notices'
import { type LeftOut, leftOut } from './manyEdit'

/** Most orders whose buyers are written to at once. */
const mostWritten = 500
const mostShown = 5

/**
 * What is written to the buyers of which orders: a question of Gharry's in each one's language, or words as they are.
 */
export interface ToWrite {
  readonly orders: readonly number[]
  readonly question: QuestionId | null
  /** Words of one's own; taken where there is no question. */
  readonly text: LetterText
  /** Orders that still wait are held until the buyer has answered. */
  readonly hold: boolean
}

/** The words to begin with: Gharry's questions, and those that were kept. */
export interface LettersView {
  readonly questions: readonly { readonly id: QuestionId; readonly name: string; readonly text: LetterText }[]
  readonly kept: readonly LetterTextRow[]
  readonly placeholders: typeof letterPlaceholders
}

/** What can be written to a buyer. */
export const showLetterTexts = async ({ db }: Application): Promise<LettersView> => ({
  questions: questions.map(({ id, name }) => ({ id, name, text: questionText(id, 'en') })),
  kept: await letterTexts(db),
  placeholders: letterPlaceholders,
})

/** A letter as one buyer would get it. */
export interface LetterSeen {
  readonly order: string
  readonly to: string
  readonly language: Language
  readonly subject: string
  readonly body: string
}

/** What writing would do. */
export interface LettersPreview {
  readonly ok: true
  /** How many letters go out, and how many orders wait for their answers. */
  readonly count: number
  readonly held: number
  /** The first of them. */
  readonly letters: readonly LetterSeen[]
  readonly left: readonly LeftOut[]
}

/** Shows the letters, each in its buyer's language, and who is not written to, and why; nothing is sent. */
export async function previewLetters(gharry: Application, given: ToWrite): Promise<Answer<LettersPreview>> {
  const drafted = await draftLetters(gharry, given)
  if (!drafted.ok) return drafted
  const { drafts, left } = drafted
  return {
    ok: true,
    count: drafts.length,
    held: drafts.filter(({ hold }) => hold !== null).length,
    letters: drafts.slice(0, mostShown).map(({ row, to, letter: { language, subject, body } }) => ({
      ...{ order: row.number, to, language, subject, body },
    })),
    left: leftOut(left),
  }
}

/** What became of writing. */
export interface Written {
  readonly count: number
  readonly held: number
  readonly left: readonly LeftOut[]
}

/**
 * Writes to the buyers of orders, and holds those that still wait until they answer. The same key twice is one letter
 * each.
 */
export async function writeToBuyers(
  gharry: Application,
  given: ToWrite & { readonly key: string },
): Promise<Answer<Written>> {
  const inForce = await rulebookInForce(gharry)
  if (!inForce) return refuse('no-edition', 'Publish a rulebook first.')
  const drafted = await draftLetters(gharry, given)
  if (!drafted.ok) return drafted
  const { drafts, left } = drafted
  if (drafts.length === 0)
    return refuse('no-orders', left[0] ? `Nobody is written to: ${left[0].why}` : 'Nobody is written to.')
  await gharry.db.transaction((trx) => sendDrafts(gharry, trx, given.key, drafts, inForce))
  return {
    ok: true,
    count: drafts.length,
    held: drafts.filter(({ hold }) => hold !== null).length,
    left: leftOut(left),
  }
}

async function sendDrafts(
  gharry: Application,
  trx: Database,
  key: string,
  drafts: readonly Draft[],
  inForce: InForce,
): Promise<void> {
  const { author } = gharry.settings
  const at = gharry.now().toISOString()
  const made = new Set(
    await addLetters(
      trx,
      drafts.map(({ row, to, token, about, hold, letter: { subject, body, paragraphs, language } }) => ({
        ...{ orderId: row.id, key: `${key}-${row.id}`, token, recipient: to, language, about },
        ...{ subject, body, paragraphs, hold, author },
      })),
      at,
    ),
  )
  const fresh = drafts.filter(({ row }) => made.has(row.id))
  const held = fresh.filter(({ hold }) => hold !== null)
  for (const { row, hold } of held) await setPin(trx, row.id, 'hold', hold, author, at)
  await writeLog(
    trx,
    fresh.map(({ row, about, hold }) => ({
      order: row.id,
      ...{ at, author, sentence: `Wrote to the buyer: ${about}${hold === null ? '' : '; held until they answer'}` },
    })),
  )
  await routeAgain(
    gharry,
    trx,
    held.map(({ row }) => row.id),
    inForce,
  )
}

/** A letter that could go out. */
interface Draft {
  readonly row: OrderRow
  readonly to: string
  readonly token: string
  readonly about: string
  readonly letter: BuyerLetter
  readonly hold: string | null
}
interface Left {
  readonly number: string
  readonly why: string
}
interface Drafted {
  readonly ok: true
  readonly drafts: readonly Draft[]
  readonly left: readonly Left[]
}

async function draftLetters(gharry: Application, given: ToWrite): Promise<Answer<Drafted>> {
  const { db } = gharry
  const ids = [...new Set(given.orders)]
  if (ids.length === 0) return refuse('no-orders', 'Choose the orders first.')
  if (ids.length > mostWritten)
    return refuse('batch-too-large', `At most ${mostWritten} buyers are written to at once: choose fewer orders.`)
  const { world } = await currentWorld(db)
  if ((world.seller?.mail ?? '') === '')
    return refuse('bad-value', 'Say in Set-up, Seller, from which address letters come; then write.')
  const rows = await orderRows(db, ids)
  const stored = new Map((await ordersById(db, ids)).map(({ id, order }) => [id, order]))
  const pins = await pinsOf(db, ids)
  const channels = new Map<string, ChannelRow | undefined>()
  const drafts: Draft[] = []
  const left: Left[] = []
  for (const row of rows) {
    if (!channels.has(row.channelId)) channels.set(row.channelId, await channelById(db, row.channelId))
    const channel = channels.get(row.channelId)
    const order = stored.get(row.id)!
    const why = await whyNotWritten(db, row, channel)
    if (why !== '') {
      left.push({ number: row.number, why })
      continue
    }
    const written = draftOf(gharry, given, { row, order, channel, world })
    if ('sentence' in written) return refuse('bad-value', written.sentence)
    const holdable = given.hold && waitingStates.includes(row.state) && isFree(pins.get(row.id)?.hold)
    drafts.push({ ...written, hold: holdable ? `Asked the buyer: ${written.about}`.slice(0, 200) : null })
  }
  return { ok: true, drafts, left }
}

/** What a person holds for another reason stays held for it. */
const isFree = (hold: unknown): boolean =>
  hold === undefined || hold === null || (typeof hold === 'string' && hold.startsWith('Asked the buyer'))

async function whyNotWritten(db: Database, row: OrderRow, channel: ChannelRow | undefined): Promise<string> {
  const nobody = whyNobody(channel)
  if (nobody !== '') return nobody
  if (row.state === 'cancelled') return 'It is cancelled.'
  if (row.email === '') return 'The order has no e-mail address.'
  const silenced = await silencedBy(db, row.email)
  if (silenced)
    return silenced.why === 'stopped' ? 'The customer wants no more messages.' : 'What was sent there came back.'
  const open = (await lettersOfOrder(db, row.id)).some(({ state, answeredAt }) => state === 'waiting' && !answeredAt)
  return open ? 'A letter to this buyer is on its way already.' : ''
}

function draftOf(
  gharry: Application,
  { question, text }: ToWrite,
  of: {
    readonly row: OrderRow
    readonly order: Order
    readonly channel: ChannelRow | undefined
    readonly world: World
  },
): Omit<Draft, 'hold'> | { readonly sentence: string } {
  const { row, order, channel, world } = of
  const { language, mail } = readerOf(order, channel)
  const token = freshToken()
  const { seller = usualSeller } = world
  const facts: LetterFacts = {
    order: { number: order.number, channel: channel?.name ?? '', address: printedAddress(order.shipTo).join('\n') },
    buyer: { name: order.buyer.name || order.shipTo.name },
    seller: { name: seller.name, mail: seller.mail },
    items: order.items.map(({ title, sku, quantity }) => ({ title: title || sku, quantity })),
    link: `${gharry.settings.publicUrl}/track/answer/${token}`,
  }
  const composed = composeLetter(language, question === null ? text : questionText(question, language), facts)
  if ('sentence' in composed) return composed
  const { letter } = composed
  const about = questions.find(({ id }) => id === question)?.name ?? letter.subject.slice(0, 120)
  return { row, to: mail, token, about, letter }
}

/** Keeps words for the next time, under a name. */
export async function saveLetterText(
  gharry: Application,
  { name, text }: { readonly name: string; readonly text: LetterText },
): Promise<Answer<object>> {
  const named = name.trim()
  if (named === '') return refuse('bad-value', 'Give the words a name.')
  if (text.body.trim() === '') return refuse('bad-value', 'There are no words to keep.')
  const at = gharry.now().toISOString()
  await keepLetterText(gharry.db, { name: named, ...text, author: gharry.settings.author, madeAt: at })
  return { ok: true }
}

/** Keeps them no more. */
export const forgetLetterText = async ({ db }: Application, id: number): Promise<Answer<object>> =>
  (await removeLetterText(db, id)) ? { ok: true } : refuse('missing', 'These words are not kept (any more).')
