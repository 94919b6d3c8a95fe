/** @jsxImportSource preact */
import type { NextRequest } from 'next/server'
import { StopPage } from '@/ui/customer/OtherPages'
import { sayIn } from '@/ui/customer/words'
import { stopLetters } from '@/usecases/tracking/customerWords'
import { sellersFace } from '@/usecases/tracking/faces'
import { theApplication } from '@/app/application'
import { customerRoute, htmlAnswer, languageAsked } from '@/app/customerAnswer'

type Context = { params: Promise<{ token: string }> }

async function page(request: NextRequest, done: boolean): Promise<Response> {
  const view = await sellersFace(await theApplication())
  const language = languageAsked(request, 'en')
  const head = { language, title: sayIn(language)('stop.title'), colours: view.colours }
  const action = `${request.nextUrl.pathname}?lang=${language}`
  return htmlAnswer(<StopPage view={view} language={language} done={done} action={action} />, head)
}

/** A link is opened by many programs that only look: nothing ends before the button is pressed. */
export const GET = customerRoute((request: NextRequest) => page(request, false))

/** Pressed, or sent by a mailbox in one click (RFC 8058). What was no link says the same. */
export const POST = customerRoute(async (request: NextRequest, { params }: Context) => {
  await stopLetters(await theApplication(), (await params).token)
  return page(request, true)
})
