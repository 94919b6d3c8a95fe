import type { ChannelRefund } from './refunds'

export interface ShopFulfilment {
  id: string
  key: string
  lines: { line: string; quantity: number }[]
  carrier: string
  tracking_number: string
  tracking_url: string
  at: string
  withdrawn: boolean
}
export interface ShopLine {
  id: string
  sku: string
  title: string
  quantity: number
  price: string
  weight_grams: number
  size_mm: number[]
  tags: string[]
  un_number: string
  hs_code: string
  origin: string
}
export interface ShopOrder {
  id: string
  number: string
  status: 'open' | 'fulfilled' | 'cancelled'
  /** The shop's own location that has it, where it has several. */
  location?: string
  placed_at: string
  changed_at: string
  promised_by: string
  payment: string
  shipping_method: string
  currency: string
  shipping: string
  total_items: string
  discount: string
  customer: { name: string; email: string; phone: string; returning: boolean }
  ship_to: {
    name: string
    company: string
    street: string[]
    city: string
    postcode: string
    region: string
    country: string
  }
  lines: ShopLine[]
  fulfilments: ShopFulfilment[]
  refunds?: ChannelRefund[]
}

export interface ShopProduct extends Omit<ShopLine, 'id' | 'quantity'> {
  readonly sku: string
}
export interface ShopSettings {
  readonly file: string
  readonly key: string
  readonly secret: string
  readonly name: string
  readonly products: readonly ShopProduct[]
  readonly shippingMethods: readonly string[]
}
