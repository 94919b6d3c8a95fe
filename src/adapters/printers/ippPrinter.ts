import ipp from 'ipp'
import { failure, reach, statusFailure, type CallResult, type Outside } from '../http'
import type { PrinterClient } from './printer'

/** How statuses of a printer are said (RFC 8011, appendix B). */
const said: Readonly<Record<number, string>> = {
  0x0400: 'The printer does not understand the request.',
  0x0401: 'The printer forbids it.',
  0x0402: 'The printer wants to know who prints: that is not supported.',
  0x0403: 'The printer wants to know who prints: that is not supported.',
  0x0406: 'There is no such printer at this address.',
  0x040a: 'The printer does not print this kind of file.',
  0x0502: 'The printer is out of service.',
  0x0504: 'The printer is out of order: look at it.',
  0x0506: 'The printer takes no jobs now: is there paper in it?',
  0x0507: 'The printer is busy.',
}

/** A printer that speaks the Internet Printing Protocol (RFC 8010, package `ipp`), at `http://…` or `ipp://…`. */
export function ippPrinter(address: string, outside: Outside): PrinterClient {
  const url = address.replace(/^ipp:\/\/([^/:]+)(?=\/|$)/i, 'ipp://$1:631').replace(/^ipp/i, 'http')
  return {
    print: async ({ name, content, type }, begins) => {
      const request = ipp.serialize({
        operation: 'Print-Job',
        'operation-attributes-tag': {
          'attributes-charset': 'utf-8',
          'attributes-natural-language': 'en',
          'printer-uri': url.replace(/^http/, 'ipp'),
          'requesting-user-name': 'Gharry',
          'job-name': name.slice(0, 100),
          'document-format': type,
        },
        data: content,
      })
      await begins()
      const headers = { 'content-type': 'application/ipp' }
      const answer = await reach(outside, url, { method: 'POST', headers, body: request }, 100_000)
      if (!answer.ok) return answer
      return statusFailure(answer) ?? statusIn(answer.text)
    },
  }
}

/** The status of an answer: bytes 3 and 4 (RFC 8010, 3.1.1), which are none that a text changes. */
function statusIn(text: string): CallResult<null> {
  const bytes = Buffer.from(text, 'utf8')
  if (bytes.length < 8) return failure('garbled answer', 'It does not answer as a printer does.')
  const status = bytes.readUInt16BE(2)
  if (status < 0x0100) return { ok: true, body: null }
  const sentence = said[status] ?? `The printer refused it (status ${status.toString(16).padStart(4, '0')}).`
  return failure(status >= 0x0500 ? 'server error' : 'refused', sentence)
}
