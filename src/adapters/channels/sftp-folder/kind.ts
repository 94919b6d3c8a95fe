import { z } from 'zod'
import { asked, channelKind } from '../../connections/kind'
import { folderSetting, portOf, sftpSettings } from '../../sftp'
import { sftpClient } from './client'

export const sftpFolder = channelKind({
  id: 'sftp-folder',
  name: 'SFTP folder with files',
  about:
    'Customers put files of orders (CSV, XLSX, JSON lines, UBL) into a folder at an SFTP server; despatch advices are put there.',
  settings: z.object({
    ...sftpSettings,
    folder: folderSetting('With “in” in it. “done”, “refused” and “out” are made. Empty: where the user lands.'),
    seller: asked(z.string().trim().min(1, 'Enter the name that despatch advices carry.').max(200), {
      label: 'Your name on despatch advices',
    }),
    answers: asked(z.enum(['ubl', 'csv'], 'Choose what is put into “out”.'), {
      label: 'Despatch advices as',
      input: 'choice',
      choices: [
        { id: 'ubl', name: 'UBL 2.1 (XML)' },
        { id: 'csv', name: 'CSV' },
      ],
    }),
  }),
  can: { fetch: true, ahead: false, files: true, told: true, refunds: false, stock: false, mail: true },
  open: (settings, outside) => sftpClient({ ...settings, port: portOf(settings.port) }, outside),
})
