import { spawn } from 'node:child_process'
import { mkdtempSync } from 'node:fs'
import { createServer, type AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { cookieOfOwner } from './owner'

export const freePort = (): Promise<number> =>
  new Promise((resolve) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const { port } = server.address() as AddressInfo
      server.close(() => resolve(port))
    })
  })

/** Waits for a server, for 20 s at most. */
export async function whenUp(base: string): Promise<void> {
  for (let i = 0; i < 100; i++) {
    if (
      await fetch(`${base}/api/health`).then(
        (response) => response.ok,
        () => false,
      )
    )
      return
    await new Promise((resolve) => setTimeout(resolve, 200))
  }
  throw new Error(`Nothing answers at ${base}.`)
}

/** Compressed JavaScript that the first load of Desk asks for. */
export async function benchPage(): Promise<{ scripts: number; kilobytes: number }> {
  const port = await freePort()
  const folder = mkdtempSync(join(tmpdir(), 'gharry-page-'))
  const cookie = `gharry=${await cookieOfOwner(folder)}`
  const server = spawn('node', ['node_modules/next/dist/bin/next', 'start', '-p', String(port), '-H', '127.0.0.1'], {
    env: { ...process.env, GHARRY_DATA: folder },
    stdio: 'ignore',
  })
  try {
    const base = `http://127.0.0.1:${port}`
    await whenUp(base)
    const html = await (await fetch(`${base}/desk`, { headers: { cookie } })).text()
    // Browsers of today leave out what is marked noModule; the flight data names the rest of the page's chunks.
    const old = new Set([...html.matchAll(/<script src="([^"]+)" noModule/g)].map((match) => match[1]))
    const sources = new Set(
      [...html.matchAll(/\/_next\/static\/[^"'\\ ]+?\.js/g)]
        .map((match) => match[0])
        .filter((source) => !old.has(source)),
    )
    let bytes = 0
    for (const source of sources)
      bytes += gzipSync(Buffer.from(await (await fetch(base + source)).arrayBuffer())).length
    return { scripts: sources.size, kilobytes: Math.round(bytes / 1000) }
  } finally {
    server.kill()
  }
}
