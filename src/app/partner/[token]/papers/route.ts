import { handedPapers } from '@/usecases/dispatch/showHandOver'
import { problem } from '@/app/answer'
import { theApplication } from '@/app/application'

/** Label, slip and customs papers of a shipment, for the people who pack it. */
export async function GET(_request: Request, { params }: { params: Promise<{ token: string }> }): Promise<Response> {
  const papers = await handedPapers(await theApplication(), (await params).token)
  if (!papers) return problem(404, 'not-found', 'There are no papers (any more): the shipment must not be sent.')
  return new Response(new Uint8Array(papers.content), {
    headers: { 'content-type': papers.type, 'cache-control': 'no-store' },
  })
}
