import { escapedHtml, type MailClient } from '@/adapters'
import type { Notice, NoticeFacts } from '@/core/telling'

/** The seller's colours, as letters use them. */
export interface LetterColours {
  readonly accent: string
  readonly onAccent: string
  readonly paper: string
  readonly ink: string
}

/** The delivery as mailboxes read it (schema.org ParcelDelivery, JSON-LD). */
function delivery(facts: NoticeFacts, recipient: { readonly country: string; readonly city: string }): object {
  const [number] = facts.parcels.numbers
  return {
    '@context': 'https://schema.org',
    '@type': 'ParcelDelivery',
    deliveryAddress: {
      '@type': 'PostalAddress',
      addressLocality: recipient.city,
      addressCountry: recipient.country,
    },
    ...(facts.day ? { expectedArrivalUntil: facts.day } : {}),
    carrier: { '@type': 'Organization', name: facts.carrier },
    itemShipped: facts.items.slice(0, 20).map(({ title }) => ({ '@type': 'Product', name: title })),
    partOfOrder: {
      '@type': 'Order',
      orderNumber: facts.order.number,
      merchant: { '@type': 'Organization', name: facts.seller.name },
    },
    trackingUrl: facts.link,
    ...(number ? { trackingNumber: number } : {}),
  }
}

// Within a script element a closing tag would end it (HTML, 4.12.1.3).
const inScript = (data: object): string => JSON.stringify(data).replace(/</g, '\\u003c')

const buttonHtml = (link: string, words: string, { accent, onAccent }: LetterColours): string =>
  `<p style="margin:20px 0"><a href="${escapedHtml(link)}" style="display:inline-block;padding:10px 18px;background:${accent};color:${onAccent};text-decoration:none">${escapedHtml(words)}</a></p>`
const paragraphsHtml = (paragraphs: readonly (string | null)[], button: string): string =>
  paragraphs
    .map((text) => (text === null ? button : `<p style="white-space:pre-line">${escapedHtml(text)}</p>`))
    .join('')

/** A letter on the seller's paper, with the logo above; `head` is what mailboxes read. */
function onPaper(
  content: string,
  { language, seller, logo, head }: { language: string; seller: string; logo: string; head: string },
  { paper, ink }: LetterColours,
): string {
  const top = logo ? `<p><img src="${escapedHtml(logo)}" alt="${escapedHtml(seller)}" height="40"></p>` : ''
  return `<!doctype html><html lang="${language}"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width">${head}</head><body style="margin:0;background:#F3F0E9;color:${ink};font:16px/1.5 sans-serif"><div style="max-width:34em;margin:0 auto;padding:24px;background:${paper}">${top}${content}</div></body></html>`
}

/** A notice as the HTML of a mail. */
export function letterHtml(
  { paragraphs, see, stopWords, language }: Notice,
  facts: NoticeFacts,
  recipient: { readonly country: string; readonly city: string },
  colours: LetterColours,
  logo: string,
): string {
  const body = paragraphsHtml(paragraphs, buttonHtml(facts.link, see, colours))
  const stop = `<p style="margin-top:28px;font-size:13px"><a href="${escapedHtml(facts.stop)}" style="color:${colours.ink}">${escapedHtml(stopWords)}</a></p>`
  // What comes back is no delivery to whoever reads it.
  const head = facts.back ? '' : `<script type="application/ld+json">${inScript(delivery(facts, recipient))}</script>`
  return onPaper(`${body}${stop}`, { language, seller: facts.seller.name, logo, head }, colours)
}

/** A letter that a person wrote, as the HTML of a mail: the button leads to where it is answered. */
export function buyerLetterHtml(
  letter: {
    readonly paragraphs: readonly (string | null)[]
    readonly button: string
    readonly language: string
    readonly seller: string
    readonly link: string
    /** Under it, small; empty for nothing. */
    readonly foot: string
  },
  colours: LetterColours,
  logo: string,
): string {
  const body = paragraphsHtml(letter.paragraphs, buttonHtml(letter.link, letter.button, colours))
  const foot = letter.foot && `<p style="margin-top:28px;font-size:13px">${escapedHtml(letter.foot)}</p>`
  const { language, seller } = letter
  return onPaper(`${body}${foot}`, { language, seller, logo, head: '' }, colours)
}

/** A notice as a mail, with what mailboxes need to offer its end (RFC 2369, RFC 8058). */
export const letterOf = (
  notice: Notice,
  facts: NoticeFacts,
  recipient: { readonly country: string; readonly city: string },
  colours: LetterColours,
  logo: string,
): Pick<Parameters<MailClient['send']>[0], 'subject' | 'text' | 'html' | 'headers'> => ({
  subject: notice.subject,
  text: `${notice.text}\n--\n${notice.stopWords}: ${facts.stop}\n`,
  html: letterHtml(notice, facts, recipient, colours, logo),
  headers: {
    'List-Unsubscribe': `<${facts.stop}>`,
    'List-Unsubscribe-Post': 'List-Unsubscribe=One-Click',
    'Auto-Submitted': 'auto-generated',
  },
})
