import { showLogo } from '@/usecases/tracking/faces'
import { problem } from '@/app/answer'
import { theApplication } from '@/app/application'
import { customerRoute } from '@/app/customerAnswer'

/** The seller's logo, as it was drawn anew when it was taken in. */
export const GET = customerRoute(async (_request: Request, { params }: { params: Promise<{ id: string }> }) => {
  const { id } = await params
  const logo = /^[\w-]{20,64}$/.test(id) ? await showLogo(await theApplication(), id) : undefined
  if (!logo) return problem(404, 'not-found', 'There is no such picture.')
  // Its name is made of what is in it, so it never changes.
  return new Response(new Uint8Array(logo.content), {
    headers: { 'content-type': logo.type, 'cache-control': 'public, max-age=31536000, immutable' },
  })
})
