import { z } from 'zod'
import { partnerKind } from '../../connections/kind'
import { folderSetting, portOf, sftpSettings } from '../../sftp'
import { documentSettings } from '../orderDocuments'
import { sftpWarehouse } from './client'

export const warehouse = partnerKind({
  id: 'sftp-warehouse',
  name: 'Warehouse with an SFTP server',
  about:
    'Orders and papers are put into its folders; what it answers, its stock and its tracking numbers are read there.',
  settings: z.object({
    ...sftpSettings,
    folder: folderSetting('“orders” and “papers” are made in it; “answers” is read. Empty: where the user lands.'),
    ...documentSettings,
  }),
  can: { answers: true },
  open: (settings, outside) => sftpWarehouse({ ...settings, port: portOf(settings.port) }, outside),
})
