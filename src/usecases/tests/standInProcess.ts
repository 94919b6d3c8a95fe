import { spawn } from 'node:child_process'
import { createServer, type AddressInfo } from 'node:net'
import { join } from 'node:path'

export interface StandInProcess {
  readonly url: string
  readonly port: number
  readonly tell: <T>(path: string, body?: unknown) => Promise<T>
  readonly close: () => Promise<void>
}

const root = join(__dirname, '../../..')

export const freePort = (): Promise<number> =>
  new Promise((resolve) => {
    const server = createServer()
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address() as AddressInfo
      server.close(() => resolve(port))
    })
  })

/** A stand-in as a process of its own, as the demo starts it: for those whose libraries the tests cannot load. */
export async function startStandIn(
  which: string,
  variable: string,
  env: Record<string, string>,
): Promise<StandInProcess> {
  const port = await freePort()
  const child = spawn('node', ['scripts/run.mjs', 'standins/start.ts', which], {
    cwd: root,
    env: { ...process.env, ...env, [variable]: String(port), NODE_ENV: 'production' },
    stdio: ['ignore', 'ignore', 'inherit'],
  })
  const url = `http://127.0.0.1:${port}`
  for (let tries = 0; ; tries++) {
    const up = await fetch(`${url}/admin/faults`).then(
      ({ ok }) => ok,
      () => false,
    )
    if (up) break
    if (tries > 300 || child.exitCode !== null) throw new Error(`The stand-in ${which} did not start.`)
    await new Promise((resolve) => setTimeout(resolve, 100))
  }
  return {
    url,
    port,
    tell: async <T>(path: string, body?: unknown): Promise<T> => {
      const answer = await fetch(
        `${url}${path}`,
        body === undefined
          ? undefined
          : { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) },
      )
      return (await answer.json()) as T
    },
    close: () =>
      new Promise((resolve) => {
        child.on('exit', () => resolve())
        child.kill('SIGTERM')
      }),
  }
}
