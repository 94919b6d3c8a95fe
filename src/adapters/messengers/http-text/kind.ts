import { z } from 'zod'
import { asked, messengerKind } from '../../connections/kind'
import { outsideAddress } from '../../http'
import { httpText } from './client'

export const textGateway = messengerKind({
  id: 'http-text',
  name: 'Text messages by HTTP',
  about: 'A gateway that takes text messages in JSON, and says which arrived and what people answered.',
  settings: z.object({
    address: asked(outsideAddress, { label: 'Address of the interface', input: 'address' }),
    token: asked(z.string().min(1, 'Enter the access token that the gateway has given out.').max(500), {
      label: 'Access token',
      secret: true,
    }),
    sender: asked(
      z
        .string()
        .trim()
        .regex(
          /^(?:[A-Za-z0-9 ]{1,11}|\+[1-9]\d{6,14})$/,
          'Enter up to 11 letters and digits, or a number such as +3290001234.',
        ),
      { label: 'Sender', help: 'What stands above the message: up to 11 letters and digits, or a telephone number.' },
    ),
  }),
  can: { answers: true },
  open: (settings, outside) => httpText(settings, outside),
})
