import { z } from 'zod'
import { channelKind } from '../../connections/kind'
import { silentClient } from '../silent'

export const byHand = channelKind({
  id: 'by-hand',
  name: 'Orders typed by hand',
  about: 'Orders that people type at the Desk: from a letter, a call, or for the same address again.',
  settings: z.object({}),
  can: { fetch: false, ahead: false, files: false, told: false, refunds: false, stock: false, mail: true },
  open: () => silentClient('Nobody is told: the order was typed by hand.'),
})
