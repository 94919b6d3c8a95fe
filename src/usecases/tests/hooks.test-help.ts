import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { NextRequest } from 'next/server'
import type { Application } from '../shared/application'

/** The real route for messages behind a plain server, as the framework would call it. */
export async function withHooks(
  gharry: Application,
): Promise<{ url: (id: string) => string; close: () => Promise<void> }> {
  ;(globalThis as { gharryOpen?: Promise<Application> }).gharryOpen = Promise.resolve(gharry)
  const { POST } = await import('@/app/api/hooks/[id]/calls')
  const server = createServer((incoming, outgoing) => {
    const chunks: Buffer[] = []
    incoming.on('data', (chunk: Buffer) => chunks.push(chunk))
    incoming.on('end', () => {
      const id = incoming.url!.split('/').at(-1)!
      const request = new NextRequest(`http://gharry.example${incoming.url}`, {
        method: 'POST',
        headers: incoming.headers as Record<string, string>,
        body: Buffer.concat(chunks),
      })
      void POST(request, { params: Promise.resolve({ id }) }).then(async (answer) => {
        outgoing.writeHead(answer.status, { 'content-type': 'application/json' })
        outgoing.end(await answer.text())
      })
    })
  })
  await new Promise<void>((resolve) => void server.listen(0, '127.0.0.1', resolve))
  const { port } = server.address() as AddressInfo
  return {
    url: (id) => `http://127.0.0.1:${port}/api/hooks/${id}`,
    close: () => new Promise((resolve) => void server.close(() => resolve())),
  }
}
