import { createHash, generateKeyPairSync } from 'node:crypto'
import {
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmdirSync,
  rmSync,
  statSync,
  utimesSync,
  writeFileSync,
} from 'node:fs'
import { join, normalize } from 'node:path'
import type { FastifyInstance } from 'fastify'
import ssh2, { type Attributes, type Connection, type SFTPWrapper } from 'ssh2'
import { z } from 'zod'

const { OPEN_MODE, STATUS_CODE } = ssh2.utils.sftp

export interface SftpSettings {
  /** Where its files are; the host key is beside them. */
  readonly folder: string
  readonly user: string
  readonly password: string
}

const faultsShape = z.object({
  /** Nothing can be written. */
  full: z.boolean(),
  /** The line ends after so many bytes of a file; 0: never. */
  cutAfter: z.number().int().min(0),
  latencyMs: z.number().int().min(0),
})

const keyOf = (file: string): string => {
  if (!existsSync(file))
    writeFileSync(
      file,
      generateKeyPairSync('rsa', { modulusLength: 2048 }).privateKey.export({ format: 'pem', type: 'pkcs1' }),
      { mode: 0o600 },
    )
  return readFileSync(file, 'utf8')
}
const fingerprintOf = (privateKey: string): string => {
  const parsed = ssh2.utils.parseKey(privateKey)
  if (parsed instanceof Error) throw parsed
  return `SHA256:${createHash('sha256').update(parsed.getPublicSSH()).digest('base64').slice(0, 43)}`
}

/** An SFTP server with folders, its switches and a read-out at `app`. */
export function sftpServer(app: FastifyInstance, { folder, user, password }: SftpSettings, rooms: readonly string[]) {
  const files = join(folder, 'files')
  for (const room of rooms) mkdirSync(join(files, room), { recursive: true })
  const keyFile = join(folder, 'host-key')
  const faults: z.infer<typeof faultsShape> = { full: false, cutAfter: 0, latencyMs: 0 }
  const open = new Set<Connection>()
  const makeSftp = () => {
    const server = new ssh2.Server({ hostKeys: [keyOf(keyFile)] }, (client) => {
      open.add(client)
      client.on('error', () => undefined).on('close', () => void open.delete(client))
      client.on('authentication', (context) => {
        if (context.method === 'password' && context.username === user && context.password === password)
          context.accept()
        else context.reject(['password'])
      })
      client.on('session', (accept) => {
        accept().on('sftp', (begin) => serve(begin(), files, faults, () => client.end()))
      })
    })
    return server
  }
  let sftp = makeSftp()
  let port = 0
  const listen = (wanted: number): Promise<number> =>
    new Promise((resolve, reject) => {
      sftp.once('error', reject)
      sftp.listen(wanted, '127.0.0.1', () => {
        port = (sftp.address() as { port: number }).port
        resolve(port)
      })
    })
  const stop = (): Promise<void> =>
    new Promise((resolve) => {
      for (const client of open) client.end()
      sftp.close(() => resolve())
    })

  app.get('/admin/faults', () => faults)
  app.post('/admin/faults', (request) => Object.assign(faults, faultsShape.partial().parse(request.body)))
  app.get('/admin/key', () => ({ fingerprint: fingerprintOf(keyOf(keyFile)) }))
  /** Another host key, as after a move to another machine; or as somebody in between would have. */
  app.post('/admin/key', async () => {
    await stop()
    rmSync(keyFile)
    sftp = makeSftp()
    await listen(port)
    return { fingerprint: fingerprintOf(keyOf(keyFile)) }
  })
  app.get('/admin/files', () =>
    Object.fromEntries(
      readdirSync(files).map((room) => [
        room,
        Object.fromEntries(
          readdirSync(join(files, room)).map((name) => [name, readFileSync(join(files, room, name), 'utf8')]),
        ),
      ]),
    ),
  )
  /** Puts a file there; `age` is how many seconds ago it was written last. */
  app.post('/admin/files', (request) => {
    const { room, name, content, base64, age } = z
      .object({
        room: z.string().default(rooms[0] ?? ''),
        name: z.string(),
        content: z.string().default(''),
        base64: z.boolean().default(false),
        age: z.number().default(60),
      })
      .parse(request.body)
    const file = join(files, room, name)
    writeFileSync(file, base64 ? Buffer.from(content, 'base64') : content)
    const at = Date.now() / 1000 - age
    utimesSync(file, at, at)
    return {}
  })
  app.addHook('onClose', stop)
  return {
    files,
    listen,
    /** Where it is, in words. */
    place: (): string => `127.0.0.1, port ${port}, user ${user}, host key ${fingerprintOf(keyOf(keyFile))}`,
  }
}

type Faults = z.infer<typeof faultsShape>
interface Handle {
  path: string
  /** Of a file that is read. */
  content: Buffer | null
  /** Of a folder that is listed. */
  names: string[] | null
  written: Buffer[]
}

/** One session: what it has open, and how it is answered. */
interface Session {
  readonly sftp: SFTPWrapper
  /** A path of the caller's, within the folder. */
  readonly inside: (path: string) => string
  readonly open: (entry: { path: string; content?: Buffer; names?: string[] }) => Buffer
  readonly opened: (handle: Buffer) => Handle
  /** Does the work after the latency; what is not there is said as the protocol says it. */
  readonly answer: (id: number, work: () => void) => void
}

