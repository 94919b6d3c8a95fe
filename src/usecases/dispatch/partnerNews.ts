import { partnerKindOf, type PartnerNews } from '@/adapters'
import {
  answerHandOver,
  countStock,
  handOverBy,
  labelById,
  listConnections,
  moveLabel,
  noteCalls,
  orderRow,
  partnerCursor,
  setFlag,
  setPartnerCursor,
  writeLog,
  type ConnectionRow,
  type Database,
  type HandOverRow,
} from '@/data'
import { type Answer, type Application, refuse } from '../shared/application'
import { currentWorld } from '../shared/changeWorld'
import { hasNumbers, readOwnNumbers, recordOwnNumbersIn } from '../tracking/ownNumbers'
import { requestVoid } from './voidLabel'

const mostPages = 50

/** Asks all partners that can answer what they have to say. */
export async function hearPartners(gharry: Application): Promise<void> {
  for (const row of await listConnections(gharry.db))
    if (row.role === 'partner' && row.on && partnerKindOf(row.kind)?.can.answers) await hearPartner(gharry, row)
}

async function hearPartner(gharry: Application, partner: ConnectionRow): Promise<void> {
  const client = await gharry.partner(partner.id)
  for (let page = 0; page < mostPages; page++) {
    const cursor = await partnerCursor(gharry.db, partner.id)
    const result = await client.news?.(cursor)
    if (!result) return
    if (!result.ok) return gharry.log.warn({ partner: partner.id, kind: result.kind }, 'no answers')
    const { news, bad, more } = result.body
    const odd = [...bad]
    await gharry.db.transaction(async (trx) => {
      for (const one of news) {
        const wrong = await takePartnerNews({ ...gharry, db: trx }, trx, partner, one)
        if (wrong !== null) odd.push(`${one.id}: ${wrong}`)
      }
      await setPartnerCursor(trx, partner.id, result.body.cursor)
    })
    if (odd.length > 0) await noteOdd(gharry, partner.id, odd)
    if (!more) return
  }
}

/** What could not be used is said where its connection is. */
async function noteOdd(gharry: Application, id: string, odd: readonly string[]): Promise<void> {
  const at = gharry.now().toISOString()
  gharry.log.warn({ partner: id, answers: odd.length }, 'answers that could not be used')
  const sentence = `An answer could not be used: ${odd.slice(0, 3).join('; ')}${odd.length > 3 ? ' …' : ''}`
  const none = { calls: 0, ms: 0, heard: 0, refused: 0, successAt: null }
  await noteCalls(gharry.db, id, at.slice(0, 13), {
    ...none,
    failures: 1,
    failure: { at, kind: 'garbled answer', sentence },
  })
}

/** Takes one answer into the books, in the caller’s transaction; gives why it could not be used, or null. */
async function takePartnerNews(
  gharry: Application,
  trx: Database,
  partner: Pick<ConnectionRow, 'id' | 'name'>,
  news: PartnerNews,
): Promise<string | null> {
  if (news.kind === 'stock') return takeStock(gharry, trx, partner, news.items)
  const row = await handOverBy(trx, { reference: news.reference, partner: partner.id })
  if (!row) return `it names ${news.reference}, which was not handed over to ${partner.name}`
  if (news.kind === 'despatched') return left(gharry, trx, row, partner.name, news)
  return answered(gharry, trx, row, partner.name, news)
}

/** What a partner counts is what is in stock at its places; SKUs that it does not name stay as they are. */
async function takeStock(
  gharry: Application,
  trx: Database,
  { id, name }: Pick<ConnectionRow, 'id' | 'name'>,
  items: readonly { readonly sku: string; readonly quantity: number }[],
): Promise<string | null> {
  const { world } = await currentWorld(trx)
  const places = world.locations.filter(({ partner }) => partner === id)
  if (places.length === 0) return 'it reports stock, but no location is theirs (Set-up, Locations)'
  const counts = items.map(({ sku, quantity }) => ({ sku, onHand: quantity }))
  const at = gharry.now().toISOString()
  for (const place of places) await countStock(trx, place.id, counts, { at, kind: 'partner', note: '', author: name })
  return null
}

