/*
 * npm run demo [-- --fresh] [-- --size large] [-- --postgres]
 * Installs, builds, makes the demo's world, starts the stand-ins and Gharry, and prints the address. Started again, it
 * keeps its data; on PostgreSQL (in a cluster of its own) it begins anew each time.
 */
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import {
  answers,
  build,
  carrierPort,
  carriers,
  environment,
  install,
  nodeIsNewEnough,
  portsAreFree,
  root,
  run,
  throwAwayHalfMade,
} from './environment.mjs'
import { installPostgres, startPostgres } from './postgres.mjs'
import { keeper, server, standIn, standIns, together, worker } from './processes.mjs'

const args = process.argv.slice(2)
const size = args.includes('large') || args.includes('--size=large') ? 'large' : 'small'
const known = ['--fresh', '--size', 'small', 'large', '--size=small', '--size=large', '--postgres']
const unknown = args.find((arg) => !known.includes(arg))
if (unknown) {
  console.error(`"${unknown}" is not known. Use --fresh to begin anew, --size small or --size large, and --postgres.`)
  process.exit(2)
}
if (!nodeIsNewEnough()) process.exit(1)
const env = environment()
// Letters that come back are taken in by the worker.
env.GHARRY_BOUNCE_DOMAIN ??= 'bounces.gharry.example'
// People of the house sign in by their accounts there, too.
env.GHARRY_PROVIDER_ISSUER ??= `http://127.0.0.1:${env.GHARRY_IDENTITY_PORT}/provider`
env.GHARRY_PROVIDER_CLIENT ??= 'gharry'
env.GHARRY_PROVIDER_SECRET ??= 'demo-provider-secret'
env.GHARRY_PROVIDER_NAME ??= 'Mossgill account'
env.GHARRY_PROVIDER_ROLES ??= 'operations=lead,dispatch=dispatcher,packing=packer,books=accountant'
if (!(await portsAreFree(env))) process.exit(1)
install()
build(env)
if (args.includes('--postgres')) await onPostgres()
if (args.includes('--fresh')) rmSync(env.GHARRY_DATA, { recursive: true, force: true })
else if (throwAwayHalfMade(env.GHARRY_DATA)) console.log('The demo world was left half made; it is made anew.')

const { keep, stop } = together(env)
for (const name of standIns) keep(name, standIn(name))
const outside = await Promise.all(
  [
    env.GHARRY_SHOP_PORT,
    env.GHARRY_LANE_PORT,
    env.GHARRY_QUILL_PORT,
    env.GHARRY_DESK_PORT,
    env.GHARRY_WAREHOUSE_PORT,
    env.GHARRY_MAIL_PORT,
    env.GHARRY_TEXTS_PORT,
    env.GHARRY_PRINTERS_PORT,
    env.GHARRY_IDENTITY_PORT,
    ...carriers.map((carrier) => carrierPort(env, carrier)),
  ].map((port) => answers(`http://127.0.0.1:${port}/`)),
)
if (outside.includes(false)) {
  console.error('A stand-in did not start: see its lines above.')
  await stop(1)
}
// Made once; and looked at again when the shop has moved to another port.
const stamp = join(env.GHARRY_DATA, 'world-made')
if (!existsSync(stamp) || readFileSync(stamp, 'utf8') !== env.GHARRY_SHOP_URL) {
  console.log(`The ${size} demo world …`)
  run('node', ['scripts/run.mjs', 'demo/seed.ts', size], env)
  writeFileSync(stamp, env.GHARRY_SHOP_URL)
}
keep('worker', worker)
keep('backups', keeper)
keep('gharry', server(env))
if (!(await answers(`${env.GHARRY_URL}/api/health`))) {
  console.error('Gharry did not start: see its lines above.')
  await stop(1)
}
const demo = JSON.parse(readFileSync(join(root, 'demo/staff.json'), 'utf8'))
console.log(`
Gharry is up:         ${env.GHARRY_URL}
  the shop            ${env.GHARRY_SHOP_URL}
  Tallow Lane         ${env.GHARRY_LANE_URL}
  Quillmart           ${env.GHARRY_QUILL_URL}
  Trade Desk's files  ${env.GHARRY_DESK_URL}
  the Leeds partner   ${env.GHARRY_WAREHOUSE_URL}
  the carriers        ${carriers.map((carrier) => `${carrier} :${carrierPort(env, carrier)}`).join(', ')}
  customers' inbox    http://127.0.0.1:${env.GHARRY_MAIL_PORT}
  customers' phones   ${env.GHARRY_TEXTS_URL}
  printers            http://127.0.0.1:${env.GHARRY_PRINTERS_PORT} (labels at 127.0.0.1:${env.GHARRY_RAW_PRINTER_PORT}, a scale at 127.0.0.1:${env.GHARRY_SCALE_PORT})
${demo.people.map(({ role, email }) => `  ${role.padEnd(18)}  ${email}`).join('\n')}
  they sign in with   ${demo.password}
  its data            ${env.GHARRY_DATABASE ?? (env.GHARRY_DATA === root + '/data' ? './data' : env.GHARRY_DATA)}
Ctrl+C stops everything; the data ${env.GHARRY_DATABASE ? 'is thrown away' : 'stays'}.
`)

/** Books in a cluster of their own, which is thrown away with its data folder when the demo ends. */
async function onPostgres() {
  const programs = installPostgres()
  if (!programs) process.exit(1)
  const cluster = await startPostgres(programs)
  env.GHARRY_DATABASE = cluster.database('gharry')
  env.GHARRY_DATA = mkdtempSync(join(tmpdir(), 'gharry-demo-'))
  process.on('exit', () => {
    cluster.stop()
    rmSync(env.GHARRY_DATA, { recursive: true, force: true })
  })
}
