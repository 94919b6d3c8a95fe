import type { QuillOrder } from '../standins/channels/quill'
import type { ShopOrder } from '../standins/channels/shop'

/** An order as the pushing marketplace would have it: street and number apart, amounts in decimals. */
export function asQuillOrder(order: ShopOrder, index: number): QuillOrder {
  const { ship_to: to } = order
  const [street = '', ...extra] = to.street
  const [, name = street, number = ''] = /^(.*\S)\s+(\d\S*)$/.exec(street) ?? []
  return {
    id: `qm-${String(index + 1).padStart(6, '0')}`,
    number: `QM-${500_001 + index}`,
    status: 'new',
    placed: order.placed_at,
    revised: order.placed_at,
    promise: order.promised_by,
    method: order.shipping_method,
    currency: order.currency,
    goods: order.total_items,
    postage: order.shipping,
    buyer: { name: order.customer.name, email: order.customer.email },
    deliver_to: {
      name: to.company ? `${to.company}, ${to.name}` : to.name,
      street: name,
      house_number: number,
      extra: extra.join(', '),
      zip: to.postcode,
      city: to.city,
      state: to.region,
      country: to.country,
      phone: order.customer.phone,
    },
    positions: order.lines.map(({ id, sku, title, quantity, price }) => ({
      no: id,
      sku,
      name: title,
      ordered: quantity,
      cancelled: 0,
      each: price,
    })),
    shipments: [],
  }
}

/** How Gharry is known to the marketplace. */
export const quillCredentials = { key: 'demo-quill-key', signingSecret: 'demo-quill-signing-secret' }
