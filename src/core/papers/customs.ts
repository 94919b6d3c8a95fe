import { formatMoney, type Grams, money, type Money } from '@/core/units'
import { type Mark, type Page, wrapText } from './drawing'

/** One line of goods on a declaration. Net grams and value of all pieces together. */
export interface DeclaredItem {
  readonly description: string
  readonly hsCode: string
  readonly origin: string
  readonly quantity: number
  readonly netWeight: Grams
  readonly value: Money
}

export interface Declaration {
  readonly number: string
  readonly reference: string
  readonly from: readonly string[]
  readonly to: readonly string[]
  readonly items: readonly DeclaredItem[]
  /** Of the parcel. */
  readonly grossWeight: Grams
  readonly shippedOn: string
  readonly incoterm: 'DAP' | 'DDP'
  readonly shippingPaid: Money
  readonly sender: string
}

/** The forms of the Universal Postal Union: CN 22 for small things, CN 23 above it. */
export const cn22Limit = { grams: 2000, sdr: 300 } as const

const width = 100
const height = 150
const margin = 5
const inner = width - 2 * margin
const kilograms = (grams: number): string => (grams / 1000).toFixed(3)
const certificate =
  'I, the undersigned, whose name and address are given on the item, certify that the particulars given in this declaration are correct and that this item does not contain any dangerous article or articles prohibited by legislation or by postal or customs regulations.'

/**
 * The pages of a declaration: one CN 22, or as many of CN 23 as the goods need. Field names as in the public forms of
 * the UPU Convention.
 */
export function declarationPages(declaration: Declaration, form: 'CN 22' | 'CN 23'): Page[] {
  const pages: Page[] = []
  let sheet = new Sheet(declaration, form)
  for (const item of declaration.items) {
    if (!sheet.takes(item)) {
      pages.push(sheet.page())
      sheet = new Sheet(declaration, form)
    }
    sheet.put(item)
  }
  sheet.close()
  return [...pages, sheet.page()]
}

/** Sums of a declaration; goods in several currencies are not added up: null. */
export function declaredValue(items: readonly DeclaredItem[]): Money | null {
  const [first] = items
  return first && items.every(({ value }) => value.currency === first.value.currency)
    ? money(
        items.reduce((sum, { value }) => sum + value.minor, 0),
        first.value.currency,
      )
    : null
}

const columns = [
  [0, 44, 'Quantity and detailed description of contents'],
  [45, 15, 'Net weight (kg)'],
  [61, 29, 'Value and currency'],
] as const
const goodsEnd = 100

class Sheet {
  private readonly marks: Mark[] = []
  private y = 0

  constructor(
    private readonly declaration: Declaration,
    private readonly form: 'CN 22' | 'CN 23',
  ) {
    this.text(0, 5, 'CUSTOMS DECLARATION', 11, inner, { bold: true })
    this.text(0, 5, form, 12, inner, { bold: true, align: 'right' })
    this.text(0, 10.5, `May be opened officially · ${declaration.number}`, 7, inner)
    this.y = 15
    if (form === 'CN 23') this.parties(declaration)
    this.text(0, this.y, '☒ Sale of goods   ☐ Gift   ☐ Documents   ☐ Commercial sample   ☐ Returned goods', 6.5, inner)
    this.y += 4.5
    this.line(this.y)
    for (const [x, room, name] of columns) this.text(x, this.y + 1, name, 5.5, room)
    this.y += 5
  }

  takes(item: DeclaredItem): boolean {
    return this.y + this.tall(item) <= goodsEnd
  }

  put(item: DeclaredItem): void {
    const lines = this.worded(item)
    lines.forEach((line, i) => this.text(0, this.y + i * 3.2, line, 7, 44))
    this.text(45, this.y, kilograms(item.netWeight), 7, 15)
    this.text(61, this.y, formatMoney(item.value), 7, 29)
    this.text(
      0,
      this.y + lines.length * 3.2,
      `HS tariff number ${item.hsCode || 'missing'} · origin of goods ${item.origin || 'missing'}`,
      6,
      70,
    )
    this.y += this.tall(item)
    this.line(this.y - 0.8, 0.1)
  }

  close(): void {
    const { items, grossWeight, shippedOn, sender, incoterm, shippingPaid } = this.declaration
    const total = declaredValue(items)
    this.line(goodsEnd + 2)
    this.text(0, goodsEnd + 3.5, 'Total weight (kg)', 6, 24)
    this.text(25, goodsEnd + 3.2, kilograms(grossWeight), 8, 19, { bold: true })
    this.text(45, goodsEnd + 3.5, 'Total value', 6, 15)
    this.text(61, goodsEnd + 3.2, total ? formatMoney(total) : 'see lines', 8, 29, { bold: true })
    this.text(
      0,
      goodsEnd + 8,
      this.form === 'CN 23' ? `Postal charges ${formatMoney(shippingPaid)} · ${incoterm}` : incoterm,
      6.5,
      inner,
    )
    wrapText(certificate, 92, 6).forEach((line, i) => this.text(0, goodsEnd + 13 + i * 2.9, line, 5.8, inner))
    this.text(0, 138, 'Date and sender’s signature', 6, inner)
    this.text(0, 141.5, `${shippedOn}   ${sender}`, 8, inner, { bold: true })
  }

