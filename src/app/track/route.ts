import type { NextRequest } from 'next/server'
import { z } from 'zod'
import { addressBehind, findByOrder } from '@/usecases/tracking/trackParcel'
import { theApplication } from '../application'
import { customerRoute, formOf, sellersPage } from '../customerAnswer'

const form = z.object({ number: z.string().trim().min(1).max(60), email: z.string().trim().min(3).max(254) })

const page = (request: NextRequest, said?: string, status = 200): Promise<Response> =>
  sellersPage(request, { page: 'find', said }, status)

export const GET = customerRoute((request: NextRequest) => page(request))

/** By order number and e-mail; a wrong pair is told nothing. */
export const POST = customerRoute(async (request: NextRequest) => {
  const parsed = form.safeParse(await formOf(request))
  if (!parsed.success) return page(request, 'incomplete', 422)
  const gharry = await theApplication()
  const from = addressBehind(request.headers.get('x-forwarded-for'), gharry.settings.proxies)
  const answer = await findByOrder(gharry, parsed.data.number, parsed.data.email, from)
  if (answer.ok)
    return new Response(null, {
      status: 303,
      headers: { location: `/track/${answer.token}${request.nextUrl.search}` },
    })
  return page(request, answer.code, answer.code === 'not-found' ? 404 : 429)
})
