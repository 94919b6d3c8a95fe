/* What the demo and the tests share: the environment with its defaults, and what must be installed and built. */
import { spawn, spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { createServer } from 'node:net'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'

export const root = join(dirname(fileURLToPath(import.meta.url)), '..')

const ports = {
  GHARRY_PORT: 4600,
  GHARRY_DIRECTORY_PORT: 4609,
  GHARRY_SHOP_PORT: 4610,
  GHARRY_HERON_PORT: 4611,
  GHARRY_CORVID_PORT: 4612,
  GHARRY_MAIL_PORT: 4613,
  GHARRY_NORTHLIGHT_PORT: 4614,
  GHARRY_SKUA_PORT: 4615,
  GHARRY_BRAMBLE_PORT: 4616,
  GHARRY_DRAY_PORT: 4617,
  GHARRY_LANE_PORT: 4618,
  GHARRY_QUILL_PORT: 4619,
  GHARRY_DESK_PORT: 4620,
  GHARRY_SFTP_PORT: 4622,
  GHARRY_WAREHOUSE_PORT: 4623,
  GHARRY_WAREHOUSE_SFTP_PORT: 4624,
  GHARRY_SMTP_PORT: 4625,
  GHARRY_TEXTS_PORT: 4627,
  GHARRY_BOUNCE_PORT: 4628,
  GHARRY_PRINTERS_PORT: 4629,
  GHARRY_IDENTITY_PORT: 4630,
  GHARRY_RAW_PRINTER_PORT: 4631,
  GHARRY_SCALE_PORT: 4632,
}
/** The carriers of the demo, by the names that their ports have. */
export const carriers = ['heron', 'corvid', 'northlight', 'skua', 'bramble', 'dray']
export const carrierPort = (env, carrier) => env[`GHARRY_${carrier.toUpperCase()}_PORT`]

/** The environment of all processes: ports and addresses that fit together. */
export function environment(given = process.env) {
  const env = { ...given, NEXT_TELEMETRY_DISABLED: '1', GHARRY_DATA: given.GHARRY_DATA ?? join(root, 'data') }
  for (const [name, port] of Object.entries(ports)) env[name] = given[name] ?? String(port)
  env.GHARRY_URL = given.GHARRY_URL ?? `http://127.0.0.1:${env.GHARRY_PORT}`
  // The stand-ins are on this machine.
  env.GHARRY_PRIVATE_ADDRESSES = given.GHARRY_PRIVATE_ADDRESSES ?? 'yes'
  env.GHARRY_STANDINS = given.GHARRY_STANDINS ?? `http://127.0.0.1:${env.GHARRY_DIRECTORY_PORT}`
  env.GHARRY_LANE_URL = given.GHARRY_LANE_URL ?? `http://127.0.0.1:${env.GHARRY_LANE_PORT}`
  env.GHARRY_QUILL_URL = given.GHARRY_QUILL_URL ?? `http://127.0.0.1:${env.GHARRY_QUILL_PORT}`
  env.GHARRY_DESK_URL = given.GHARRY_DESK_URL ?? `http://127.0.0.1:${env.GHARRY_DESK_PORT}`
  env.GHARRY_WAREHOUSE_URL = given.GHARRY_WAREHOUSE_URL ?? `http://127.0.0.1:${env.GHARRY_WAREHOUSE_PORT}`
  env.GHARRY_TEXTS_URL = given.GHARRY_TEXTS_URL ?? `http://127.0.0.1:${env.GHARRY_TEXTS_PORT}`
  env.GHARRY_SHOP_URL = given.GHARRY_SHOP_URL ?? `http://127.0.0.1:${env.GHARRY_SHOP_PORT}`
  env.GHARRY_CARRIER_URLS =
    given.GHARRY_CARRIER_URLS ??
    carriers.map((carrier) => `${carrier}=http://127.0.0.1:${carrierPort(env, carrier)}`).join(',')
  return env
}

export async function portsAreFree(env, names = Object.keys(ports)) {
  const taken = []
  for (const name of names) if (!(await isFree(Number(env[name])))) taken.push(name)
  for (const name of taken)
    console.error(`Port ${env[name]} is taken. Stop what uses it, or set ${name} to another port.`)
  return taken.length === 0
}

const isFree = (port) =>
  new Promise((resolve) => {
    const server = createServer()
    server.once('error', () => resolve(false))
    server.listen(port, '127.0.0.1', () => server.close(() => resolve(true)))
  })

export function nodeIsNewEnough() {
  const [major, minor] = process.versions.node.split('.').map(Number)
  if (major > 20 || (major === 20 && minor >= 9)) return true
  console.error(`Gharry needs Node 20.9 or newer; this is ${process.versions.node}.`)
  return false
}

/** Installs packages of Debian, where this user may; whether they are there then. */
export function installPackages(names) {
  if (process.getuid?.() !== 0 || !existsSync('/usr/bin/apt-get')) return false
  console.log(`Installing ${names.join(', ')} …`)
  const quiet = { stdio: ['ignore', 'ignore', 'inherit'], env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } }
  spawnSync('apt-get', ['update', '-q'], quiet)
  return spawnSync('apt-get', ['install', '-y', '-q', '--no-install-recommends', ...names], quiet).status === 0
}

