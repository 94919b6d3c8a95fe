import { type ChildProcess, execFileSync, spawn } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { e2ePorts } from './ports'

/** How processes are started, as everywhere: the words after `node`. */
interface Programs {
  readonly worker: readonly string[]
  readonly server: (env: NodeJS.ProcessEnv) => readonly string[]
}

/** A Gharry with a worker on an empty data folder, beside the demo's stand-ins; with settings of its own. */
export async function ownGharry(more: Readonly<Record<string, string>> = {}): Promise<{
  readonly url: string
  readonly ownerLink: string
  readonly close: () => Promise<void>
}> {
  const port = e2ePorts.GHARRY_PORT + 40
  const url = `http://127.0.0.1:${port}`
  const folder = mkdtempSync(join(tmpdir(), 'gharry-own-'))
  const env = {
    ...process.env,
    ...Object.fromEntries(Object.entries(e2ePorts).map(([name, value]) => [name, String(value)])),
    GHARRY_DATA: folder,
    GHARRY_URL: url,
    GHARRY_PRIVATE_ADDRESSES: 'yes',
    GHARRY_STANDINS: `http://127.0.0.1:${e2ePorts.GHARRY_DIRECTORY_PORT}`,
    GHARRY_LOG: 'warn',
    NEXT_TELEMETRY_DISABLED: '1',
    ...more,
  }
  const { server, worker } = (await import(
    pathToFileURL(join(process.cwd(), 'scripts/processes.mjs')).href
  )) as Programs
  const run = (args: readonly string[]): ChildProcess => spawn('node', args, { env, stdio: 'inherit' })
  const children = [run(server({ ...env, GHARRY_PORT: String(port) })), run(worker)]
  for (let tries = 0; tries < 300; tries++) {
    if (
      await fetch(`${url}/api/health`).then(
        ({ ok }) => ok,
        () => false,
      )
    )
      break
    await new Promise((resolve) => setTimeout(resolve, 100))
  }
  const gharry = ['scripts/run.mjs', 'cli/gharry.ts', 'owner']
  const ownerLink = execFileSync('node', gharry, { env, encoding: 'utf8' }).trim()
  return {
    url,
    ownerLink,
    close: async () => {
      await Promise.all(
        children.map((child) => {
          const ended = new Promise((resolve) => child.on('exit', resolve))
          child.kill('SIGTERM')
          // A server waits for the pages that are still open; nobody waits for them here.
          const late = setTimeout(() => child.kill('SIGKILL'), 8000)
          return ended.then(() => clearTimeout(late))
        }),
      )
      rmSync(folder, { recursive: true, force: true })
    },
  }
}
