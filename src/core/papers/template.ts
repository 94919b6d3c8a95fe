import { Liquid } from 'liquidjs'
import type { SlipContent } from './slip'

// Templates see only what they are given, and may neither loop for long nor fill the memory.
const liquid = new Liquid({ ownPropertyOnly: true, strictVariables: true, renderLimit: 200, memoryLimit: 1e6, parseLimit: 1e5 })

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
