import type { FastifyInstance } from 'fastify'
import { z } from 'zod'
import { card, page, table } from './html'

/** Switches for what can go wrong outside; each hits every n-th call, 0 is off. Latency holds for all calls. */
export interface Faults {
  latencyMs: number
  /** The work is done, but the answer never comes. */
  timeOutAfterWork: number
  tooManyCalls: number
  serverError: number
  malformedBody: number
  /** Pages, events or mails are delivered twice. */
  twice: number
  /** A label that the carrier draws cannot be read. */
  badDrawing: number
}

export const faultSchema = z
  .object({
    latencyMs: z.coerce.number().int().min(0).max(60_000),
    timeOutAfterWork: z.coerce.number().int().min(0),
    tooManyCalls: z.coerce.number().int().min(0),
    serverError: z.coerce.number().int().min(0),
    malformedBody: z.coerce.number().int().min(0),
    twice: z.coerce.number().int().min(0),
    badDrawing: z.coerce.number().int().min(0),
  })
  .partial()

const names: Readonly<Record<keyof Faults, string>> = {
  latencyMs: 'Latency in milliseconds',
  timeOutAfterWork: 'No answer after the work was done, every n-th call',
  tooManyCalls: 'Status 429 with retry-after, every n-th call',
  serverError: 'Status 500, every n-th call',
  malformedBody: 'Garbled body, every n-th call',
  twice: 'Delivered twice, every n-th time',
  badDrawing: 'A label that the carrier draws is garbled, every n-th one',
}

export interface FaultSwitches {
  readonly faults: Faults
  /** Whether the switch hits this time; counts the call. */
  readonly hits: (name: Exclude<keyof Faults, 'latencyMs'>) => boolean
}

interface Received {
  at: string
  method: string
  url: string
  key: string
  status: number
  body: unknown
}

/** Adds the switches, and a read-out of what was received, to a stand-in's /api. */
export function withFaults(app: FastifyInstance, title: string): FaultSwitches {
  const faults: Faults = {
    latencyMs: 0,
    timeOutAfterWork: 0,
    tooManyCalls: 0,
    serverError: 0,
    malformedBody: 0,
    twice: 0,
    badDrawing: 0,
  }
  const calls: Record<string, number> = {}
  const received: Received[] = []
  const hits: FaultSwitches['hits'] = (name) => {
    if (faults[name] === 0) return false
    calls[name] = (calls[name] ?? 0) + 1
    return calls[name] % faults[name] === 0
  }
  const isApi = (url: string): boolean => url.startsWith('/api/')

  app.addHook('preHandler', async (request, reply) => {
    if (!isApi(request.url)) return
    if (faults.latencyMs > 0) await new Promise((resolve) => setTimeout(resolve, faults.latencyMs))
    if (hits('tooManyCalls')) return reply.code(429).header('retry-after', '1').send({ message: 'Too many calls.' })
    if (hits('serverError')) return reply.code(500).send({ message: 'Something broke.' })
  })
  app.addHook('onSend', async (request, reply, payload) => {
    if (!isApi(request.url)) return payload
    received.push({
      at: new Date().toISOString(),
      method: request.method,
      url: request.url,
      key: String(request.headers['idempotency-key'] ?? ''),
      status: reply.statusCode,
      body: request.body ?? null,
    })
    if (received.length > 2000) received.shift()
    if (reply.statusCode < 400 && hits('timeOutAfterWork')) {
      // The caller hears nothing: the connection is cut after the work was done.
      request.raw.socket.destroy()
      return ''
    }
    return reply.statusCode < 400 && hits('malformedBody') ? '{"orders": [ <<< not json' : payload
  })

  app.get('/admin/received', () => received)
  app.get('/admin/faults', () => faults)
  app.post('/admin/faults', (request, reply) => {
    Object.assign(faults, faultSchema.parse(request.body))
    return String(request.headers['content-type']).includes('urlencoded') ? reply.redirect('/admin') : faults
  })
  app.get('/admin', (_request, reply) => reply.type('text/html').send(switches(title, faults, received)))
  return { faults, hits }
}

/** The page with the switches, and what was received last. */
function switches(title: string, faults: Faults, received: readonly Received[]): string {
  const fields = (Object.keys(names) as (keyof Faults)[])
    .map((name) => `<label>${names[name]} <input name="${name}" type="number" min="0" value="${faults[name]}"></label>`)
    .join('')
  const rows = received
    .slice(-100)
    .reverse()
    .map((call) => [call.at.slice(11, 19), call.method, call.url, call.key, String(call.status)])
  return page(
    `${title}: switches`,
    card('Faults', `<form method="post" action="/admin/faults">${fields}<button>Set</button></form>`) +
      card('Received, newest first', table(['Time', 'Method', 'Path', 'Key', 'Status'], rows)),
  )
}
