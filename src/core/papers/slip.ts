import { barWidths, moduleFor } from './barcode'
import { type Mark, type Page, wrapText } from './drawing'
import { type Budget, documentBudget } from '@/core/texts'
import { fillTemplate, holds } from './template'

/** What a slip can say. */
export interface SlipContent {
  readonly orderNumber: string
  readonly channelName: string
  readonly placedOn: string
  readonly buyerName: string
  readonly country: string
  readonly value: string
  readonly quantity: number
  readonly wording: string
  /** What the buyer wants to be written; empty for nothing. */
  readonly message: string
  readonly tags: readonly string[]
  readonly trackingNumber: string
  /** `Parcel 2 of 3`; empty when there is one. */
  readonly parcelText: string
  /** Says that it was printed before; empty for the first print. */
  readonly reprint: string
  readonly toLines: readonly string[]
  readonly items: readonly { readonly sku: string; readonly title: string; readonly quantity: number }[]
  /** Things that go in besides. */
  readonly inserts: readonly string[]
}

export const blockKinds = [
  'heading',
  'order',
  'address',
  'items',
  'text',
  'gift',
  'offer',
  'returns',
  'barcode',
  'rule',
] as const
export type BlockKind = (typeof blockKinds)[number]

/** One part of a slip, from the top down. Texts have placeholders in double braces. */
export interface SlipBlock {
  readonly kind: BlockKind
  readonly text?: string
  /** Printed only where this holds, such as `order.country == 'NL'`; always when it is empty. */
  readonly when?: string
  /** In other languages, by country of the ship-to address. */
  readonly texts?: Readonly<Record<string, string>>
  readonly size?: 'small' | 'usual' | 'large'
  /** Items: with the bars of their SKU. */
  readonly bars?: boolean
}

export interface SlipTemplate {
  readonly id: string
  readonly name: string
  readonly heading: string
  /** Text below the items; placeholders in double braces. */
  readonly closing: string
  /** What it is built of; without, heading, order, address, items and closing. */
  readonly blocks?: readonly SlipBlock[]
}

export const plainTemplate: SlipTemplate = { id: '', name: '', heading: '{{ order.channel }}', closing: '' }

/** The blocks of a template; one that has none yet is built of its heading and its closing. */
export const blocksOf = (template: SlipTemplate): readonly SlipBlock[] =>
  template.blocks ?? [
    { kind: 'heading', text: template.heading },
    { kind: 'order' },
    { kind: 'address' },
    { kind: 'rule' },
    { kind: 'items' },
    { kind: 'gift', text: '{{ order.message }}', when: "order.message != ''" },
    { kind: 'text', text: template.closing },
  ]

const width = 100
const height = 150
const margin = 6
const inner = width - 2 * margin
const bottom = height - 8
const points = { small: 7, usual: 8, large: 10.5 } as const

/**
 * A packing slip of 100 × 150 mm, block by block, on as many pages as it needs. Throws nothing: a placeholder that does
 * not exist, or a template that would run for ever, is said on the slip where it stands. `budget` is what its texts may
 * take together.
 */
export function layoutSlip(content: SlipContent, template: SlipTemplate, budget = documentBudget()): Page[] {
  const paper = new Paper(content, budget)
  for (const block of blocksOf(template)) if (holds(block.when ?? '', content, paper.budget)) paper.put(block, content)
  return paper.pages()
}

/** The slip that is being laid out: marks on the page at hand, and how far down it is. */
class Paper {
  private readonly done: Page[] = []
  private marks: Mark[] = []
  private y = margin

  constructor(
    private readonly content: SlipContent,
    readonly budget: Budget,
  ) {
    this.note()
  }

  pages(): Page[] {
    return [...this.done, { width, height, marks: this.marks }]
  }

  put(block: SlipBlock, content: SlipContent): void {
    switch (block.kind) {
      case 'heading':
        return this.lines(this.filled(block), { size: 13, bold: true, most: 34, lines: 2 }, 1.5)
      case 'order':
        return this.order(content)
      case 'address':
        return this.lines(content.toLines.slice(0, 7).join('\n'), { size: 8, most: 60, lines: 8 }, 2)
      case 'rule':
        return this.rule(0.3)
      case 'items':
        return this.items(content, block.bars ?? false)
      case 'text':
      case 'gift':
      case 'offer':
      case 'returns':
        return this.words(block)
      case 'barcode':
        return this.bars(content.orderNumber)
    }
  }

