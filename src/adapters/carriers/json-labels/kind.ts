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
    labels: asked(z.enum(['here', 'pdf', 'zpl'], 'Choose who draws the labels.').or(z.literal('')).default('here'), {
      label: 'Labels',
      help: 'A carrier may ask that its own drawing is used: it is kept, and printed as it came.',
      input: 'choice',
      choices: [
        { id: 'here', name: 'drawn here' },
        { id: 'pdf', name: 'drawn by the carrier, PDF' },
        { id: 'zpl', name: 'drawn by the carrier, ZPL' },
      ],
    }),
  }),
  can: { prepaid: true, refunds: true, returns: true, manifests: true, collections: true },
  open: ({ address, token, labels }, outside) =>
    carrierClient(address, token, outside, labels === 'pdf' || labels === 'zpl' ? labels : null),
})
