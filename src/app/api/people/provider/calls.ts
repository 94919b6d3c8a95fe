import { NextResponse, type NextRequest } from 'next/server'
import { guarded } from '@/app/answer'
import { theApplication } from '@/app/application'
import { ownAddress } from '@/app/homeOf'
import { providerCookie } from '@/app/who'
import { beginProvider } from '@/usecases/people/provider'

/**
 * Sends people to the outside provider; what has to be known when they are back goes along in their browser, sealed.
 */
export const GET = (request: NextRequest): Promise<NextResponse> =>
  guarded(async () => {
    const to = ownAddress(request.nextUrl.searchParams.get('to') ?? undefined, '/')
    const begun = await beginProvider(await theApplication(), to)
    return new NextResponse(null, {
      status: 303,
      headers: begun.ok
        ? { location: begun.url, 'set-cookie': providerCookie(begun.kept), 'cache-control': 'no-store' }
        : { location: `/sign-in?why=${begun.code}` },
    })
  })
