import { returnLabelFor } from '@/usecases/tracking/returns/returnPapers'
import { problem } from '@/app/answer'
import { theApplication } from '@/app/application'
import { idIn } from '@/app/body'
import { customerRoute } from '@/app/customerAnswer'

type Context = { params: Promise<{ token: string; id: string }> }

/** The label with which a customer sends something back. */
export const GET = customerRoute(async (_request: Request, { params }: Context) => {
  const { token, id } = await params
  const pdf = await returnLabelFor(await theApplication(), token, idIn(id))
  if (!pdf) return problem(404, 'not-found', 'There is no such label (any more).')
  return new Response(new Uint8Array(pdf), {
    headers: { 'content-type': 'application/pdf', 'content-disposition': 'inline; filename="return-label.pdf"' },
  })
})
