import { z } from 'zod'
import { asked, channelKind } from '../../connections/kind'
import { outsideAddress } from '../../http'
import { shopClient } from './client'

export const keyedShop = channelKind({
  id: 'keyed-shop',
  name: 'Web shop with key and secret',
  about: 'A shop of one’s own that hands out a key and a secret for its interface.',
  settings: z.object({
    address: asked(outsideAddress, {
      label: 'Address of the shop',
      help: 'Without the part behind the name, such as https://shop.example.',
      input: 'address',
    }),
    key: asked(z.string().trim().min(1, 'Enter the key that the shop has given out.').max(200), { label: 'Key' }),
    secret: asked(z.string().min(1, 'Enter the secret that belongs to the key.').max(500), {
      label: 'Secret',
      secret: true,
    }),
  }),
  can: { fetch: true, ahead: true, files: false, told: true, refunds: true, stock: true, mail: true },
  open: ({ address, key, secret }, outside) => shopClient(address, key, secret, outside),
})
