import { NextResponse, type NextRequest } from 'next/server'
import { guarded, refused } from '@/app/answer'
import { theApplication } from '@/app/application'
import { browserCookie } from '../../browserCookie'
import { beginAuthorisation } from '@/usecases/intake/authoriseConnection'

/** Answers where to send the person; their browser keeps a secret of its own until they are back. */
export const POST = (_request: NextRequest, context: { params: Promise<{ id: string }> }): Promise<NextResponse> =>
  guarded(async () => {
    const begun = await beginAuthorisation(await theApplication(), (await context.params).id)
    if (!begun.ok) return refused(begun)
    const response = NextResponse.json({ ok: true, url: begun.url })
    response.cookies.set({ ...browserCookie(), value: begun.browser })
    return response
  })
