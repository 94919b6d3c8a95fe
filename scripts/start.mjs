/*
 * npm start: installs, builds, and starts Gharry with its worker on its data folder (GHARRY_DATA, `data` without it).
 * On an empty one it shows the first steps.
 */
import { answers, build, environment, install, nodeIsNewEnough, portsAreFree } from './environment.mjs'
import { firstOwnersLink, keeper, server, together, worker } from './processes.mjs'

if (!nodeIsNewEnough()) process.exit(1)
const env = environment()
// Connections lead to addresses of this machine only when it is said so, or when the stand-ins run here.
const tried = await answers(`${env.GHARRY_STANDINS}/offers`, 1)
env.GHARRY_PRIVATE_ADDRESSES = process.env.GHARRY_PRIVATE_ADDRESSES ?? (tried ? 'yes' : 'no')
if (!(await portsAreFree(env, ['GHARRY_PORT']))) process.exit(1)
install()
build(env)
const { keep, stop } = together(env)
keep('worker', worker)
keep('backups', keeper)
keep('gharry', server(env))
if (!(await answers(`${env.GHARRY_URL}/api/health`))) {
  console.error('Gharry did not start: see its lines above.')
  await stop(1)
}
const link = firstOwnersLink(env)
console.log(
  `\nGharry is up: ${env.GHARRY_URL}\n${link ? `Its first owner begins here, once: ${link}\n` : ''}${tried ? 'The stand-ins run here, and can be connected. ' : ''}Ctrl+C stops it; the data stays.\n`,
)
