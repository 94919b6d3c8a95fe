import { createHash } from 'node:crypto'
import type { Order } from '@/core/order'

/**
 * A fingerprint of what matters in an order's facts; times of change alone are no change. `facts` is the order as JSON,
 * where that is at hand. Within JSON no text can look like one of its keys: quotes in texts are escaped.
 */
export function factHash(order: Order, facts = JSON.stringify(order)): string {
  const timeless = facts.replace(/"placedAt":"[^"]*"/, '"placedAt":""').replace(/"changedAt":"[^"]*"/, '"changedAt":""')
  return createHash('sha1').update(timeless).digest('base64')
}
