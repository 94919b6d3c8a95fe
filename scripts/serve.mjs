/*
 * node scripts/serve.mjs [server | worker | backups]: what was built runs, one of its three processes or all of them
 * together. Nothing is installed, built or fetched.
 */
import { existsSync } from 'node:fs'
import { answers, environment, nodeIsNewEnough } from './environment.mjs'
import { builtFile } from './builtFile.mjs'
import { firstOwnersLink, keeper, server, together, worker } from './processes.mjs'

if (!nodeIsNewEnough()) process.exit(1)
if (!existsSync('.next/BUILD_ID') || !existsSync(builtFile('cli/worker.ts'))) {
  console.error('Gharry is not built here: run npm ci and npm run build first.')
  process.exit(1)
}
const env = environment()
// In earnest, connections do not lead to machines of the house unless it is said so, and there are no stand-ins.
env.GHARRY_PRIVATE_ADDRESSES = process.env.GHARRY_PRIVATE_ADDRESSES ?? 'no'
env.GHARRY_STANDINS = process.env.GHARRY_STANDINS ?? 'none'
const programs = { server: server(env), worker, backups: keeper }
const [, , wanted = 'all'] = process.argv
if (wanted !== 'all' && !(wanted in programs)) {
  console.error(`There is no process "${wanted}": server, worker, backups, or none of them for all.`)
  process.exit(2)
}
const { keep, stop } = together(env)
for (const [name, args] of Object.entries(programs)) if (wanted === 'all' || wanted === name) keep(name, args)
if (wanted === 'all' || wanted === 'server') {
  if (!(await answers(`http://127.0.0.1:${env.GHARRY_PORT}/api/health`))) {
    console.error('The server did not start: see its lines above.')
    await stop(1)
  }
  const link = firstOwnersLink(env)
  console.log(`Gharry is up: ${env.GHARRY_URL}${link ? `\nIts first owner begins here, once: ${link}` : ''}`)
}
