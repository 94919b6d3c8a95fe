import { cleanTrackingNumber } from '@/core/tracking'
import { findOrders, findParcels, readDraft, type FoundOrder, type FoundParcel } from '@/data'
import type { Application } from './application'
import { currentWorld } from './changeWorld'

/** What a person's words lead to. */
export interface Found {
  readonly orders: readonly FoundOrder[]
  readonly parcels: readonly FoundParcel[]
  readonly rules: readonly { readonly id: string; readonly name: string }[]
  readonly items: readonly { readonly sku: string; readonly title: string }[]
}

const most = 6

/** Finds orders, parcels, rules and items by what somebody on the telephone, or in a hurry, says of them. */
export async function find(gharry: Application, text: string): Promise<Found> {
  const { db } = gharry
  const words = text.trim().toLowerCase().split(/\s+/).filter(Boolean)
  if (words.length === 0) return { orders: [], parcels: [], rules: [], items: [] }
  const holds = (...texts: readonly string[]): boolean => {
    const all = texts.join(' ').toLowerCase()
    return words.every((word) => all.includes(word))
  }
  const number = cleanTrackingNumber(text) ?? text.replace(/[\s-]/g, '').toUpperCase()
  const [orders, parcels, draft, { world }] = await Promise.all([
    findOrders(db, text, most),
    /\d/.test(number) ? findParcels(db, number, most) : [],
    readDraft(db),
    currentWorld(db),
  ])
  return {
    orders,
    parcels,
    rules: (draft?.rulebook.rules ?? [])
      .filter(({ name }) => holds(name))
      .slice(0, most)
      .map(({ id, name }) => ({ id, name })),
    items: world.items
      .filter(({ sku, title }) => holds(sku, title))
      .slice(0, most)
      .map(({ sku, title }) => ({ sku, title })),
  }
}