/** Installs the packages of the lock file, unless exactly these are there. */
export function install() {
  const stamp = join(root, 'node_modules', '.gharry-installed')
  const wanted = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex')
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return
  console.log('Installing packages (the database is built from source, which takes some minutes) …')
  run('npm', ['ci', '--no-audit', '--no-fund'])
  writeFileSync(stamp, wanted)
}

/** Builds the application, unless this very source was built before. */
export function build(env) {
  const stamp = join(root, '.next', 'gharry-built')
  const hash = createHash('sha256')
  for (const file of ['package-lock.json', 'next.config.mjs', 'postcss.config.mjs', 'tsconfig.json', ...files('src')])
    hash.update(file).update(readFileSync(join(root, file)))
  const wanted = hash.digest('hex')
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return
  console.log('Building …')
  run('node', ['node_modules/next/dist/bin/next', 'build'], env)
  writeFileSync(stamp, wanted)
}

const files = (folder) =>
  readdirSync(join(root, folder))
    .sort()
    .flatMap((name) => {
      const file = `${folder}/${name}`
      return statSync(join(root, file)).isDirectory() ? files(file) : [file]
    })

/**
 * A world that was left half made, as its making was killed, is of no use and has nothing of anybody's in it: it is
 * thrown away. True when there was one.
 */
export function throwAwayHalfMade(folder) {
  if (!existsSync(join(folder, 'seeding'))) return false
  rmSync(folder, { recursive: true, force: true })
  return true
}

export function run(command, args, env = process.env) {
  const { status } = spawnSync(command, args, { cwd: root, env, stdio: 'inherit' })
  if (status !== 0) {
    console.error(`${command} ${args.join(' ')} failed.`)
    process.exit(status ?? 1)
  }
}

/** Starts a process whose lines are shown with its name before them. */
export function start(name, args, env) {
  const child = spawn('node', args, { cwd: root, env, stdio: ['ignore', 'pipe', 'pipe'] })
  for (const stream of [child.stdout, child.stderr])
    stream.on('data', (chunk) => {
      if (process.env.GHARRY_QUIET !== '1')
        for (const line of String(chunk).split('\n').filter(Boolean)) console.log(`[${name}] ${line}`)
    })
  return child
}

/** Waits until an address answers: twenty processes that start at once take minutes on a busy machine. */
export async function answers(url, seconds = 240) {
  for (const end = Date.now() + seconds * 1000; Date.now() < end;) {
    try {
      if ((await fetch(url)).status < 500) return true
    } catch {}
    await new Promise((resolve) => setTimeout(resolve, 100))
  }
  return false
}
