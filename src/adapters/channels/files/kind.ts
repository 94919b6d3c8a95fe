import { z } from 'zod'
import { channelKind } from '../../connections/kind'
import type { ChannelClient } from '../channel'

const nobody = { ok: false, kind: 'refused', sentence: 'Nobody is told: orders come in files.', retryAfter: 0 } as const
const client: ChannelClient = {
  fetchOrders: () => Promise.resolve({ ok: true, body: { orders: [], bad: [], cursor: '', more: false } }),
  fulfil: () => Promise.resolve(nobody),
  withdraw: () => Promise.resolve(nobody),
}

export const files = channelKind({
  id: 'files',
  name: 'Files that people drop',
  about: 'Tables of orders from customers, as CSV or XLSX, dropped on Intake.',
  settings: z.object({}),
  can: { fetch: false, files: true, told: false },
  open: () => client,
})
