import { z } from 'zod'
import { channelKind } from '../../connections/kind'
import { silentClient } from '../silent'

export const files = channelKind({
  id: 'files',
  name: 'Files that people drop',
  about: 'Tables of orders from customers, as CSV or XLSX, dropped on Intake.',
  settings: z.object({}),
  can: { fetch: false, ahead: false, files: true, told: false, refunds: false, stock: false, mail: true },
  open: () => silentClient('Nobody is told: orders come in files.'),
})
