import { z } from 'zod'
import { carrierKind } from '../../connections/kind'
import { counterClient } from './client'

export const counter = carrierKind({
  id: 'counter',
  name: 'Own counter',
  about: 'Buyers fetch their orders where they are packed: nothing is sent, and nothing is paid.',
  settings: z.object({}),
  can: { prepaid: false, refunds: false, returns: false, manifests: false, collections: false },
  open: () => counterClient(),
})
