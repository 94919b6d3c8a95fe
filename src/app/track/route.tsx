/** @jsxImportSource preact */
import type { NextRequest } from 'next/server'
import { z } from 'zod'
import { FindPage } from '@/ui/customer/OtherPages'
import { sayIn } from '@/ui/customer/words'
import { sellersFace } from '@/usecases/tracking/faces'
import { addressBehind, findByOrder } from '@/usecases/tracking/trackParcel'
import { theApplication } from '../application'
import { customerRoute, formOf, htmlAnswer, languageAsked } from '../customerAnswer'

const form = z.object({ number: z.string().trim().min(1).max(60), email: z.string().trim().min(3).max(254) })

async function page(request: NextRequest, said: string | undefined, status = 200): Promise<Response> {
  const view = await sellersFace(await theApplication())
  const language = languageAsked(request, 'en')
  const head = { language, title: sayIn(language)('find.title'), colours: view.colours }
  return htmlAnswer(<FindPage view={view} language={language} said={said} />, head, status)
}

export const GET = customerRoute((request: NextRequest) => page(request, undefined))

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
