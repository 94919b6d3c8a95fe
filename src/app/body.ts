import type { NextRequest } from 'next/server'

/** Input that cannot be used: what is wrong with it, and the status that says so. */
export class BadInput extends Error {
  constructor(
    readonly status: 400 | 404 | 413,
    readonly code: string,
    sentence: string,
  ) {
    super(sentence)
  }
}

/** The number in an address; what is no plain whole number names nothing. */
export function idIn(text: string | undefined): number {
  if (text === undefined || !/^\d{1,15}$/.test(text))
    throw new BadInput(404, 'not-found', 'There is no such thing (any more).')
  return Number(text)
}

const megabytes = (bytes: number): string =>
  bytes >= 1_000_000 ? `${Math.floor(bytes / 1_000_000)} MB` : `${Math.floor(bytes / 1000)} kB`
const tooLarge = (most: number): BadInput =>
  new BadInput(413, 'too-large', `This takes at most ${megabytes(most)}: send less at once.`)

/**
 * The chunks of a request's body, as far as `most` bytes. What comes is held to what was announced: a body that is cut
 * is not taken for a whole one.
 */
export async function* chunksOf(request: NextRequest, most: number): AsyncGenerator<Buffer> {
  const length = request.headers.get('content-length')
  const announced = length === null ? null : Number(length)
  if (announced !== null && announced > most) throw tooLarge(most)
  let came = 0
  for await (const chunk of (request.body ?? []) as unknown as AsyncIterable<Uint8Array>) {
    came += chunk.length
    if (came > most) throw tooLarge(most)
    yield Buffer.from(chunk.buffer, chunk.byteOffset, chunk.byteLength)
  }
  if (announced !== null && came !== announced)
    throw new BadInput(
      400,
      'cut-off',
      `Only ${came.toLocaleString('en')} of ${announced.toLocaleString('en')} bytes came: send it again.`,
    )
}

export async function bytesOf(request: NextRequest, most: number): Promise<Buffer> {
  const chunks: Buffer[] = []
  for await (const chunk of chunksOf(request, most)) chunks.push(chunk)
  return Buffer.concat(chunks)
}
