import { NextResponse, type NextRequest } from 'next/server'
import { guarded } from '@/app/answer'
import { theApplication } from '@/app/application'
import { fromOf, keptForProvider, providerCookie, signInCookie } from '@/app/who'
import { finishProvider } from '@/usecases/people/provider'

/** Where people come back to from the outside provider. The answer is a redirect: code and state stay in no history. */
export const GET = (request: NextRequest): Promise<NextResponse> =>
  guarded(async () => {
    const gharry = await theApplication()
    const answer = await finishProvider(
      gharry,
      request.nextUrl.search,
      keptForProvider(request),
      fromOf(gharry, request),
    )
    const headers = new Headers({
      location: answer.ok ? answer.to : `/sign-in?why=${answer.code}`,
      'cache-control': 'no-store',
    })
    headers.append('set-cookie', providerCookie(null))
    if (answer.ok) headers.append('set-cookie', signInCookie(answer.cookie))
    return new NextResponse(null, { status: 303, headers })
  })
