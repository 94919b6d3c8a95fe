import type { NextRequest } from 'next/server'
import { drawCustomerPage } from '@/ui/customer/draw'
import type { TypedReturn } from '@/ui/customer/Returns'
import type { Application } from '@/usecases/shared/application'
import { askReturn } from '@/usecases/tracking/returns/askReturn'
import { takePhoto } from '@/usecases/tracking/returns/photo'
import { trackByLink } from '@/usecases/tracking/trackParcel'
import { theApplication } from '@/app/application'
import { bytesOf } from '@/app/body'
import { drawAnew } from '@/app/customerPages'
import { customerRoute, htmlAnswer, languageAsked } from '@/app/customerAnswer'

/** A photograph, and the fields beside it. */
const mostForm = 9_000_000

/** Whoever comes back to this address wants the page. */
export const GET = customerRoute(async (request: NextRequest, { params }: { params: Promise<{ token: string }> }) => {
  const location = `/track/${encodeURIComponent((await params).token)}${request.nextUrl.search}`
  return new Response(null, { status: 303, headers: { location } })
})

/**
 * A customer asks to send something back: the page again, which says what became of it; what was wrong keeps what was
 * typed.
 */
export const POST = customerRoute(async (request: NextRequest, { params }: { params: Promise<{ token: string }> }) => {
  const { token } = await params
  const gharry = await theApplication()
  // What is too large is a photograph; the words that came with it are not read.
  const typed = await typedIn(request).catch(() => null)
  const said = typed ? await asked(gharry, token, typed) : 'bad-photo'
  drawAnew(token)
  const view = said === 'thanks-return' ? null : await trackByLink(gharry, token)
  if (view) {
    const language = languageAsked(request, view.language)
    return htmlAnswer(drawCustomerPage(view, language, said, typed ?? nothing), language, 422)
  }
  const back = new URLSearchParams(request.nextUrl.searchParams)
  back.set('said', said)
  return new Response(null, {
    status: 303,
    headers: { location: `/track/${encodeURIComponent(token)}?${back.toString()}` },
  })
})

const nothing: TypedReturn = { pieces: [], reason: '', words: '' }

/** What the form says, and the photograph with it. */
async function typedIn(request: NextRequest): Promise<TypedReturn & { readonly photo: Buffer | null }> {
  const type = request.headers.get('content-type') ?? ''
  const bytes = await bytesOf(request, mostForm)
  const form = await new Response(new Uint8Array(bytes), { headers: { 'content-type': type } })
    .formData()
    .catch(() => new FormData())
  const text = (name: string): string => {
    const value = form.get(name)
    return typeof value === 'string' ? value : ''
  }
  const pieces = [...form.keys()].flatMap((key) => {
    const item = /^item-(\d{1,5})$/.exec(key)?.[1]
    const quantity = /^\d{1,6}$/.test(text(key)) ? Number(text(key)) : 0
    return item === undefined || quantity === 0 ? [] : [{ item: Number(item), quantity }]
  })
  const file = form.get('photo')
  const photo = file instanceof File && file.size > 0 ? Buffer.from(await file.arrayBuffer()) : null
  return { pieces, reason: text('reason'), words: text('words'), photo }
}

async function asked(
  gharry: Application,
  token: string,
  { photo: sent, ...typed }: Awaited<ReturnType<typeof typedIn>>,
): Promise<string> {
  const photo = sent && (await takePhoto(sent))
  if (sent && !photo) return 'bad-photo'
  const answer = await askReturn(gharry, token, { ...typed, photo })
  return answer.ok ? 'thanks-return' : answer.sentence
}
