import { Readable } from 'node:stream'
import { problem } from './answer'

/** A PDF as a stream; a sentence when there is nothing to print. */
export function pdfAnswer(stream: Readable | null, name: string): Response {
  if (!stream) return problem(404, 'nothing-to-print', 'Nothing is bought here yet, so there is nothing to print.')
  return new Response(Readable.toWeb(stream) as ReadableStream, { headers: { 'content-type': 'application/pdf', 'content-disposition': `inline; filename="${name}.pdf"`, 'cache-control': 'no-store' } })
}
