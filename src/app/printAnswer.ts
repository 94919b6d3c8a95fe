import { Readable } from 'node:stream'
import type { NextRequest } from 'next/server'
import { z } from 'zod'
import { sheetLayouts } from '@/core/papers'
import type { Gharry } from '@/usecases/gharry'
import type { PrintFile, PrintProfile } from '@/usecases/printBatch'
import { problem } from './answer'
import { theGharry } from './gharry'

/** A station's print profile as it stands in an address. */
const profile = z.object({
  layout: z.enum(sheetLayouts.map(({ id }) => id) as [string, ...string[]]).default('thermal'), start: z.coerce.number().int().min(1).max(4).default(1), format: z.enum(['pdf', 'png', 'zpl']).default('pdf'),
  dpi: z.coerce.number().pipe(z.union([z.literal(203), z.literal(300)])).default(203), parts: z.enum(['both', 'labels', 'slips']).default('both'), sort: z.enum(['batch', 'location', 'service', 'sku', 'number']).default('batch'),
})

/** A print file as a stream; a sentence when there is nothing to print. */
export function printing(name: string, work: (gharry: Gharry, id: number, profile: PrintProfile) => Promise<PrintFile | null>) {
  return async (request: NextRequest, { params }: { params: Promise<{ id: string }> }): Promise<Response> => {
    const id = Number((await params).id)
    const parsed = profile.safeParse(Object.fromEntries(request.nextUrl.searchParams))
    if (!parsed.success) return problem(400, 'bad-query', `${parsed.error.issues[0]!.path.join('.')}: ${parsed.error.issues[0]!.message}`)
    const file = await work(await theGharry(), id, parsed.data)
    if (!file) return problem(404, 'nothing-to-print', 'Nothing is bought here yet, so there is nothing to print.')
    return new Response(Readable.toWeb(file.content) as ReadableStream, { headers: { 'content-type': file.type, 'content-disposition': `inline; filename="${name}-${id}.${file.extension}"`, 'cache-control': 'no-store' } })
  }
}
