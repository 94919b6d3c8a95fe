/** A piece of an order that is to be fetched. */
export interface Wanted {
  /** Which tote it goes into; 1 is the first. */
  readonly tote: number
  readonly sku: string
  readonly title: string
  readonly quantity: number
}

/** One stop on the way through the store: how many of a SKU, and into which totes. */
export interface PickStop {
  /** Where it lies; empty where nobody has said. */
  readonly place: string
  readonly sku: string
  readonly title: string
  readonly quantity: number
  readonly totes: readonly { readonly tote: number; readonly quantity: number }[]
}

/**
 * What is picked for a wave: each SKU once, with its total and how many go into which tote, along the places of the
 * store. What has no place comes last.
 */
export function pickList(wanted: readonly Wanted[], placeOf: (sku: string) => string): readonly PickStop[] {
  const bySku = new Map<string, Wanted[]>()
  for (const one of wanted) bySku.set(one.sku, [...(bySku.get(one.sku) ?? []), one])
  const stops = [...bySku].map(([sku, all]): PickStop => {
    const totes = new Map<number, number>()
    for (const { tote, quantity } of all) totes.set(tote, (totes.get(tote) ?? 0) + quantity)
    return {
      ...{ place: placeOf(sku), sku, title: all[0]!.title },
      quantity: all.reduce((sum, { quantity }) => sum + quantity, 0),
      totes: [...totes].map(([tote, quantity]) => ({ tote, quantity })).sort((a, b) => a.tote - b.tote),
    }
  })
  const along = new Intl.Collator('en', { numeric: true }).compare
  return stops.sort(
    (a, b) => Number(a.place === '') - Number(b.place === '') || along(a.place, b.place) || along(a.sku, b.sku),
  )
}
