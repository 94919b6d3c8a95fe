import { handedPapers } from '@/usecases/dispatch/showHandOver'
import { problem } from '@/app/answer'
import { theApplication } from '@/app/application'

/** Label, slip and customs papers of a shipment, for the people who pack it. */
export async function GET(_request: Request, { params }: { params: Promise<{ token: string }> }): Promise<Response> {
  const file = await handedPapers(await theApplication(), (await params).token)
  if (!file) return problem(404, 'not-found', 'There are no papers (any more): the shipment must not be sent.')
  return new Response(new Uint8Array(file), {
    headers: { 'content-type': 'application/pdf', 'cache-control': 'no-store' },
  })
}
