import type { ChannelClient } from './channel'

/** The client of a channel that cannot be called: it has no pages, and refuses what it would be told. */
export function silentClient(sentence: string): ChannelClient {
  const nobody = { ok: false, kind: 'refused', sentence, retryAfter: 0 } as const
  return {
    fetchOrders: () => Promise.resolve({ ok: true, body: { orders: [], bad: [], cursor: '', more: false } }),
    fulfil: () => Promise.resolve(nobody),
    withdraw: () => Promise.resolve(nobody),
  }
}
