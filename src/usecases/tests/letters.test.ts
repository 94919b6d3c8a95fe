import { createTransport } from 'nodemailer'
import { demoRulebook } from '../../../demo/rulebook'
import { lettersOfOrder, orderRow, silencedBy, wordsOfOrders } from '@/data'
import { showOrder } from '../desk/showOrder'
import { previewLetters, type ToWrite, writeToBuyers } from '../desk/writeToBuyers'
import { pinDecision } from '../desk/pinDecision'
import { requestImport } from '../intake/importOrders'
import { closeCustomerWords } from '../tracking/customerWords'
import { answerByPage, showLetter } from '../tracking/letterAnswers'
import { receiveLetters } from '../tracking/noticeNews'
import { freePort, makeRig, orderTo, type Rig } from './rig'

/* Letters that people write to buyers: read back from the inbox, and answered by page and by mail. */
let rig: Rig
let letterbox: { port: number; close: () => Promise<void> } | undefined
afterEach(async () => {
  await letterbox?.close()
  letterbox = undefined
  await rig.close()
})

const domain = 'answers.gharry.example'
async function begin(orders = [orderTo('DE')]): Promise<void> {
  const port = await freePort()
  rig = await makeRig({
    rulebook: demoRulebook,
    bouncePort: port,
    env: { GHARRY_BOUNCE_DOMAIN: domain, GHARRY_BOUNCE_PORT: String(port) },
  })
  letterbox = await receiveLetters(rig.gharry, port)
  await rig.stockShop(orders)
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
}
const ask = (orders: readonly number[], more: Partial<ToWrite> = {}): ToWrite => ({
  ...{ orders, question: 'po box', text: { subject: '', body: '' }, hold: true },
  ...more,
})
const first = async () => (await rig.orders())[0]!
const write = (given: ToWrite, key = 'one key for one') => writeToBuyers(rig.gharry, { ...given, key })

/** Sends a mail to the letterbox, as the buyer's mail program does. */
async function mail(to: string, text: string, headers: Record<string, string> = {}, files = 0): Promise<string> {
  const transport = createTransport({ host: '127.0.0.1', port: letterbox!.port, secure: false, ignoreTLS: true })
  try {
    await transport.sendMail({
      ...{ from: 'ada@post.example', to, subject: 'Re: a question', text, headers },
      attachments: Array.from({ length: files }, (_, i) => ({ filename: `${i}.png`, content: 'x' })),
    })
    return 'taken'
  } catch (error) {
    return String((error as { responseCode?: number }).responseCode)
  } finally {
    transport.close()
  }
}

test('a buyer is asked in their language, the order is held, the answer lands on it, and it goes on once it is read', async () => {
  await begin()
  const { id, state } = await first()
  expect(state).toBe('ready')
  const seen = await previewLetters(rig.gharry, ask([id]))
  expect(seen).toMatchObject({ ok: true, count: 1, held: 1, letters: [{ to: 'ada@post.example', language: 'de' }] })
  expect(await rig.mails()).toEqual([])

  expect(await write(ask([id]))).toMatchObject({ ok: true, count: 1, held: 1 })
  expect(await orderRow(rig.gharry.db, id)).toMatchObject({
    state: 'held',
    hold: expect.stringMatching(/^Asked the buyer/),
  })
  await rig.workAll()
  const [letter] = await rig.mails()
  expect(letter!.subject).toContain('Welche Adresse')
  expect(letter!.text).toContain('Guten Tag Inés,')
  expect(letter!.headers['reply-to']).toMatch(new RegExp(`^answer\\+\\d+-[\\w-]{12}@${domain}$`))
  const token = /\/track\/answer\/([\w-]+)/.exec(letter!.text)![1]!
  expect(letter!.html).toContain(`/track/answer/${token}`)

  expect(await showLetter(rig.gharry, token)).toMatchObject({ order: 'N-1', answers: [] })
  expect(await answerByPage(rig.gharry, token, '  Kouter 1\r\n9000 Gent\u0007 ')).toMatchObject({ ok: true })
  // Pressed twice is one answer.
  await answerByPage(rig.gharry, token, 'Kouter 1\n9000 Gent')
  const [words, ...others] = await wordsOfOrders(rig.gharry.db, [id])
  expect(others).toEqual([])
  expect(words).toMatchObject({ kind: 'report', about: 'answer', text: 'Kouter 1\n9000 Gent' })
  // Nobody but a person knows what it means: it stays held, and stands on the Desk.
  expect(await orderRow(rig.gharry.db, id)).toMatchObject({
    state: 'held',
    report: 'The buyer answered: Kouter 1 9000 Gent',
  })
  expect((await showOrder(rig.gharry, id))!.letters[0]!.answeredAt).not.toBeNull()

  expect(await closeCustomerWords(rig.gharry, words!.id, '')).toMatchObject({ ok: true })
  expect(await orderRow(rig.gharry.db, id)).toMatchObject({ state: 'ready', report: null, hold: null })
})

