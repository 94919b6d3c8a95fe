import { createServer, type Server, type Socket } from 'node:net'
import type { FastifyInstance } from 'fastify'

/** What stands on the scale, and how it behaves. */
export interface OnScale {
  value: number
  unit: 'g' | 'kg' | 'lb' | 'oz'
  /** It does not come to rest. */
  jumps: boolean
  off: boolean
}

/**
 * A bench scale behind a bridge: answers `S` with the weight once it is still (SICS, level 0). What stands on it is
 * told by `/admin/scale`.
 */
export function scaleStandIn(app: FastifyInstance): Server {
  const on: OnScale = { value: 0, unit: 'g', jumps: false, off: false }
  app.get('/admin/scale', () => on)
  app.post('/admin/scale', (request) => Object.assign(on, request.body))
  const open = new Set<Socket>()
  const server = createServer((socket) => {
    open.add(socket)
    socket.on('close', () => open.delete(socket))
    socket.on('error', () => undefined)
    if (on.off) return void socket.resetAndDestroy()
    let text = ''
    socket.on('data', (part) => {
      text += part.toString('latin1')
      if (!text.includes('\n')) return
      const asked = text.trim()
      text = ''
      if (asked !== 'S') return void socket.write('ES\r\n')
      // A scale that jumps says nothing until it is still.
      if (!on.jumps) socket.write(`S S ${on.value.toFixed(on.unit === 'g' ? 0 : 3).padStart(10)} ${on.unit}\r\n`)
    })
  })
  app.addHook('onClose', async () => {
    for (const socket of open) socket.destroy()
    await new Promise<void>((resolve) => void server.close(() => resolve()))
  })
  return server
}