  page(): Page {
    return { width, height, marks: this.marks }
  }

  private parties({ from, to, reference }: Declaration): void {
    for (const [name, lines, x] of [
      ['From', from, 0],
      ['To', to, 46],
    ] as const) {
      this.text(x, this.y, name, 6, 44)
      lines.slice(0, 6).forEach((line, i) => this.text(x, this.y + 2.8 + i * 3, line, 6.8, 43))
    }
    this.y += 22
    this.text(0, this.y, `Sender’s customs reference ${reference}`, 6.5, inner)
    this.y += 4
  }

  private worded(item: DeclaredItem): string[] {
    return wrapText(`${item.quantity} × ${item.description}`, 38, 2)
  }
  private tall(item: DeclaredItem): number {
    return this.worded(item).length * 3.2 + 4.2
  }
  private text(
    x: number,
    y: number,
    text: string,
    size: number,
    room: number,
    more: Partial<Extract<Mark, { kind: 'text' }>> = {},
  ): void {
    this.marks.push({ kind: 'text', x: margin + x, y, text, size, width: room, ...more })
  }
  private line(y: number, weight = 0.3): void {
    this.marks.push({ kind: 'line', x1: margin, y1: y, x2: width - margin, y2: y, weight })
  }
}

/** A commercial invoice for customs, on as many pages of 100 × 150 mm as the goods need. */
export function invoicePages(declaration: Declaration): Page[] {
  const pages: Page[] = []
  const perPage = 8
  for (let first = 0; first === 0 || first < declaration.items.length; first += perPage) {
    const last = first + perPage >= declaration.items.length
    pages.push(invoicePage(declaration, declaration.items.slice(first, first + perPage), pages.length + 1, last))
  }
  return pages
}

function invoicePage(declaration: Declaration, items: readonly DeclaredItem[], number: number, last: boolean): Page {
  const marks: Mark[] = []
  const text = (
    x: number,
    y: number,
    value: string,
    size: number,
    room: number,
    more: Partial<Extract<Mark, { kind: 'text' }>> = {},
  ): void => void marks.push({ kind: 'text', x: margin + x, y, text: value, size, width: room, ...more })
  const line = (y: number): void =>
    void marks.push({ kind: 'line', x1: margin, y1: y, x2: width - margin, y2: y, weight: 0.2 })
  text(0, 5, 'Commercial invoice', 12, inner, { bold: true })
  text(
    0,
    11,
    `${declaration.reference} · ${declaration.shippedOn} · parcel ${declaration.number}${number > 1 ? ` · page ${number}` : ''}`,
    7,
    inner,
  )
  for (const [name, lines, x] of [
    ['Seller', declaration.from, 0],
    ['Buyer and consignee', declaration.to, 46],
  ] as const) {
    text(x, 16, name, 6, 44)
    lines.slice(0, 6).forEach((value, i) => text(x, 19 + i * 3, value, 6.8, 43))
  }
  text(0, 39, `Terms of delivery ${declaration.incoterm} (Incoterms 2020) · reason for export: sale`, 7, inner)
  line(43)
  let y = 44.5
  for (const item of items) {
    text(0, y, `${item.quantity} × ${item.description}`, 7, 60)
    text(61, y, formatMoney(item.value), 7, 29, { align: 'right' })
    text(
      0,
      y + 3.4,
      `HS ${item.hsCode || 'missing'} · origin ${item.origin || 'missing'} · net ${kilograms(item.netWeight)} kg`,
      6,
      60,
    )
    y += 8
    line(y - 1)
  }
  const total = declaredValue(declaration.items)
  if (last) {
    text(0, 116, 'Freight', 7, 40)
    text(61, 116, formatMoney(declaration.shippingPaid), 7, 29, { align: 'right' })
    text(0, 120, 'Total value of the goods', 8, 50, { bold: true })
    text(50, 120, total ? formatMoney(total) : 'see lines', 8, 40, { bold: true, align: 'right' })
    text(0, 126, `Gross weight ${kilograms(declaration.grossWeight)} kg`, 7, inner)
    text(0, 138, 'I declare that the information on this invoice is true and correct.', 6.5, inner)
    text(0, 142, `${declaration.shippedOn}   ${declaration.sender}`, 8, inner, { bold: true })
  }
  return { width, height, marks }
}
