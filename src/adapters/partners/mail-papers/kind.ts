import { z } from 'zod'
import { isOneAddress } from '@/core/address'
import { asked, partnerKind } from '../../connections/kind'
import { documentSettings } from '../orderDocuments'
import { mailPapers } from './client'

export const papersByMail = partnerKind({
  id: 'mail-papers',
  name: 'Papers by e-mail',
  about:
    'A mail with the papers and the order for each shipment; people there answer on a page that the mail leads to.',
  settings: z.object({
    to: asked(
      z.string().trim().max(200).refine(isOneAddress, 'Enter one e-mail address, such as warehouse@partner.example.'),
      { label: 'E-mail address' },
    ),
    ...documentSettings,
  }),
  can: { answers: false },
  open: (settings, _outside, _access, mail) => mailPapers(settings, mail),
})
