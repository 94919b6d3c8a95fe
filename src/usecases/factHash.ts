import { createHash } from 'node:crypto'
import type { Order } from '@/core/order'

/** A fingerprint of what matters in an order's facts; times of change alone are no change. */
export function factHash(order: Order): string {
  return createHash('sha1').update(JSON.stringify({ ...order, placedAt: '', changedAt: '' })).digest('base64')
}
