import { returnPhoto } from '@/usecases/tracking/returns/photo'
import { guarded, problem } from '@/app/answer'
import { theApplication } from '@/app/application'
import { idIn } from '@/app/body'

/** A photograph that a customer has sent, as it was drawn anew. */
export const GET = async (_request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  guarded(async () => {
    const photo = await returnPhoto(await theApplication(), idIn((await params).id))
    if (!photo) return problem(404, 'not-found', 'There is no such picture.')
    return new Response(new Uint8Array(photo.content), { headers: { 'content-type': photo.type } })
  })
