import { createServer, type Server, type Socket } from 'node:net'
import type { FastifyInstance } from 'fastify'
import ipp from 'ipp'
import { openBooks, type Books } from './books'
import { escapeHtml, page, table } from './html'
import { makeServer } from './server'

/** A job as the printer printed it, whole or as far as it came. */
export interface PrintedJob {
  readonly at: string
  readonly by: 'raw' | 'ipp'
  readonly name: string
  readonly bytes: number
  readonly whole: boolean
  /** In base64. */
  readonly content: string
}

/** What is wrong with the printers. */
export interface PrinterFaults {
  /** Nobody answers. */
  off: boolean
  /** What is sent is not taken. */
  noPaper: boolean
  /** The next raw job is cut off after so many bytes; 0 is never. */
  cutAfter: number
}

/**
 * Two printers: one at a raw port, which prints whatever it is sent, and one that speaks IPP at `/ipp/print`. Both
 * write down what they printed, and can be off, without paper, or break off in the middle.
 */
export function printersStandIn(file: string): { app: FastifyInstance; raw: Server; books: Books } {
  const app = makeServer()
  const books = openBooks(file)
  const faults: PrinterFaults = { off: false, noPaper: false, cutAfter: 0 }
  let count = books.newest<PrintedJob>('job', 100_000).length
  const printed = (job: Omit<PrintedJob, 'at'>): void =>
    books.put('job', String(++count).padStart(8, '0'), { at: new Date().toISOString(), ...job })
  const open = new Set<Socket>()
  const raw = createServer({ allowHalfOpen: true }, (socket) => {
    open.add(socket)
    socket.on('close', () => open.delete(socket))
    takeRaw(socket, faults, printed)
  })
  app.addContentTypeParser('application/ipp', { parseAs: 'buffer' }, (_request, body, done) => done(null, body))
  app.post('/ipp/print', (request, reply) => {
    const answer = (statusCode: string): Buffer =>
      ipp.serialize({
        version: '2.0',
        statusCode,
        id: 1,
        'operation-attributes-tag': { 'attributes-charset': 'utf-8', 'attributes-natural-language': 'en' },
      })
    const send = (status: string) => reply.type('application/ipp').send(answer(status))
    if (faults.off) return reply.code(503).send()
    if (faults.noPaper) return send('server-error-not-accepting-jobs')
    const body = request.body as Buffer
    const job = ipp.parse(body) as { operation?: string; 'operation-attributes-tag'?: Record<string, string> }
    // The package reads what is to be printed as a text: the bytes are taken from the request itself.
    const at = body.indexOf('%PDF')
    if (job.operation !== 'Print-Job' || at === -1) return send('client-error-document-format-not-supported')
    const content = body.subarray(at)
    printed({
      ...{ by: 'ipp', name: job['operation-attributes-tag']?.['job-name'] ?? '', whole: true },
      ...{ bytes: content.length, content: content.toString('base64') },
    })
    return send('successful-ok')
  })
  app.get('/admin/jobs', () => books.newest<PrintedJob>('job', 1000).map(({ document }) => document))
  app.post('/admin/faults', (request) => Object.assign(faults, request.body))
  app.get('/admin/faults', () => faults)
  app.get('/', (_request, reply) => {
    const rows = books
      .newest<PrintedJob>('job', 100)
      .map(({ document: { at, by, name, bytes, whole } }) => [
        at.slice(0, 19).replace('T', ' '),
        by,
        escapeHtml(name),
        `${bytes} bytes${whole ? '' : ', broken off'}`,
      ])
    return reply.type('text/html').send(page('Printers', table(['Time', 'How', 'Job', 'Size'], rows)))
  })
  app.addHook('onClose', async () => {
    // Those that wait for paper would wait for ever.
    for (const socket of open) socket.destroy()
    await new Promise<void>((resolve) => void raw.close(() => resolve()))
    books.close()
  })
  return { app, raw, books }
}

function takeRaw(socket: Socket, faults: PrinterFaults, printed: (job: Omit<PrintedJob, 'at'>) => void): void {
  socket.on('error', () => undefined)
  if (faults.off) return void socket.resetAndDestroy()
  // Without paper it stops reading, as printers do.
  if (faults.noPaper) return void socket.pause()
  const parts: Buffer[] = []
  let size = 0
  const write = (whole: boolean): void => {
    const content = Buffer.concat(parts)
    printed({ by: 'raw', name: '', bytes: content.length, whole, content: content.toString('base64') })
  }
  socket.on('data', (part) => {
    parts.push(part)
    size += part.length
    if (faults.cutAfter === 0 || size < faults.cutAfter) return
    faults.cutAfter = 0
    write(false)
    socket.resetAndDestroy()
  })
  socket.on('end', () => {
    write(true)
    socket.end()
  })
}
