import { spawn } from 'node:child_process'
import { createHmac } from 'node:crypto'
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http'
import type { AddressInfo } from 'node:net'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import { addEdition, addWorld } from '@/data'
import { saveConnection } from '@/usecases/intake/connections'
import { receiveMessage } from '@/usecases/intake/messages'
import { openApplication } from '@/usecases/shared/application'
import { demoOrders } from '../demo/orders'
import { asQuillOrder, quillCredentials } from '../demo/quillOrders'
import { demoRulebook } from '../demo/rulebook'
import { demoWorld } from '../demo/world'

/** How a thousand messages went that came evenly within ten seconds. */
export interface MessageFigures {
  /** Milliseconds until the sender had its answer: the median, and what 95 of 100 stayed below. */
  readonly median: number
  readonly p95: number
  /** Seconds from the first message until the last order was decided. */
  readonly decided: number
  readonly orders: number
  /** The same messages to a server that writes each into a table and does nothing else. */
  readonly peer: { readonly median: number; readonly p95: number }
}

const count = 1000
const withinMs = 10_000

/**
 * 1,000 signed messages in 10 s, answered here, worked on by the real worker process; and a peer that only keeps them.
 */
export async function benchMessages(): Promise<MessageFigures> {
  const folder = mkdtempSync(join(tmpdir(), 'gharry-bench-'))
  const env = { GHARRY_DATA: folder, GHARRY_LOG: 'silent', GHARRY_PRIVATE_ADDRESSES: 'yes' }
  const gharry = await openApplication(env)
  const at = gharry.now().toISOString()
  await addWorld(gharry.db, demoWorld, at)
  await addEdition(gharry.db, demoRulebook, '', 'bench', at)
  await saveConnection(gharry, null, {
    ...{ role: 'channel', kind: 'pushing-market', name: 'Quillmart', on: true },
    settings: { address: 'http://127.0.0.1:9', ...quillCredentials },
  })
  const bodies = [...demoOrders('small', 7, at.slice(0, 10))].slice(0, count).map((order, i) => {
    const asked = asQuillOrder(order, i)
    return JSON.stringify({ event: `event-${i}`, about: asked.id, order: asked })
  })
  const worker = spawn('node', ['scripts/run.mjs', 'cli/worker.ts'], {
    env: { ...process.env, ...env },
    stdio: 'ignore',
  })
  // The worker has started when it has opened the books; that is not part of the time.
  await pause(3000)
  const began = performance.now()
  const times = await send(bodies, async (request, body) => {
    const header = (name: string): string | null => {
      const value = request.headers[name]
      return typeof value === 'string' ? value : null
    }
    return (await receiveMessage(gharry, 'quillmart', { header, body })).status
  })
  const waiting = (): Promise<unknown> => gharry.db('messages').where({ state: 'waiting' }).first('id')
  while (await waiting()) await pause(20)
  const decided = (performance.now() - began) / 1000
  const [{ orders }] = (await gharry.db('orders').count({ orders: '*' })) as [{ orders: number }]
  worker.kill('SIGTERM')
  await new Promise((resolve) => worker.once('exit', resolve))
  await gharry.close()

  const plain = new Database(join(folder, 'peer.db'))
  plain.pragma('journal_mode = WAL')
  plain.exec('CREATE TABLE messages (id INTEGER PRIMARY KEY, body TEXT)')
  const insert = plain.prepare('INSERT INTO messages (body) VALUES (?)')
  const peer = await send(bodies, (_request, body) => {
    insert.run(body.toString('utf8'))
    return Promise.resolve(202)
  })
  plain.close()
  rmSync(folder, { recursive: true })
  return { ...spread(times), decided: Number(decided.toFixed(1)), orders, peer: spread(peer) }
}

const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms))
const spread = (times: readonly number[]): { median: number; p95: number } => {
  const sorted = [...times].sort((a, b) => a - b)
  const at = (share: number): number => Number((sorted[Math.floor(sorted.length * share)] ?? 0).toFixed(1))
  return { median: at(0.5), p95: at(0.95) }
}

/** Sends all bodies evenly over the ten seconds to a server that `answer`s; gives the milliseconds of each. */
async function send(
  bodies: readonly string[],
  answer: (request: IncomingMessage, body: Buffer) => Promise<number>,
): Promise<number[]> {
  const server = createServer((request: IncomingMessage, response: ServerResponse) => {
    const chunks: Buffer[] = []
    request.on('data', (chunk: Buffer) => chunks.push(chunk))
    request.on(
      'end',
      () => void answer(request, Buffer.concat(chunks)).then((status) => response.writeHead(status).end()),
    )
  })
  await new Promise<void>((resolve) => void server.listen(0, '127.0.0.1', resolve))
  const url = `http://127.0.0.1:${(server.address() as AddressInfo).port}/`
  const began = performance.now()
  const times = await Promise.all(
    bodies.map(async (body, i) => {
      await pause((i * withinMs) / bodies.length)
      const stamp = String(Math.floor(Date.now() / 1000))
      const signed = createHmac('sha256', quillCredentials.signingSecret).update(`${stamp}.${body}`).digest('hex')
      const from = performance.now()
      const { status } = await fetch(url, {
        method: 'POST',
        headers: { 'message-timestamp': stamp, 'message-signature': `v1=${signed}` },
        body,
      })
      if (status !== 202) throw new Error(`A message was answered with ${status}.`)
      return performance.now() - from
    }),
  )
  if (performance.now() - began > withinMs * 2) throw new Error('The messages could not be sent in time.')
  server.close()
  return times
}
