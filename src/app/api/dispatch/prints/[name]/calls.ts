import { Readable } from 'node:stream'
import type { NextRequest } from 'next/server'
import { openPrint } from '@/usecases/dispatch/printBatch'
import { problem } from '@/app/answer'
import { theApplication } from '@/app/application'

/** A print file that was made; it is kept for an hour. */
export async function GET(_request: NextRequest, { params }: { params: Promise<{ name: string }> }): Promise<Response> {
  const file = await openPrint(await theApplication(), (await params).name)
  if (!file) return problem(404, 'not-found', 'This print file is not kept any more: print again.')
  return new Response(Readable.toWeb(file.content) as ReadableStream, {
    headers: {
      'content-type': file.type,
      'content-disposition': `inline; filename="${file.name}"`,
      'cache-control': 'no-store',
    },
  })
}
