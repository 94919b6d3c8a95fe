import { type Bounce, receiveLetters as listen, type TextNews } from '@/adapters'
import {
  addWords,
  type Database,
  labelById,
  noticeById,
  noticeByReceipt,
  type NoticeRow,
  partnerCursor,
  setPartnerCursor,
  setReceived,
  silence,
  textedLast,
  writeLog,
} from '@/data'
import type { Application } from '../shared/application'
import { showWordsOnBoard } from './customerWords'
import { answerByMail } from './letterAnswers'

const mostPages = 50
/** Words by which people say that they want no more; whatever their language, they read STOP in the message. */
const stops = /^\s*(?:stop|stopp|stoppen|arret|arrêt|koniec|unsubscribe|cancel|end|quit)\b/i

/** Asks the gateway for text messages what became of them, and what people answered. */
export async function hearMessenger(gharry: Application): Promise<void> {
  const gateway = await gharry.messenger()
  if (!gateway) return
  for (let page = 0; page < mostPages; page++) {
    const cursor = await partnerCursor(gharry.db, gateway.id)
    const result = await gateway.client.news(cursor)
    if (!result.ok) return gharry.log.warn({ messenger: gateway.id, kind: result.kind }, 'no news')
    const { news, more } = result.body
    await gharry.db.transaction(async (trx) => {
      for (const one of news) await takeTextNews(gharry, trx, gateway.id, one)
      await setPartnerCursor(trx, gateway.id, result.body.cursor)
    })
    if (!more || result.body.cursor === cursor) return
  }
}

async function takeTextNews(gharry: Application, trx: Database, gateway: string, news: TextNews): Promise<void> {
  const at = gharry.now().toISOString()
  if (news.kind !== 'answer') {
    const notice = await noticeByReceipt(trx, `${gateway} ${news.message}`)
    if (!notice || notice.received === news.kind) return
    const problem =
      news.kind === 'failed' ? `The text message did not arrive${news.text ? `: ${news.text}` : '.'}` : null
    await setReceived(trx, notice.id, news.kind, problem)
    if (problem) await log(trx, notice, at, problem)
    return
  }
  const from = news.from.trim()
  if (stops.test(news.text)) return silence(trx, { address: from, why: 'stopped', said: news.text.slice(0, 200), at })
  const last = await textedLast(trx, from)
  if (!last) return
  const text = news.text.trim().slice(0, 2000)
  await addWords(trx, {
    ...{ orderId: last.orderId, labelId: last.labelId, day: '', at, text },
    kind: 'note',
    about: 'answer',
  })
  await log(trx, last, at, `The customer answered by text message: ${text.slice(0, 200)}`)
  await showWordsOnBoard(trx, last.orderId)
}

const log = (trx: Database, { orderId }: Pick<NoticeRow, 'orderId'>, at: string, sentence: string): Promise<void> =>
  writeLog(trx, [{ order: orderId, at, author: 'Gharry', sentence }])

/**
 * Takes in that a letter came back: its order says so, and an address that does not exist is not written to any more.
 */
export async function takeBounce(gharry: Application, { name, forGood, said }: Bounce): Promise<void> {
  const [, id = '', proof = ''] = /^(\d{1,12})-([\w-]{12})$/.exec(name) ?? []
  const notice = id === '' ? undefined : await noticeById(gharry.db, Number(id))
  const label = notice && (await labelById(gharry.db, notice.labelId))
  // The address is only known to whom a letter went.
  if (!notice || label?.token.slice(0, 12) !== proof || notice.received === 'came back') return
  // It was faster than the answer to the letter: the other side tries again.
  if (notice.state === 'waiting') throw new Error('not sent yet')
  const at = gharry.now().toISOString()
  const problem = `The mail came back: ${said}`
  await gharry.db.transaction(async (trx) => {
    await setReceived(trx, notice.id, 'came back', problem)
    await log(trx, notice, at, problem)
    if (forGood) await silence(trx, { address: notice.recipient, why: 'came back', said, at })
  })
}

/** Listens for letters that come back, and for answers to those that people wrote. */
export const receiveLetters = (gharry: Application, port: number): ReturnType<typeof listen> =>
  listen(port, {
    bounce: (bounce) => takeBounce(gharry, bounce),
    letter: (answer) => answerByMail(gharry, answer),
  })
