/* Processes that belong together: one that is killed comes back, one that cannot start ends all. */
import { execFileSync } from 'node:child_process'
import { start } from './environment.mjs'

/** The simulated outside, by the names that `standins/start.ts` knows. */
export const standIns = [
  'shop',
  'lane',
  'quill',
  'desk',
  'warehouse',
  'carriers',
  'mail',
  'texts',
  'printers',
  'identity',
]
export const standIn = (name) => ['scripts/run.mjs', 'standins/start.ts', name]
/**
 * Garbage of at most half as much as is in use: left to itself, the engine lets several times as much lie before it looks, and
 * an import of 100,000 orders takes 900 MB instead of 600.
 */
export const littleGarbage = '--heap-growing-percent=50'
export const worker = [littleGarbage, 'scripts/run.mjs', 'cli/worker.ts']
/** Keeps the backups. */
export const keeper = ['scripts/run.mjs', 'cli/keeper.ts']
/**
 * Milliseconds that a connection without a request is kept: longer than proxies keep theirs (60 s is usual), so that it is
 * never Gharry that closes one in the moment in which a proxy sends a request over it.
 */
const idleConnection = '75000'
export const server = (env) => [
  littleGarbage,
  'node_modules/next/dist/bin/next',
  'start',
  '-p',
  env.GHARRY_PORT,
  '-H',
  env.GHARRY_LISTEN ?? '127.0.0.1',
  '--keepAliveTimeout',
  idleConnection,
]

/** The link that makes the first owner; empty where there is one already. Nobody may do anything before. */
export const firstOwnersLink = (env) =>
  execFileSync('node', ['scripts/run.mjs', 'cli/gharry.ts', 'owner', '--if-none'], { env, encoding: 'utf8' }).trim()

/** Keeps processes running until this one is stopped: `keep` starts one, `stop` ends all. */
export function together(env) {
  const children = new Map()
  let stopping = false
  function keep(name, nodeArgs) {
    const child = start(name, nodeArgs, env)
    children.set(name, child)
    child.on('exit', (code, signal) => {
      if (stopping) return
      if (signal) {
        console.log(`[${name}] was killed (${signal}); it is started again.`)
        keep(name, nodeArgs)
      } else {
        console.error(`[${name}] ended with code ${code}.`)
        void stop(code || 1)
      }
    })
  }
  async function stop(code) {
    if (stopping) return
    stopping = true
    for (const child of children.values()) child.kill('SIGTERM')
    const all = [...children.values()].map((child) =>
      child.exitCode !== null ? null : new Promise((resolve) => child.on('exit', resolve)),
    )
    await Promise.race([Promise.all(all), new Promise((resolve) => setTimeout(resolve, 8000))])
    process.exit(code)
  }
  // Whatever ends this process, nothing of it stays behind on the ports.
  process.on('exit', () => {
    for (const child of children.values()) child.kill('SIGKILL')
  })
  for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => void stop(0))
  return { keep, stop }
}
