import { connect, type Socket } from 'node:net'
import { addressOf, failure, type CallResult, type Outside } from '../http'
import type { PrinterClient } from './printer'

/** The port of printers that take what comes. */
export const rawPort = 9100

/**
 * A label printer at a raw port: what is sent is printed, and nothing is answered. Sent is what the printer has taken
 * to its last byte; one that stops taking (no paper, switched off) is waited for as long as calls may take.
 */
export function rawPrinter(host: string, port: number, outside: Outside): PrinterClient {
  return {
    print: async ({ content }, begins) => {
      const found = await addressOf(host, 'printer', outside)
      if (!found.ok) return found
      const socket = await connected(found.body, port, outside.timeoutMs)
      if (socket === null) return failure('unreachable', 'The printer does not answer: is it on, and in the network?')
      await begins()
      return sent(socket, content, outside.timeoutMs)
    },
  }
}

function connected(address: string, port: number, timeoutMs: number): Promise<Socket | null> {
  return new Promise((resolve) => {
    const socket = connect({ host: address, port })
    const give = (found: Socket | null): void => {
      socket.removeAllListeners()
      socket.setTimeout(0)
      if (found === null) socket.destroy()
      // Until somebody listens again, a late error is no reason to end the process.
      else socket.on('error', () => undefined)
      resolve(found)
    }
    socket.setTimeout(timeoutMs, () => give(null))
    socket.once('error', () => give(null))
    socket.once('connect', () => give(socket))
  })
}

function sent(socket: Socket, content: Buffer, timeoutMs: number): Promise<CallResult<null>> {
  return new Promise((resolve) => {
    let whole = false
    const end = (result: CallResult<null>): void => {
      socket.destroy()
      resolve(result)
    }
    const broken = 'The printer broke off in the middle: look whether something was printed.'
    socket.setTimeout(timeoutMs, () =>
      end(failure('time-out', 'The printer takes nothing more: is there paper in it?')),
    )
    socket.once('error', () => end(failure('server error', broken)))
    // It closes its side once it has read all; one that closes before has not.
    socket.once('close', () => end(whole ? { ok: true, body: null } : failure('server error', broken)))
    socket.resume()
    socket.end(content, () => {
      whole = true
    })
  })
}