  private filled(block: SlipBlock): string {
    const filled = fillTemplate(block.texts?.[this.content.country] ?? block.text ?? '', this.content, this.budget)
    return filled.ok ? filled.text : filled.sentence
  }

  private words(block: SlipBlock): void {
    const text = this.filled(block)
    if (text.trim() === '') return
    const size = points[block.size ?? 'usual']
    if (block.kind !== 'text') this.rule(0.1)
    this.lines(text, { size, bold: block.kind === 'offer', most: Math.floor((58 * 8) / size), lines: 40 }, 1.5)
  }

  private order({ orderNumber, channelName, placedOn, parcelText }: SlipContent): void {
    this.lines(`Order ${orderNumber}`, { size: 9, bold: true, most: 50, lines: 1 }, 0)
    this.lines(
      [parcelText, channelName, `placed ${placedOn}`].filter(Boolean).join(' · '),
      { size: 7.5, most: 66, lines: 2 },
      1.5,
    )
  }

  private items({ items, inserts }: SlipContent, bars: boolean): void {
    for (const item of [...items, ...inserts.map((name) => ({ sku: 'put in', title: name, quantity: 1 }))]) {
      const titles = wrapText(item.title || item.sku, bars ? 30 : 40, 2)
      const tall = Math.max(titles.length * 3.6 + 4.6, bars ? 11 : 0)
      this.room(tall)
      this.text(margin, `${item.quantity}`, 10, { bold: true, align: 'right', width: 9 })
      this.text(margin + 12, item.sku, 7, { mono: true, width: inner - 12 })
      titles.forEach((title, i) => this.text(margin + 12, title, 8, {}, 3.2 + i * 3.6))
      if (bars && item.sku !== 'put in') this.symbol(item.sku, width - margin - 34, 34, 7)
      this.y += tall
      this.rule(0.1, -1)
    }
  }

  private bars(text: string): void {
    this.room(13)
    this.symbol(text, margin, inner, 10)
    this.y += 12
  }

  private symbol(text: string, x: number, room: number, tall: number): void {
    const widths = barWidths(text, 'code128')
    const module = widths && moduleFor([...widths, 20], room)
    if (widths && module)
      this.marks.push({ kind: 'bars', x, y: this.y, height: tall, module, widths, text, symbology: 'code128' })
  }

  private lines(
    text: string,
    { size, bold = false, most, lines }: { size: number; bold?: boolean; most: number; lines: number },
    after: number,
  ): void {
    const tall = (size * 25.4 * 1.28) / 72
    for (const line of text
      .split('\n')
      .flatMap((part) => (part.trim() === '' ? [''] : wrapText(part.trim(), most, lines)))
      .slice(0, 200)) {
      this.room(tall)
      if (line !== '') this.text(margin, line, size, { bold })
      this.y += tall
    }
    this.y += after
  }

  private rule(weight: number, up = 0): void {
    this.room(1)
    this.marks.push({ kind: 'line', x1: margin, y1: this.y + up, x2: width - margin, y2: this.y + up, weight })
    if (up === 0) this.y += 1.5
  }

  private text(x: number, text: string, size: number, more: Partial<Extract<Mark, { kind: 'text' }>>, down = 0): void {
    this.marks.push({ kind: 'text', x, y: this.y + down, text, size, width: width - margin - x, ...more })
  }

  /** Begins a new page when so many millimetres are not left on this one. */
  private room(needed: number): void {
    if (this.y + needed <= bottom) return
    this.done.push({ width, height, marks: this.marks })
    this.marks = []
    this.y = margin
    this.note()
    this.text(margin, `Order ${this.content.orderNumber}, page ${this.done.length + 1}`, 7.5, { bold: true })
    this.y += 5
  }

  private note(): void {
    if (this.content.reprint)
      this.marks.push({
        kind: 'text',
        x: margin,
        y: height - 6,
        text: this.content.reprint,
        size: 6.5,
        bold: true,
        align: 'center',
        width: inner,
      })
  }
}
