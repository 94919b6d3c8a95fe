/** @jsxImportSource preact */
import type { NextRequest } from 'next/server'
import { CustomerPage } from '@/ui/customer/CustomerPage'
import { DeadLinkPage } from '@/ui/customer/OtherPages'
import { sayIn } from '@/ui/customer/words'
import { takeCustomerWords } from '@/usecases/tracking/customerWords'
import { sellersFace } from '@/usecases/tracking/faces'
import { trackByLink } from '@/usecases/tracking/trackParcel'
import { theApplication } from '@/app/application'
import { customerRoute, formOf, htmlAnswer, languageAsked } from '@/app/customerAnswer'

type Context = { params: Promise<{ token: string }> }

/** What was said of words that were sent: keys of the page's texts. */
const sayings = ['thanks', 'choose', 'too-long', 'say-it', 'which-day', 'too-many', 'not-found']

export const GET = customerRoute(async (request: NextRequest, { params }: Context) => {
  const gharry = await theApplication()
  const view = await trackByLink(gharry, (await params).token)
  if (!view) {
    const seller = await sellersFace(gharry)
    const language = languageAsked(request, 'en')
    const head = { language, title: sayIn(language)('dead.title'), colours: seller.colours }
    return htmlAnswer(<DeadLinkPage view={seller} language={language} />, head, 404)
  }
  const language = languageAsked(request, view.language)
  const said = sayings.find((key) => key === request.nextUrl.searchParams.get('said'))
  const head = { language, title: sayIn(language)('title'), colours: view.colours }
  return htmlAnswer(<CustomerPage view={view} language={language} said={said} />, head)
})

/** A note or a report of the customer; then the page again, which says what became of it. */
export const POST = customerRoute(async (request: NextRequest, { params }: Context) => {
  const { token } = await params
  const { kind = '', about = '', text = '', day = '' } = await formOf(request)
  const given = { kind: kind === 'report' ? ('report' as const) : ('note' as const), about, text, day }
  const answer = await takeCustomerWords(await theApplication(), token, given)
  const back = new URLSearchParams(request.nextUrl.searchParams)
  back.set('said', answer.ok ? 'thanks' : answer.sentence)
  return new Response(null, {
    status: 303,
    headers: { location: `/track/${encodeURIComponent(token)}?${back.toString()}` },
  })
})
