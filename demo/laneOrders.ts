import type { LaneCarrier, LaneOrder } from '../standins/channels/lane'
import type { ShopOrder } from '../standins/channels/shop'

const options: Readonly<Record<string, string>> = { 'Exp. 2-day': 'EXPRESS', 'Priority 1-day': 'NEXT_DAY' }
/** Shop and marketplace write amounts differently: the one in decimals, the other in minor units. */
const minor = (amount: string): number => Math.round(Number(amount) * 100)

/** An order as the marketplace would have it; its buyer is reached by the marketplace's relay. */
export function asLaneOrder(order: ShopOrder, index: number): LaneOrder {
  const { ship_to: to } = order
  return {
    orderId: `tl-${String(index + 1).padStart(6, '0')}`,
    reference: `TL-${700_001 + index}`,
    state: 'TO_DESPATCH',
    createdAt: order.placed_at,
    deliverBy: order.promised_by,
    deliveryOption: options[order.shipping_method] ?? 'STANDARD',
    currency: order.currency,
    amounts: { goods: minor(order.total_items), delivery: minor(order.shipping), discount: minor(order.discount) },
    relayAddress: `b${index + 1}@relay.tallow-lane.example`,
    recipient: {
      fullName: to.name,
      company: to.company,
      line1: to.street[0] ?? '',
      line2: to.street[1] ?? '',
      town: to.city,
      postalCode: to.postcode,
      county: to.region,
      countryCode: to.country,
      phone: order.customer.phone,
    },
    lines: order.lines.map(({ id, sku, title, quantity, price, weight_grams }) => ({
      lineId: id,
      sellerSku: sku,
      title,
      quantity,
      unitPrice: minor(price),
      grams: weight_grams,
    })),
    despatches: [],
  }
}

/** The marketplace's own list of carriers. Dray is too small to be on it. */
export const laneCarriers: readonly LaneCarrier[] = [
  { code: 'HRN', name: 'Heron Parcel', number: '00\\d{18}' },
  { code: 'CVD', name: 'Corvid Post', number: '[A-Z]{2}\\d{9}[A-Z]{2}' },
  { code: 'NLX', name: 'Northlight Express', number: 'NX\\d{12}' },
  { code: 'SKUA-INTL', name: 'Skua Air', number: '918\\d{8}' },
  { code: 'BRF', name: 'Bramble Freight', number: 'BF\\d{8}' },
]
/** The setting that says them to Gharry. */
export const laneCodes = 'heron = HRN\ncorvid = CVD\nnorthlight = NLX\nskua = SKUA-INTL\nbramble = BRF'
/** How Gharry is known to the marketplace. */
export const laneApplication = { clientId: 'gharry-demo', clientSecret: 'demo-lane-secret-of-32-characters' }