function sessionOf(sftp: SFTPWrapper, root: string, faults: Faults): Session {
  const handles = new Map<number, Handle>()
  let next = 0
  return {
    sftp,
    inside: (path) => join(root, normalize(`/${path}`)),
    open: (entry) => {
      const id = next++
      handles.set(id, { content: null, names: null, written: [], ...entry })
      const handle = Buffer.alloc(4)
      handle.writeUInt32BE(id)
      return handle
    },
    opened: (handle) => handles.get(handle.readUInt32BE())!,
    answer: (id, work) => {
      setTimeout(() => {
        try {
          work()
        } catch (error) {
          const missing = (error as NodeJS.ErrnoException).code === 'ENOENT'
          sftp.status(id, missing ? STATUS_CODE.NO_SUCH_FILE : STATUS_CODE.FAILURE)
        }
      }, faults.latencyMs)
    },
  }
}

function attributes(path: string): Attributes {
  const { mode, uid, gid, size, atimeMs, mtimeMs } = statSync(path)
  return { mode, uid, gid, size, atime: Math.floor(atimeMs / 1000), mtime: Math.floor(mtimeMs / 1000) }
}

/** Answers the requests of one session; every path is within the folder. */
function serve(sftp: SFTPWrapper, root: string, faults: Faults, cut: () => void): void {
  const session = sessionOf(sftp, root, faults)
  serveFolders(session, root)
  serveFiles(session, faults, cut)
  const { inside, answer } = session
  const done = (id: number, work: () => void): void =>
    answer(id, () => {
      work()
      sftp.status(id, STATUS_CODE.OK)
    })
  sftp.on('RENAME', (id, from, to) => done(id, () => renameSync(inside(from), inside(to))))
  sftp.on('REMOVE', (id, path) => done(id, () => rmSync(inside(path))))
  sftp.on('MKDIR', (id, path) => done(id, () => mkdirSync(inside(path))))
  sftp.on('RMDIR', (id, path) => done(id, () => rmdirSync(inside(path))))
  sftp.on('SETSTAT', (id) => done(id, () => undefined)).on('FSETSTAT', (id) => done(id, () => undefined))
}

/** Where one is, what is there, and of what kind it is. */
function serveFolders({ sftp, inside, open, opened, answer }: Session, root: string): void {
  const stat = (id: number, path: string): void => answer(id, () => sftp.attrs(id, attributes(inside(path))))
  sftp.on('REALPATH', (id, path) =>
    answer(id, () => sftp.name(id, [{ filename: normalize(`/${path}`), longname: '', attrs: attributes(root) }])),
  )
  sftp.on('STAT', stat).on('LSTAT', stat)
  sftp.on('FSTAT', (id, handle) => answer(id, () => sftp.attrs(id, attributes(opened(handle).path))))
  sftp.on('OPENDIR', (id, path) =>
    answer(id, () => sftp.handle(id, open({ path: inside(path), names: readdirSync(inside(path)) }))),
  )
  sftp.on('READDIR', (id, handle) =>
    answer(id, () => {
      const entry = opened(handle)
      if (!entry.names || entry.names.length === 0) return sftp.status(id, STATUS_CODE.EOF)
      const names = entry.names.splice(0)
      return sftp.name(
        id,
        names.map((filename) => {
          const attrs = attributes(join(entry.path, filename))
          const kind = statSync(join(entry.path, filename)).isDirectory() ? 'd' : '-'
          return { filename, longname: `${kind}rw-r--r-- 1 desk desk ${attrs.size} ${filename}`, attrs }
        }),
      )
    }),
  )
}

/** Files, read and written whole or in parts; a file that is written is there when it is closed. */
function serveFiles({ sftp, inside, open, opened, answer }: Session, faults: Faults, cut: () => void): void {
  let read = 0
  sftp.on('OPEN', (id, path, flags) =>
    answer(id, () => {
      const writes = (flags & OPEN_MODE.WRITE) !== 0
      if (writes && faults.full) return sftp.status(id, STATUS_CODE.FAILURE)
      if (writes) writeFileSync(inside(path), '')
      return sftp.handle(id, open({ path: inside(path), ...(writes ? {} : { content: readFileSync(inside(path)) }) }))
    }),
  )
  sftp.on('READ', (id, handle, offset, length) =>
    answer(id, () => {
      const { content } = opened(handle)
      if (!content || offset >= content.length) return sftp.status(id, STATUS_CODE.EOF)
      const most = faults.cutAfter > 0 ? Math.min(length, faults.cutAfter) : length
      const part = content.subarray(offset, offset + most)
      read += part.length
      sftp.data(id, part)
      if (faults.cutAfter > 0 && read >= faults.cutAfter) cut()
    }),
  )
  sftp.on('WRITE', (id, handle, _offset, data) =>
    answer(id, () => {
      opened(handle).written.push(Buffer.from(data))
      sftp.status(id, STATUS_CODE.OK)
    }),
  )
  sftp.on('CLOSE', (id, handle) =>
    answer(id, () => {
      const entry = opened(handle)
      if (entry.written.length > 0) writeFileSync(entry.path, Buffer.concat(entry.written))
      sftp.status(id, STATUS_CODE.OK)
    }),
  )
}
