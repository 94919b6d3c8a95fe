/* A PostgreSQL cluster of one's own, on a port of this machine, in a temporary folder: for tests and the demo. */
import { spawnSync } from 'node:child_process'
import { chmodSync, existsSync, mkdtempSync, readdirSync, rmSync } from 'node:fs'
import { createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { installPackages } from './environment.mjs'

const packages = '/usr/lib/postgresql'

/** The folder of PostgreSQL's programs, the newest version's; null where it is not installed. */
export function postgresPrograms() {
  const versions = existsSync(packages) ? readdirSync(packages).filter((name) => /^\d+$/.test(name)) : []
  const [newest] = versions.sort((a, b) => Number(b) - Number(a))
  const programs = newest === undefined ? null : join(packages, newest, 'bin')
  return programs && existsSync(join(programs, 'initdb')) ? programs : null
}

/** Installs it where that may be done; says what to install where it may not. */
export function installPostgres() {
  const before = postgresPrograms()
  if (before) return before
  installPackages(['postgresql'])
  const after = postgresPrograms()
  if (!after) console.error('PostgreSQL is not installed. Install it with\n  sudo apt-get install postgresql')
  return after
}

/** Starts a cluster; gives its address without a database, and how to stop it. A durable one writes as in earnest. */
export async function startPostgres(programs, { durable = false } = {}) {
  const folder = mkdtempSync(join(tmpdir(), 'gharry-postgres-'))
  const port = await freePort()
  // It refuses to run as root.
  const asRoot = process.getuid?.() === 0
  const user = asRoot ? ['postgres', 'nobody'].find((name) => spawnSync('id', [name]).status === 0) : null
  if (user) spawnSync('chown', [user, folder])
  chmodSync(folder, 0o700)
  const run = (command) => {
    const line = `cd ${folder} && ${command}`
    const done = user
      ? spawnSync('su', [user, '-s', '/bin/sh', '-c', line], { encoding: 'utf8' })
      : spawnSync('sh', ['-c', line], { encoding: 'utf8' })
    if (done.status !== 0) throw new Error(`PostgreSQL: ${done.stderr || done.stdout}`)
  }
  const options = [
    `-p ${port} -k ${folder} -c listen_addresses=127.0.0.1 -c max_connections=200`,
    // What it holds is thrown away, but where it is to be measured as in earnest.
    durable ? '' : '-c fsync=off -c full_page_writes=off',
  ].join(' ')
  run(`${programs}/initdb -D ${folder}/data -A trust -U gharry --encoding=UTF8 --locale=C -N`)
  run(`${programs}/pg_ctl -D ${folder}/data -o '${options}' -l ${folder}/log -w start`)
  const address = `postgres://gharry@127.0.0.1:${port}`
  return {
    address,
    /** A command of a shell that stops it at once, whatever it is doing, and starts it again. */
    restart: (() => {
      const line = `${programs}/pg_ctl -D ${folder}/data -m immediate -o '${options}' -l ${folder}/log -w restart`
      return user ? `su ${user} -s /bin/sh -c "${line}"` : line
    })(),
    /** Makes a database, and gives its address. */
    database: (name) => {
      run(`${programs}/createdb -h 127.0.0.1 -p ${port} -U gharry ${name}`)
      return `${address}/${name}`
    },
    stop: () => {
      run(`${programs}/pg_ctl -D ${folder}/data -m immediate stop`)
      rmSync(folder, { recursive: true, force: true })
    },
  }
}

const freePort = () =>
  new Promise((resolve, reject) => {
    const server = createServer()
    server.once('error', reject)
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address()
      server.close(() => resolve(port))
    })
  })
