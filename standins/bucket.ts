import type { FastifyInstance } from 'fastify'
import { escapeHtml } from './html'
import { withFaults } from './faults'
import { makeServer } from './server'

interface Kept {
  readonly content: Buffer
  readonly at: string
}

/**
 * A store of objects that speaks the calls of the S3 API that Gharry uses: put, get, delete, and list in pages of 3, so
 * that there is more than one.
 */
export function bucketStandIn(key: string): { app: FastifyInstance; objects: ReadonlyMap<string, Kept> } {
  const app = makeServer()
  const objects = new Map<string, Kept>()
  withFaults(app, 'Bucket')
  app.addContentTypeParser('*', { parseAs: 'buffer' }, (_request, body, done) => done(null, body))
  const fault = (code: string): string =>
    `<?xml version="1.0"?><Error><Code>${code}</Code><Message>${code}</Message></Error>`
  app.addHook('preHandler', async (request, reply) => {
    const known = request.headers.authorization?.startsWith(`AWS4-HMAC-SHA256 Credential=${key}/`)
    if (!request.url.startsWith('/admin') && !known)
      return reply.code(403).type('application/xml').send(fault('InvalidAccessKeyId'))
  })
  const nameOf = (params: unknown): string => (params as Record<string, string>)['*'] ?? ''
  app.put('/:bucket/*', (request, reply) => {
    const content = Buffer.isBuffer(request.body) ? request.body : Buffer.alloc(0)
    objects.set(nameOf(request.params), { content, at: new Date().toISOString() })
    return reply.header('etag', '"1"').send()
  })
  app.get('/:bucket/*', (request, reply) => {
    const name = nameOf(request.params)
    if (name === '') return list(request.query as Record<string, string>)
    const kept = objects.get(name)
    if (!kept) return reply.code(404).type('application/xml').send(fault('NoSuchKey'))
    return reply.type('application/octet-stream').send(kept.content)
  })
  app.delete('/:bucket/*', (request, reply) => {
    objects.delete(nameOf(request.params))
    return reply.code(204).send()
  })
  function list(query: Record<string, string>): string {
    const from = query['continuation-token'] ?? ''
    const names = [...objects.keys()].filter((name) => name.startsWith(query.prefix ?? '') && name > from).sort()
    const page = names.slice(0, 3)
    const more = names.length > page.length
    return [
      `<?xml version="1.0"?><ListBucketResult><IsTruncated>${more}</IsTruncated>`,
      more ? `<NextContinuationToken>${escapeHtml(page.at(-1)!)}</NextContinuationToken>` : '',
      ...page.map(
        (name) =>
          `<Contents><Key>${escapeHtml(name)}</Key><LastModified>${objects.get(name)!.at}</LastModified></Contents>`,
      ),
      '</ListBucketResult>',
    ].join('')
  }
  app.get('/:bucket', (request, reply) =>
    reply.type('application/xml').send(list(request.query as Record<string, string>)),
  )
  return { app, objects }
}
