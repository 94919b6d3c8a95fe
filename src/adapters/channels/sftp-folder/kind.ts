import { z } from 'zod'
import { asked, channelKind } from '../../connections/kind'
import { sftpClient } from './client'

export const sftpFolder = channelKind({
  id: 'sftp-folder',
  name: 'SFTP folder with files',
  about:
    'Customers put files of orders (CSV, XLSX, JSON lines, UBL) into a folder at an SFTP server; despatch advices are put there.',
  settings: z.object({
    host: asked(
      z
        .string()
        .trim()
        .regex(/^[a-z0-9.:-]{1,250}$/i, 'Enter the name of the server, such as sftp.example.'),
      {
        label: 'Server',
      },
    ),
    port: asked(
      z
        .string()
        .trim()
        .refine((text) => /^\d{0,5}$/.test(text) && Number(text) < 65_536, 'A port is a number up to 65,535.'),
      { label: 'Port', help: 'Empty: 22.' },
    ),
    user: asked(z.string().trim().min(1, 'Enter the user that was given to you.').max(100), { label: 'User' }),
    password: asked(z.string().min(1, 'Enter the password of the user.').max(500), { label: 'Password', secret: true }),
    hostKey: asked(
      z
        .string()
        .trim()
        .regex(/^SHA256:[A-Za-z0-9+/]{43}$/, 'Enter the fingerprint of its host key: SHA256: and 43 signs.'),
      { label: 'Fingerprint of its host key', help: 'Ask whoever runs it. Gharry calls no server with another key.' },
    ),
    folder: asked(
      z
        .string()
        .trim()
        .max(300)
        .regex(/^[^\0]*$/, 'This is no name of a folder.'),
      {
        label: 'Folder',
        help: 'With “in” in it. “done”, “refused” and “out” are made. Empty: where the user lands.',
      },
    ),
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
  can: { fetch: true, files: true, told: true, mail: true },
  open: (settings, outside) => sftpClient({ ...settings, port: Number(settings.port) || 22 }, outside),
})
