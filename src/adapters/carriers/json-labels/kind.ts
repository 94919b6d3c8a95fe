import { z } from 'zod'
import { asked, carrierKind } from '../../connections/kind'
import { outsideAddress } from '../../http'
import { carrierClient } from './client'

export const jsonLabels = carrierKind({
  id: 'json-labels',
  name: 'Carrier with a JSON interface',
  about: 'Sells labels, takes them back and tells of parcels in JSON, with an access token.',
  settings: z.object({
    address: asked(outsideAddress, {
      label: 'Address of the interface',
      help: 'As the carrier’s papers say it, such as https://labels.example.',
      input: 'address',
    }),
    token: asked(z.string().min(1, 'Enter the access token that the carrier has given out.').max(500), {
      label: 'Access token',
      secret: true,
    }),
  }),
  can: { prepaid: true },
  open: ({ address, token }, outside) => carrierClient(address, token, outside),
})
