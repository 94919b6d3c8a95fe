import { Readable } from 'node:stream'
import type { ReadableStream as NodeStream } from 'node:stream/web'
import { NextResponse, type NextRequest } from 'next/server'
import { receiveFile } from '@/usecases/importFile'
import { guarded, problem } from '../../../answer'
import { theGharry } from '../../../gharry'

/** Takes a file as the bare body and answers what its columns seem to mean. */
export async function POST(request: NextRequest): Promise<NextResponse> {
  return guarded(async () => {
    if (!request.body) return problem(400, 'empty-file', 'The file is empty.')
    const answer = await receiveFile(await theGharry(), Readable.fromWeb(request.body as NodeStream))
    return answer.ok ? NextResponse.json(answer) : problem(409, answer.code, answer.sentence)
  })
}
