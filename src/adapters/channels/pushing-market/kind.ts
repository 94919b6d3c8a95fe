import { z } from 'zod'
import { asked, channelKind } from '../../connections/kind'
import { outsideAddress } from '../../http'
import { ordersIn, pushingClient, readMessage } from './client'

export const pushingMarket = channelKind({
  id: 'pushing-market',
  name: 'Marketplace that sends messages',
  about: 'A marketplace that tells of orders by signed messages (webhooks); Gharry asks as well, in case one is lost.',
  settings: z.object({
    address: asked(outsideAddress, {
      label: 'Address of the marketplace',
      help: 'Without the part behind the name, such as https://market.example.',
      input: 'address',
    }),
    key: asked(z.string().trim().min(1, 'Enter the access key that the marketplace has given out.').max(500), {
      label: 'Access key',
      secret: true,
    }),
    signingSecret: asked(
      z.string().min(16, 'Enter the secret of its messages: it has at least 16 characters.').max(500),
      {
        label: 'Secret of its messages',
        help: 'The marketplace signs its messages with it. It shows it where you enter Gharry’s address for messages.',
        secret: true,
      },
    ),
  }),
  can: { fetch: true, ahead: true, files: false, told: true, refunds: true, stock: false, mail: true },
  open: ({ address, key }, outside) => pushingClient(address, key, outside),
  messages: { read: (message, { signingSecret }) => readMessage(message, signingSecret), ordersIn },
})
