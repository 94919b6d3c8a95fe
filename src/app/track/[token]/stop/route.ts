import type { NextRequest } from 'next/server'
import { stopLetters } from '@/usecases/tracking/customerWords'
import { theApplication } from '@/app/application'
import { customerRoute, sellersPage } from '@/app/customerAnswer'

type Context = { params: Promise<{ token: string }> }

const page = (request: NextRequest, done: boolean): Promise<Response> =>
  sellersPage(request, { page: 'stop', done, path: request.nextUrl.pathname })

/** A link is opened by many programs that only look: nothing ends before the button is pressed. */
export const GET = customerRoute((request: NextRequest) => page(request, false))

/** Pressed, or sent by a mailbox in one click (RFC 8058). What was no link says the same. */
export const POST = customerRoute(async (request: NextRequest, { params }: Context) => {
  await stopLetters(await theApplication(), (await params).token)
  return page(request, true)
})
