import { createReadStream, createWriteStream, rmSync, statSync } from 'node:fs'
import { finished } from 'node:stream/promises'
import type Sftp from 'ssh2-sftp-client'
import { connectedSftp, type SftpPlace } from '../sftp'
import type { Outside } from '../http'
import { type BackupPlace, isBackupName, isPartName, PlaceProblem } from './place'

const cutShort = (): Error => new PlaceProblem('A part came only in part: it is tried again.')

/** A large part on a slow line. */
const longestMs = 6 * 3_600_000

/** Backups in a folder at an SFTP server. Each call is a connection of its own. */
export function sftpPlace(place: SftpPlace, outside: Outside): BackupPlace {
  async function doing<T>(work: (sftp: Sftp, path: (...parts: string[]) => string) => Promise<T>): Promise<T> {
    const answer = await connectedSftp(place, outside, 'Its folder is not there: make it.', longestMs, work)
    if (answer.ok) return answer.body
    throw new PlaceProblem(`The SFTP server of the backups: ${answer.sentence}`)
  }
  return {
    words: `sftp://${place.user}@${place.host}:${place.port}/${place.folder.replace(/^\//, '')}`,
    list: () =>
      doing(async (sftp, path) =>
        (await sftp.list(path() || '.'))
          .filter(({ type, name }) => type === 'd' && isBackupName(name))
          .map(({ name }) => name)
          .sort(),
      ),
    parts: (backup) =>
      doing(async (sftp, path) =>
        (await sftp.list(path(backup)))
          .filter(({ name }) => isPartName(name))
          .map(({ name, size }) => ({ name, bytes: size }))
          .sort((a, b) => a.name.localeCompare(b.name)),
      ),
    take: (backup, name, file) =>
      doing(async (sftp, path) => {
        if (!(await sftp.exists(path(backup)))) await sftp.mkdir(path(backup), true)
        await sftp.put(createReadStream(file), path(backup, `${name}.half`))
        if ((await sftp.stat(path(backup, `${name}.half`))).size !== statSync(file).size) throw cutShort()
        if (await sftp.exists(path(backup, name))) await sftp.delete(path(backup, name))
        await sftp.rename(path(backup, `${name}.half`), path(backup, name))
        rmSync(file)
      }),
    fetch: (backup, name, file) =>
      doing(async (sftp, path) => {
        const out = createWriteStream(file, { mode: 0o600 })
        await sftp.get(path(backup, name), out)
        // The last of it may still be on its way to the file.
        await finished(out)
        if ((await sftp.stat(path(backup, name))).size !== statSync(file).size) throw cutShort()
      }),
    remove: (backup) => doing((sftp, path) => sftp.rmdir(path(backup), true)).then(() => undefined),
  }
}
