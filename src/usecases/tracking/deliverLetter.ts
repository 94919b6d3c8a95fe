import { answerWords } from '@/core/telling'
import { usualSeller } from '@/core/world'
import { changeHeld, type LetterRow, orderRow, silencedBy } from '@/data'
import type { Application } from '../shared/application'
import { currentWorld } from '../shared/changeWorld'
import { settleMessage } from '../shared/settleMessage'
import { faceFor } from './faces'
import { buyerLetterHtml } from './noticeLetter'

/** By which name the other side of a letter knows it: its number, and so much of its token that nobody guesses it. */
export const letterName = ({ id, token }: Pick<LetterRow, 'id' | 'token'>): string => `${id}-${token.slice(0, 12)}`

/** Sends a letter that a person wrote to a buyer; a mail back to it is an answer, where letters are taken in. */
export async function deliverLetter(gharry: Application, letter: LetterRow): Promise<void> {
  const { db, settings } = gharry
  const end = (state: 'dropped' | 'failed', problem: string): Promise<void> =>
    changeHeld(db, 'letters', letter, { state, problem, leaseUntil: null })
  const order = await orderRow(db, letter.orderId)
  if (!order || order.state === 'cancelled') return end('dropped', 'The order was cancelled first.')
  if (await silencedBy(db, letter.recipient)) return end('dropped', 'Nothing is sent there any more.')
  const { seller = usualSeller } = (await currentWorld(db)).world
  if (seller.mail === '')
    return end('failed', 'Say in Set-up, Seller, from which address letters come; then write again.')
  const { colours, logo } = await faceFor(gharry, order.channelId)
  const words = answerWords(letter.language)
  const takesMail = settings.bounceDomain !== '' && settings.bouncePort > 0
  const name = letterName(letter)
  const result = await gharry.mail.send({
    from: { name: seller.name, address: seller.mail },
    to: letter.recipient,
    key: letter.key,
    ...(takesMail
      ? { bounce: `letter+${name}@${settings.bounceDomain}`, replyTo: `answer+${name}@${settings.bounceDomain}` }
      : {}),
    subject: letter.subject,
    text: takesMail ? `${letter.body}\n${words.byMail}\n` : letter.body,
    html: buyerLetterHtml(
      {
        paragraphs: letter.paragraphs,
        ...{ button: words.button, language: letter.language, seller: seller.name },
        link: `${settings.publicUrl}/track/answer/${letter.token}`,
        foot: takesMail ? words.byMail : '',
      },
      colours,
      logo,
    ),
  })
  await settleMessage(gharry, 'letters', letter, result, {})
}
