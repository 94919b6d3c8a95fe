import type { CallResult } from '../../http'
import { escapedHtml } from '../../mail/html'
import type { MailClient } from '../../mail/smtp'
import { orderDocument, type OrderFormat } from '../orderDocuments'
import type { HandedFile, HandOver, PartnerClient, Receipt } from '../partner'

export interface MailPapersSettings {
  readonly to: string
  readonly order: OrderFormat
}

/** A mail a shipment, with order and papers. */
export function mailPapers({ to, order }: MailPapersSettings, mail: MailClient): PartnerClient {
  const send = async (
    { seller }: Pick<HandOver, 'seller'>,
    subject: string,
    lines: readonly string[],
    key: string,
    attachments: readonly HandedFile[] = [],
  ): Promise<CallResult<Receipt>> => {
    const text = lines.join('\n')
    const from = { name: seller.name, address: seller.mail }
    const sent = await mail.send({ from, to, subject, text, html: plainHtml(lines), key, attachments })
    return sent.ok ? { ok: true, body: { receipt: `mail <${key}@gharry.example>` } } : sent
  }
  return {
    handOver: (what, papers, key) =>
      send(what, `Please send ${what.order} (${what.reference})`, summary(what), key, [
        ...papers,
        orderDocument(what, order),
      ]),
    takeBack: (what, key) =>
      send(
        what,
        `Do not send ${what.order} (${what.reference})`,
        [
          `The shipment ${what.reference} of order ${what.order} is cancelled.`,
          'Its label was taken back: please destroy it, and do not send the goods.',
        ],
        key,
      ),
  }
}

function summary({ order, location, shipOn, carrier, service, parcels, message, answerUrl }: HandOver): string[] {
  return [
    `Order ${order}, to leave ${location} on ${shipOn} with ${carrier}, ${service}.`,
    '',
    ...parcels.flatMap(({ trackingNumber, items }, i) => [
      `Parcel ${i + 1} of ${parcels.length}, ${trackingNumber}:`,
      ...items.map(({ sku, title, quantity }) => `  ${quantity} × ${sku} ${title}`),
    ]),
    ...(message ? ['', `Message for the recipient: ${message}`] : []),
    '',
    'Say here that you have it, that you cannot send it, or under which number it left:',
    answerUrl,
  ]
}

const plainHtml = (lines: readonly string[]): string =>
  `<p style="white-space:pre-line">${lines
    .map((line) =>
      line.startsWith('http') ? `<a href="${escapedHtml(line)}">${escapedHtml(line)}</a>` : escapedHtml(line),
    )
    .join('\n')}</p>`
