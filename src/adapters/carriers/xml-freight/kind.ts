import { z } from 'zod'
import { asked, carrierKind } from '../../connections/kind'
import { outsideAddress } from '../../http'
import { freightClient } from './client'

export const xmlFreight = carrierKind({
  id: 'xml-freight',
  name: 'Freight carrier with an XML interface',
  about: 'Books and cancels consignments by XML documents, with an account and a password.',
  settings: z.object({
    address: asked(outsideAddress, {
      label: 'Address of the interface',
      help: 'Without the part behind the name, such as https://freight.example.',
      input: 'address',
    }),
    account: asked(z.string().trim().min(1, 'Enter the number of the account.').max(100), { label: 'Account' }),
    password: asked(z.string().min(1, 'Enter the password of the account.').max(500), {
      label: 'Password',
      secret: true,
    }),
  }),
  can: { prepaid: true, refunds: false, returns: false, manifests: false, collections: false },
  open: (settings, outside) => freightClient(settings, outside),
})