async function answered(
  gharry: Application,
  trx: Database,
  row: HandOverRow,
  name: string,
  { kind, text }: { readonly kind: 'acknowledged' | 'refused'; readonly text: string },
): Promise<null> {
  // Said again, or overtaken by its going.
  if (row.answer === kind || row.answer === 'despatched') return null
  const at = gharry.now().toISOString()
  await answerHandOver(trx, row.id, kind, text, at)
  const said = text === '' ? '' : `: ${text}`
  const sentence = kind === 'refused' ? `${name} does not send it${said}` : `${name} has the papers${said}`
  await writeLog(trx, [{ order: row.orderId, at, author: name, sentence }])
  const label = await labelById(trx, row.labelId)
  if (kind === 'refused' && label && ['bought', 'queued'].includes(label.state))
    await setFlag(trx, row.orderId, `${sentence}. Void the label, and send it from elsewhere.`)
  return null
}

/** It left: under the number that was bought for it, or under one of the partner’s own. */
async function left(
  gharry: Application,
  trx: Database,
  row: HandOverRow,
  name: string,
  { carrier, numbers }: { readonly carrier: string; readonly numbers: readonly string[] },
): Promise<string | null> {
  const read = readOwnNumbers({ carrier, numbers }, (await currentWorld(trx)).world)
  if (!read.ok) return read.sentence
  const at = gharry.now().toISOString()
  await answerHandOver(trx, row.id, 'despatched', read.numbers.join(', '), at)
  const label = await labelById(trx, row.labelId)
  const order = await orderRow(trx, row.orderId)
  if (!label || !order) return 'its order does not exist any more'
  if (await hasNumbers(trx, label.id, read.numbers)) {
    if (row.answer !== 'despatched')
      await writeLog(trx, [{ order: row.orderId, at, author: name, sentence: 'It left, under the number bought here' }])
    return null
  }
  const own = { carrier: read.carrier, numbers: read.numbers }
  if (label.state === 'bought' && !label.own) {
    // What was bought for it is not used: it is voided, and the order leaves under the other number.
    await moveLabel(trx, label.id, ['bought'], { replacement: JSON.stringify({ ...own, by: name }) })
    const asked = await requestVoid(gharry, label.id)
    const sentence = `It left under a number of ${name}: ${read.numbers.join(', ')}`
    await writeLog(trx, [{ order: row.orderId, at, author: name, sentence }])
    if (!asked.ok) await setFlag(trx, row.orderId, `${sentence}. The label bought here stays: ${asked.sentence}`)
    return null
  }
  const recorded = await recordOwnNumbersIn(gharry, trx, row.orderId, own, name)
  return recorded.ok || recorded.code === 'taken' ? null : recorded.sentence
}

/** What people of a partner answer on their page. */
export type AnswerByHand =
  | { readonly kind: 'acknowledged' | 'refused'; readonly text: string }
  | { readonly kind: 'despatched'; readonly carrier: string; readonly numbers: readonly string[] }

/** Takes an answer that was given on the page of a hand-over. */
export async function answerByHand(gharry: Application, token: string, answer: AnswerByHand): Promise<Answer<object>> {
  return gharry.db.transaction(async (trx): Promise<Answer<object>> => {
    const row = await handOverBy(trx, { token })
    if (!row) return refuse('not-found', 'There is no such shipment.')
    if (answer.kind === 'refused' && answer.text.trim() === '')
      return refuse('bad-value', 'Say why you cannot send it.')
    const partner = (await currentWorld(trx)).world.partners?.find(({ id }) => id === row.partner)
    const from = { id: row.partner, name: partner?.name ?? 'The partner' }
    const wrong = await takePartnerNews({ ...gharry, db: trx }, trx, from, {
      ...answer,
      id: token,
      reference: row.reference,
    })
    return wrong === null ? { ok: true } : refuse('bad-value', wrong)
  })
}
