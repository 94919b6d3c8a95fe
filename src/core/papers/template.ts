import { documentBudget, type Filled, fillText } from '@/core/texts'
import type { SlipContent } from './slip'

function scope(content: SlipContent): object {
  const {
    orderNumber,
    channelName,
    placedOn,
    buyerName,
    country,
    value,
    quantity,
    wording,
    message,
    tags,
    trackingNumber,
    parcelText,
  } = content
  return {
    order: {
      number: orderNumber,
      channel: channelName,
      placed: placedOn,
      country,
      value,
      quantity,
      wording,
      message,
      tags,
    },
    buyer: { name: buyerName, firstName: buyerName.split(' ')[0] ?? '' },
    parcel: { number: trackingNumber, text: parcelText },
  }
}

/** Fills a slip text's placeholders. What a template got wrong comes back as a sentence, not as a throw. */
export const fillTemplate = (template: string, content: SlipContent, budget = documentBudget()): Filled =>
  fillText(template, scope(content), budget, 'slip template')

/** Whether a block's condition holds; an empty one does, one that cannot be read does not. */
export function holds(when: string, content: SlipContent, budget = documentBudget()): boolean {
  if (when.trim() === '') return true
  const filled = fillTemplate(`{% if ${when.replace(/%\}|\{%/g, '')} %}1{% endif %}`, content, budget)
  return filled.ok && filled.text === '1'
}
