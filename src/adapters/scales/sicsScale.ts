import { connect } from 'node:net'
import { addressOf, failure, type CallResult, type Outside } from '../http'

/** The port of scales and their bridges that name none. */
export const scalePort = 4305

/** A scale of a bench. */
export interface ScaleClient {
  /** What stands on it, in grams, once it is still. */
  readonly read: () => Promise<CallResult<number>>
}

const longestAnswer = 200

/**
 * A scale that speaks SICS, level 0, over TCP (the command `S`: the weight once it is still): `S S    1.234 kg`. A
 * scale at a serial port stands behind a bridge that passes both on.
 */
export function sicsScale(host: string, port: number, outside: Outside): ScaleClient {
  return {
    read: async () => {
      const found = await addressOf(host, 'scale', outside)
      if (!found.ok) return found
      const line = await asked(found.body, port, outside.timeoutMs)
      return typeof line === 'string' ? weightIn(line) : line
    },
  }
}

/** Asks for the weight, and gives the first line that comes. */
function asked(host: string, port: number, timeoutMs: number): Promise<string | CallResult<never>> {
  return new Promise((resolve) => {
    const socket = connect({ host, port })
    let text = ''
    let there = false
    const end = (result: string | CallResult<never>): void => {
      socket.destroy()
      resolve(result)
    }
    socket.setTimeout(timeoutMs, () =>
      end(
        failure(
          'time-out',
          there ? 'The scale does not come to rest: let go of the parcel.' : 'The scale does not answer.',
        ),
      ),
    )
    socket.once('error', () => end(failure('unreachable', 'The scale does not answer: is it on, and in the network?')))
    socket.once('close', () => end(failure('garbled answer', 'The scale broke off.')))
    socket.once('connect', () => {
      there = true
      socket.write('S\r\n')
    })
    socket.on('data', (part) => {
      text += part.toString('latin1')
      const line = /^([^\r\n]*)\r?\n/.exec(text)?.[1]
      if (line !== undefined) end(line)
      else if (text.length > longestAnswer) end(failure('garbled answer', 'The scale does not answer as scales do.'))
    })
  })
}

/**
 * What an answer says: `S S` is a weight that is still, `S I` not now, `S +` and `S -` beyond what the scale can weigh.
 */
function weightIn(line: string): CallResult<number> {
  const [name, state = '', value = '', unit = ''] = line.trim().split(/ +/, 4)
  if (name !== 'S') return garbled(line)
  if (state === '+') return failure('refused', 'This is too heavy for the scale.')
  if (state === '-') return failure('refused', 'The scale shows less than nothing: empty it, and set it to zero.')
  if (state === 'I' || state === 'D')
    return failure('refused', 'The scale does not come to rest: let go of the parcel.')
  const grams = state === 'S' && unit in perUnit ? Math.round(Number(value) * perUnit[unit]!) : NaN
  if (value === '' || !Number.isFinite(grams)) return garbled(line)
  if (grams > 0) return { ok: true, body: grams }
  return failure(
    'refused',
    grams < 0 ? 'The scale shows less than nothing: empty it, and set it to zero.' : 'Nothing stands on the scale.',
  )
}

const garbled = (line: string): CallResult<never> =>
  failure('garbled answer', `The scale answered “${line.slice(0, 40)}”, which is no weight.`)

/**
 * Grams; pound and ounce as defined in 1959. What a scale shows is rounded to whole grams: it is a reading, nothing
 * typed.
 */
const perUnit: Readonly<Record<string, number>> = { g: 1, kg: 1000, lb: 453.592_37, oz: 28.349_523_125 }
