import { readdirSync } from 'node:fs'
import { join } from 'node:path'
import { card, escapeHtml, page } from '../html'
import { makeServer } from '../server'
import { sftpServer, type SftpSettings } from '../sftpServer'

/** The file names of each room of an SFTP server, as cards. */
export const roomCards = (files: string): string =>
  readdirSync(files)
    .map((room) =>
      card(
        room,
        `<ul>${readdirSync(join(files, room))
          .map((name) => `<li><code>${escapeHtml(name)}</code></li>`)
          .join('')}</ul>`,
      ),
    )
    .join('')

/** An SFTP server with folders for files of orders and of despatch, and pages to look at them. */
export function deskStandIn(settings: SftpSettings) {
  const app = makeServer()
  const { files, listen, place } = sftpServer(app, settings, ['in', 'out'])
  app.get('/', (_request, reply) =>
    reply
      .type('text/html')
      .send(page('Trade Desk: files', card('The SFTP server', `<p>${escapeHtml(place())}</p>`) + roomCards(files))),
  )
  return { app, listen }
}