test('a mail back is the answer, without what it quotes; what machines send, and who guesses, is not taken', async () => {
  await begin()
  const { id } = await first()
  await write(ask([id]))
  await rig.workAll()
  const to = (await rig.mails())[0]!.headers['reply-to']!
  expect(await mail('answer+1-AAAAAAAAAAAA@x.example', 'guessed')).toBe('taken')
  expect(await mail('hello@x.example', 'somebody else')).toBe('550')
  expect(await mail(to, 'I am away until Monday', { 'Auto-Submitted': 'auto-replied' })).toBe('taken')
  expect(await wordsOfOrders(rig.gharry.db, [id])).toEqual([])
  const text = 'Lindenstraße 4\n30159 Hannover\n\nAm Montag schrieb Mossgill:\n> Welche Adresse?\n> Bitte'
  expect(await mail(to, text, {}, 2)).toBe('taken')
  await mail(to, text, {}, 2)
  const words = await wordsOfOrders(rig.gharry.db, [id])
  expect(words.map((one) => one.text)).toEqual(['Lindenstraße 4\n30159 Hannover\n\n(2 attached files were not kept.)'])
})

test('a letter that comes back is said on its order, which stays held', async () => {
  await begin([orderTo('NL', { email: 'nobody@post.example' })])
  const { id } = await first()
  await write(ask([id], { question: 'telephone' }))
  await rig.workAll()
  await until(async () => (await orderRow(rig.gharry.db, id))?.report !== null)
  const order = (await orderRow(rig.gharry.db, id))!
  expect(order).toMatchObject({ state: 'held', report: expect.stringMatching(/came back: 550/) })
  expect((await lettersOfOrder(rig.gharry.db, id))[0]).toMatchObject({ state: 'failed' })
  expect(await silencedBy(rig.gharry.db, 'nobody@post.example')).toBeDefined()
  expect(await write(ask([id]), 'another key')).toMatchObject({
    ok: false,
    sentence: expect.stringMatching(/came back/),
  })
})

test('one intent is one letter; who cannot be written to is left out with why; words that cannot be filled are said', async () => {
  await begin([orderTo('BE', {}, 'N-1'), orderTo('FR', { email: '' }, 'N-2'), orderTo('PL', {}, 'N-3')])
  const ids = (await rig.orders()).map(({ id }) => id)
  const own = {
    question: null,
    text: { subject: 'Your {{ order.number }}', body: 'Hello {{ buyer.firstName }},\n\nred or blue?' },
  }
  const given = ask(ids, own)
  await Promise.all([write(given), write(given)])
  await rig.workAll()
  const mails = await rig.mails()
  expect(mails.map(({ subject, copies }) => [subject, copies]).sort()).toEqual([
    ['Your N-1', 1],
    ['Your N-3', 1],
  ])
  // Words that do not say where to answer get the button all the same.
  expect(mails.every(({ text }) => text.includes('/track/answer/'))).toBe(true)
  expect(await previewLetters(rig.gharry, given)).toMatchObject({
    left: [{ why: 'The order has no e-mail address.', count: 1, numbers: ['N-2'] }],
  })
  for (const body of ['{{ order.colour }}', '{% for i in (1..9999999) %}x{% endfor %}', '   '])
    expect(await write(ask(ids, { question: null, text: { subject: '', body } }), 'k')).toMatchObject({ ok: false })
  expect(await write(ask([]))).toMatchObject({ code: 'no-orders' })
  expect(await write(ask(Array.from({ length: 501 }, (_, i) => i + 1)))).toMatchObject({ code: 'batch-too-large' })
})

test('what a person holds for another reason stays held for it, and a buyer who wants no more letters gets none', async () => {
  await begin()
  const { id } = await first()
  await pinDecision(rig.gharry, id, 'hold', 'waits for the vet')
  expect(await write(ask([id]))).toMatchObject({ ok: true, held: 0 })
  await rig.workAll()
  const token = /\/track\/answer\/([\w-]+)/.exec((await rig.mails())[0]!.text)![1]!
  await answerByPage(rig.gharry, token, 'Yes')
  await closeCustomerWords(rig.gharry, (await wordsOfOrders(rig.gharry.db, [id]))[0]!.id, '')
  expect(await orderRow(rig.gharry.db, id)).toMatchObject({ state: 'held', hold: 'waits for the vet' })

  for (const [said, code] of [
    ['', 'say-it'],
    ['x'.repeat(2001), 'too-long'],
  ] as const)
    expect(await answerByPage(rig.gharry, token, said)).toMatchObject({ ok: false, sentence: code })
  for (let i = 0; i < 6; i++) await answerByPage(rig.gharry, token, `again ${i}`)
  expect(await answerByPage(rig.gharry, token, 'once more')).toMatchObject({ sentence: 'too-many' })
  expect(await answerByPage(rig.gharry, 'x'.repeat(24), 'Yes')).toMatchObject({ sentence: 'not-found' })
  rig.put(61 * 24 * 60)
  expect(await showLetter(rig.gharry, token)).toBeNull()
})

async function until(holds: () => Promise<boolean>): Promise<void> {
  for (let i = 0; i < 600 && !(await holds()); i++) await new Promise((resolve) => setTimeout(resolve, 50))
}
