import { NextResponse, type NextRequest } from 'next/server'
import { z } from 'zod'
import { sheetLayouts } from '@/core/papers'
import type { Application, Refused } from '@/usecases/shared/application'
import { statusOf } from '@/usecases/shared/refusals'
import type { PrintFile, PrintProfile } from '@/usecases/dispatch/printBatch'
import { guarded, jsonOf, problem } from './answer'
import { idIn } from './body'
import { theApplication } from './application'

/** A station's print profile. */
const profile = z.object({
  layout: z.enum(sheetLayouts.map(({ id }) => id) as [string, ...string[]]).default('thermal'),
  start: z.coerce.number().int().min(1).max(4).default(1),
  format: z.enum(['pdf', 'png', 'zpl']).default('pdf'),
  dpi: z.coerce
    .number()
    .pipe(z.union([z.literal(203), z.literal(300)]))
    .default(203),
  parts: z.enum(['both', 'labels', 'slips']).default('both'),
  sort: z.enum(['batch', 'location', 'service', 'sku', 'number']).default('batch'),
  bench: z.coerce.number().int().min(1).max(50).default(1),
  benches: z.coerce.number().int().min(1).max(50).default(1),
})

/**
 * Makes a print file, marks what is in it as printed, and says where to fetch it: printing changes something, so it is
 * asked for.
 */
export function printing(
  work: (gharry: Application, id: number, profile: PrintProfile) => Promise<PrintFile | Refused | null>,
) {
  return async (request: NextRequest, { params }: { params: Promise<{ id: string }> }): Promise<NextResponse> =>
    guarded(async () => {
      const id = idIn((await params).id)
      const parsed = profile.safeParse((await jsonOf(request)) ?? {})
      if (!parsed.success)
        return problem(
          400,
          'bad-request',
          `${parsed.error.issues[0]!.path.join('.')}: ${parsed.error.issues[0]!.message}`,
        )
      const file = await work(await theApplication(), id, parsed.data)
      if (!file)
        return problem(
          404,
          'nothing-to-print',
          'There is nothing to print: no label is bought here, or its papers are not kept.',
        )
      if ('code' in file) return problem(statusOf[file.code], file.code, file.sentence)
      file.content.destroy()
      return NextResponse.json({ ok: true, file: `/api/dispatch/prints/${file.name}`, pages: file.pages })
    })
}
