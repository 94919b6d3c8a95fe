import type { NextRequest } from 'next/server'
import { drawCustomerPage } from '@/ui/customer/draw'
import { takeCustomerWords } from '@/usecases/tracking/customerWords'
import { trackByLink } from '@/usecases/tracking/trackParcel'
import { theApplication } from '@/app/application'
import { drawAnew, drawnPage } from '@/app/customerPages'
import { customerRoute, formOf, htmlAnswer, languageAsked, sellersPage } from '@/app/customerAnswer'

type Context = { params: Promise<{ token: string }> }

/** What was said of words that were sent: keys of the page's texts. */
const sayings = [
  ...['thanks', 'choose', 'too-long', 'say-it', 'which-day', 'too-many', 'not-found', 'thanks-return', 'which-pieces'],
  ...['too-many-pieces', 'choose-reason', 'bad-photo'],
]

export const GET = customerRoute(async (request: NextRequest, { params }: Context) => {
  const { token } = await params
  const said = sayings.find((key) => key === request.nextUrl.searchParams.get('said'))
  if (said === undefined) {
    const page = await drawnPage(token, (usual) => languageAsked(request, usual))
    return page ? htmlAnswer(page.html, page.language) : sellersPage(request, { page: 'dead' }, 404)
  }
  const view = await trackByLink(await theApplication(), token)
  if (!view) return sellersPage(request, { page: 'dead' }, 404)
  const language = languageAsked(request, view.language)
  return htmlAnswer(drawCustomerPage(view, language, said), language)
})

/** A note or a report of the customer; then the page again, which says what became of it. */
export const POST = customerRoute(async (request: NextRequest, { params }: Context) => {
  const { token } = await params
  const { kind = '', about = '', text = '', day = '' } = await formOf(request)
  const given = { kind: kind === 'report' ? ('report' as const) : ('note' as const), about, text, day }
  const answer = await takeCustomerWords(await theApplication(), token, given)
  drawAnew(token)
  const back = new URLSearchParams(request.nextUrl.searchParams)
  back.set('said', answer.ok ? 'thanks' : answer.sentence)
  return new Response(null, {
    status: 303,
    headers: { location: `/track/${encodeURIComponent(token)}?${back.toString()}` },
  })
})
