/** Screens and what can be begun there, by the words that people would look for them with. */
export interface Place {
  readonly name: string
  readonly href: string
  /** Other words for it. */
  readonly also?: string
}

export const places: readonly Place[] = [
  { name: 'Intake', href: '/intake', also: 'channels imports files upload' },
  { name: 'Connections', href: '/intake/connections', also: 'carriers accounts partners credentials' },
  { name: 'Wording tables', href: '/intake/wordings', also: 'checkout shipping methods mapping' },
  { name: 'Items', href: '/intake/items', also: 'products sku weights' },
  { name: 'Rules', href: '/rules', also: 'rulebook conditions actions draft publish' },
  { name: 'Lists and editions', href: '/rules?lists=editions', also: 'groups pinned orders saved conditions history' },
  { name: 'Desk', href: '/desk', also: 'orders' },
  { name: 'Orders that need attention', href: '/desk?state=attention', also: 'exceptions problems' },
  { name: 'Orders that are ready', href: '/desk?state=ready' },
  { name: 'Orders that customers report', href: '/desk?reported=1', also: 'cases damaged wrong missing complaints' },
  { name: 'Type a new order', href: '/desk?new=order', also: 'by hand' },
  { name: 'Dispatch', href: '/dispatch', also: 'batches labels buy print' },
  { name: 'Packing slips', href: '/dispatch/slips', also: 'templates' },
  { name: 'Tracking', href: '/tracking', also: 'board parcels on their way' },
  { name: 'Late parcels', href: '/tracking?need=late' },
  { name: 'Parcels that are silent', href: '/tracking?need=silent' },
  { name: 'Parcels coming back', href: '/tracking?need=returned', also: 'returns' },
  { name: 'Parcels whose customer wrote', href: '/tracking?need=the%20customer%20wrote', also: 'notes answers' },
  { name: 'Notices', href: '/tracking/notices', also: 'letters text messages sms templates quiet hours languages' },
  { name: 'Customer’s page', href: '/tracking/page', also: 'logo colours tracking page' },
  { name: 'Notifications', href: '/tracking/told', also: 'posts notices mails channels failed' },
  { name: 'Numbers', href: '/tracking/numbers', also: 'tracking numbers paste file' },
  { name: 'Arrivals', href: '/tracking/arrivals', also: 'punctuality on time' },
  { name: 'Ledger', href: '/ledger', also: 'spend cost' },
  { name: 'Balance', href: '/ledger/balance', also: 'top up prepaid invoices ceiling' },
  { name: 'Claims', href: '/ledger/claims', also: 'late lost damaged guarantee owed' },
  { name: 'Tariffs', href: '/ledger/tariffs', also: 'prices' },
  { name: 'Compare rates', href: '/ledger/rates', also: 'quotes' },
  { name: 'Set-up', href: '/setup', also: 'first steps' },
  { name: 'Seller', href: '/setup/seller', also: 'currency units paper name' },
  { name: 'Locations', href: '/setup/locations', also: 'warehouses' },
  { name: 'Carriers', href: '/setup/carriers' },
  { name: 'Services', href: '/setup/services', also: 'zones cut-off' },
  { name: 'Package presets', href: '/setup/presets', also: 'boxes' },
  { name: 'Outages', href: '/setup/outages', also: 'switch off' },
  { name: 'Open interface', href: '/setup/interface', also: 'api tokens webhooks programs' },
]

/** The places whose words begin with all that was typed. */
export function placesFor(text: string): readonly Place[] {
  const words = text.trim().toLowerCase().split(/\s+/).filter(Boolean)
  if (words.length === 0) return []
  return places
    .filter(({ name, also = '' }) => {
      const own = `${name} ${also}`.toLowerCase().split(/\s+/)
      return words.every((word) => own.some((one) => one.startsWith(word)))
    })
    .slice(0, 6)
}
