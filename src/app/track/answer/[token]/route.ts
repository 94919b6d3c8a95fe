import type { NextRequest } from 'next/server'
import { answerByPage, showLetter } from '@/usecases/tracking/letterAnswers'
import { theApplication } from '@/app/application'
import { customerRoute, formOf, sellersPage } from '@/app/customerAnswer'

type Context = { params: Promise<{ token: string }> }

const sayings = ['thanks', 'say-it', 'too-long', 'too-many', 'not-found']

/** Where a buyer answers what was asked by letter. */
export const GET = customerRoute(async (request: NextRequest, { params }: Context) => {
  const letter = await showLetter(await theApplication(), (await params).token)
  if (!letter) return sellersPage(request, { page: 'dead' }, 404)
  const said = sayings.find((key) => key === request.nextUrl.searchParams.get('said'))
  return sellersPage(request, { page: 'letter', letter, said, path: request.nextUrl.pathname }, 200, letter)
})

export const POST = customerRoute(async (request: NextRequest, { params }: Context) => {
  const { token } = await params
  const { text = '' } = await formOf(request)
  const answer = await answerByPage(await theApplication(), token, text)
  const back = new URLSearchParams(request.nextUrl.searchParams)
  back.set('said', answer.ok ? 'thanks' : answer.sentence)
  return new Response(null, {
    status: 303,
    headers: { location: `/track/answer/${encodeURIComponent(token)}?${back.toString()}` },
  })
})
