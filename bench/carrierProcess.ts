import { spawn } from 'node:child_process'
import { demoCarriers } from '../demo/carriers'

/** The six carriers of the demo in a process of their own. */
export interface CarrierProcess {
  readonly urls: ReadonlyMap<string, string>
  readonly token: string
  readonly faults: (carriers: readonly string[], faults: object) => Promise<void>
  readonly close: () => Promise<void>
}

const firstPort = 4741

/** Starts them; their books are in the folder. */
export async function carrierProcess(folder: string): Promise<CarrierProcess> {
  const ports = new Map(demoCarriers.map(({ id }, i) => [id, firstPort + i]))
  const urls = new Map([...ports].map(([id, port]) => [id, `http://127.0.0.1:${port}`]))
  const token = 'bench-token'
  const child = spawn('node', ['scripts/run.mjs', 'standins/start.ts', 'carriers'], {
    env: {
      ...process.env,
      ...{ GHARRY_DATA: folder, GHARRY_CARRIER_TOKEN: token, NODE_ENV: 'production' },
      ...Object.fromEntries([...ports].map(([id, port]) => [`GHARRY_${id.toUpperCase()}_PORT`, String(port)])),
    },
    stdio: ['ignore', 'ignore', 'inherit'],
  })
  const isUp = (url: string): Promise<boolean> =>
    fetch(`${url}/admin/faults`).then(
      ({ ok }) => ok,
      () => false,
    )
  for (let tries = 0; !(await Promise.all([...urls.values()].map(isUp))).every(Boolean); tries++) {
    if (tries > 300 || child.exitCode !== null) throw new Error('The carriers did not start.')
    await new Promise((resolve) => setTimeout(resolve, 100))
  }
  return {
    urls,
    token,
    faults: async (carriers, faults) => {
      for (const id of carriers)
        await fetch(`${urls.get(id)!}/admin/faults`, {
          ...{ method: 'POST', headers: { 'content-type': 'application/json' } },
          body: JSON.stringify(faults),
        })
    },
    close: () =>
      new Promise((resolve) => {
        child.on('exit', () => resolve())
        child.kill('SIGTERM')
      }),
  }
}
