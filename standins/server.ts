import Fastify, { type FastifyInstance, type FastifyServerFactory } from 'fastify'

/** A small HTTP server that understands JSON and forms; a factory may put something in front of it. */
export function makeServer(serverFactory?: FastifyServerFactory): FastifyInstance {
  const app = Fastify({
    bodyLimit: 64 * 1024 * 1024,
    forceCloseConnections: true,
    ...(serverFactory ? { serverFactory } : {}),
  })
  app.addContentTypeParser('application/x-www-form-urlencoded', { parseAs: 'string' }, (_request, body, done) =>
    done(null, Object.fromEntries(new URLSearchParams(String(body)))),
  )
  app.setErrorHandler((error: Error & { statusCode?: number; issues?: unknown }, _request, reply) => {
    const status = error.issues ? 422 : (error.statusCode ?? 500)
    void reply.code(status).send({ message: error.message.slice(0, 500) })
  })
  return app
}

/** Listens on loopback; a taken port is said in one sentence. */
export async function listen(app: FastifyInstance, port: number, name: string, variable: string): Promise<string> {
  try {
    return await app.listen({ host: '127.0.0.1', port })
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EADDRINUSE') throw error
    console.error(`${name}: port ${port} is taken. Stop what uses it, or set ${variable} to another port.`)
    process.exit(1)
  }
}
