import { NextResponse, type NextRequest } from 'next/server'
import { guarded } from '@/app/answer'
import { theApplication } from '@/app/application'
import { authorisationCallback, finishAuthorisation } from '@/usecases/intake/authoriseConnection'
import { browserCookie } from '../browserCookie'

/** Where people come back to from the other side. The answer is a redirect: code and state stay in no history. */
export const GET = (request: NextRequest): Promise<NextResponse> =>
  guarded(async () => {
    const gharry = await theApplication()
    const { name, path } = browserCookie()
    const returned = new URL(`${gharry.settings.publicUrl}${authorisationCallback}${request.nextUrl.search}`)
    const { connection, result } = await finishAuthorisation(gharry, returned, request.cookies.get(name)?.value)
    const query = new URLSearchParams({ ...(connection ? { open: connection } : {}), authorised: result })
    const response = new NextResponse(null, {
      status: 303,
      headers: { location: `/intake/connections?${query.toString()}`, 'cache-control': 'no-store' },
    })
    response.cookies.delete({ name, path })
    return response
  })
