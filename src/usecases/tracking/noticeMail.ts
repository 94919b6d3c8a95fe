import { escapedHtml } from '@/adapters'
import { DateTime } from 'luxon'

/** The mail that tells a customer that the order is on its way, as text and HTML. */
export function noticeMail(given: {
  buyer: string
  number: string
  carrierName: string
  trackingNumbers: readonly string[]
  arrivesOn: string
  url: string
  /** The seller’s name. */
  seller: string
}): { subject: string; text: string; html: string } {
  const several = given.trackingNumbers.length > 1
  const numbers = given.trackingNumbers.join(', ')
  const travels = several ? `is packed in ${given.trackingNumbers.length} parcels and travels` : 'is packed and travels'
  const label = several ? 'Tracking numbers' : 'Tracking number'
  const day = given.arrivesOn ? DateTime.fromISO(given.arrivesOn).toFormat('cccc d LLLL') : ''
  const arrives = day ? `It should be with you on ${day}.` : ''
  const greeting = `Hello ${given.buyer || 'there'},`
  const text = [
    greeting,
    '',
    `your order ${given.number} ${travels} with ${given.carrierName}. ${arrives}`.trim(),
    '',
    `Where it is: ${given.url}`,
    `${label}: ${numbers}`,
    '',
    given.seller,
    '',
  ].join('\n')
  const html = `<!doctype html><html lang="en"><body style="margin:0;background:#F3F0E9;color:#231A2E;font:16px/1.5 sans-serif"><div style="max-width:34em;margin:0 auto;padding:24px;background:#FCFBF8"><p>${escapedHtml(greeting)}</p><p>your order <b>${escapedHtml(given.number)}</b> ${travels} with ${escapedHtml(given.carrierName)}. ${escapedHtml(arrives)}</p><p><a href="${escapedHtml(given.url)}" style="display:inline-block;padding:10px 18px;background:#5A2A55;color:#fff;text-decoration:none">See where it is</a></p><p style="color:#5c5364">${label} <span style="font-family:monospace">${escapedHtml(numbers)}</span></p><p>${escapedHtml(given.seller)}</p></div></body></html>`
  return { subject: `Your order ${given.number} is on its way`, text, html }
}
