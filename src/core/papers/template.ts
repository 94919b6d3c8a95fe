import { Liquid } from 'liquidjs'
import type { SlipContent } from './slip'

// Templates see only what they are given, and may neither loop for long nor fill the memory.
const liquid = new Liquid({ ownPropertyOnly: true, strictVariables: true, renderLimit: 200, memoryLimit: 1e6, parseLimit: 1e5 })

/** What placeholders can name, with an example of each; editor and guide read this list. */
export const placeholders: readonly (readonly [name: string, about: string])[] = [
  ['buyer.firstName', 'first name of the buyer'], ['buyer.name', 'whole name of the buyer'], ['order.number', 'order number'], ['order.placed', 'day of the order'], ['order.channel', 'sales channel'], ['order.country', 'country code of the ship-to address'], ['order.value', 'value of the goods'], ['order.quantity', 'pieces'], ['order.wording', 'checkout wording'], ['order.tags', 'tags, as a list'], ['parcel.number', 'tracking number'], ['parcel.text', '“Parcel 2 of 3”'],
]

function scope(content: SlipContent): object {
  const { orderNumber, channelName, placedOn, buyerName, country, value, quantity, wording, tags, trackingNumber, parcelText } = content
  return { order: { number: orderNumber, channel: channelName, placed: placedOn, country, value, quantity, wording, tags }, buyer: { name: buyerName, firstName: buyerName.split(' ')[0] ?? '' }, parcel: { number: trackingNumber, text: parcelText } }
}

export type Filled = { readonly ok: true; readonly text: string } | { readonly ok: false; readonly sentence: string }

/** Fills a slip text's placeholders. What a template got wrong comes back as a sentence, not as a throw. */
export function fillTemplate(template: string, content: SlipContent): Filled {
  try {
    const text: unknown = liquid.parseAndRenderSync(template, scope(content))
    return { ok: true, text: String(text) }
  } catch (error) {
    return { ok: false, sentence: `The slip template cannot be filled: ${error instanceof Error ? error.message.split('\n')[0] : 'unknown reason'}.` }
  }
}

/** Whether a block's condition holds; an empty one does, one that cannot be read does not. */
export function holds(when: string, content: SlipContent): boolean {
  if (when.trim() === '') return true
  const filled = fillTemplate(`{% if ${when.replace(/%\}|\{%/g, '')} %}1{% endif %}`, content)
  return filled.ok && filled.text === '1'
}
