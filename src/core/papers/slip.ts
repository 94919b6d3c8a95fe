import { Liquid } from 'liquidjs'
import { wrapText, type Mark, type Page } from './drawing'

export interface SlipContent {
  readonly orderNumber: string
  readonly channelName: string
  readonly placedOn: string
  readonly buyerName: string
  readonly toLines: readonly string[]
  /** `Parcel 2 of 3`; empty when there is one. */
  readonly parcelText?: string
  readonly items: readonly { readonly sku: string; readonly title: string; readonly quantity: number }[]
}

export interface SlipText {
  readonly heading: string
  readonly closing: string
}

// Templates see only what they are given, and may neither loop for long nor fill the memory.
const liquid = new Liquid({ ownPropertyOnly: true, strictVariables: true, renderLimit: 200, memoryLimit: 1e6, parseLimit: 1e5 })

/** Fills a slip text's placeholders. What a template got wrong comes back as a sentence, not as a throw. */
export function fillTemplate(template: string, values: SlipContent): { readonly ok: true; readonly text: string } | { readonly ok: false; readonly sentence: string } {
  try {
    const { orderNumber, channelName, placedOn, buyerName } = values
    const text: unknown = liquid.parseAndRenderSync(template, { order: { number: orderNumber, channel: channelName, placed: placedOn }, buyer: { name: buyerName, firstName: buyerName.split(' ')[0] ?? '' } })
    return { ok: true, text: String(text) }
  } catch (error) {
    return { ok: false, sentence: `The slip template cannot be filled: ${error instanceof Error ? error.message.split('\n')[0] : 'unknown reason'}.` }
  }
}

const width = 100
const height = 150
const margin = 6
const lastLine = 124

/** A packing slip of 100 × 150 mm, on as many pages as the items need; the closing text stands on the last one. */
export function layoutSlip(content: SlipContent, template: SlipText): Page[] {
  const heading = fillTemplate(template.heading, content)
  const closing = fillTemplate(template.closing, content)
  const pages: Page[] = []
  let marks = headMarks(content, heading.ok ? heading.text : content.channelName)
  let y = 50
  for (const item of content.items) {
    const titles = wrapText(item.title || item.sku, 40, 2)
    const tall = titles.length * 3.6 + 4.6
    if (y + tall > lastLine) {
      pages.push({ width, height, marks })
      marks = headMarks(content, heading.ok ? heading.text : content.channelName)
      y = 50
    }
    marks.push(textMark(margin, y, `${item.quantity}`, 10, { bold: true, align: 'right', width: 9 }))
    marks.push(textMark(margin + 12, y, item.sku, 7, { mono: true, width: width - 2 * margin - 12 }))
    titles.forEach((title, i) => marks.push(textMark(margin + 12, y + 3.2 + i * 3.6, title, 8, { width: width - 2 * margin - 12 })))
    y += tall
    marks.push({ kind: 'line', x1: margin, y1: y - 1, x2: width - margin, y2: y - 1, weight: 0.1 })
  }
  wrapText(closing.ok ? closing.text : closing.sentence, 58, 5).forEach((text, i) => marks.push(textMark(margin, lastLine + 3 + i * 3.8, text, 8)))
  pages.push({ width, height, marks })
  return pages
}

function headMarks(content: SlipContent, heading: string): Mark[] {
  const marks: Mark[] = [
    textMark(margin, 6, heading, 13, { bold: true }),
    textMark(margin, 14, `Order ${content.orderNumber}`, 9, { bold: true }),
    textMark(margin, 18.5, [content.parcelText, content.channelName, `placed ${content.placedOn}`].filter(Boolean).join(' · '), 7.5),
    { kind: 'line', x1: margin, y1: 46.5, x2: width - margin, y2: 46.5, weight: 0.3 },
  ]
  content.toLines.slice(0, 5).forEach((line, i) => marks.push(textMark(margin, 25 + i * 3.8, line, 8)))
  return marks
}

const textMark = (x: number, y: number, text: string, size: number, more: Partial<Extract<Mark, { kind: 'text' }>> = {}): Mark => ({ kind: 'text', x, y, text, size, width: width - margin - x, ...more })
