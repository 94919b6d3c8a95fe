import type { NextRequest } from 'next/server'
import { type Language, languages, preferredLanguage } from '@/core/telling'
import { type SellersPage, drawSellersPage } from '@/ui/customer/draw'
import { sellersFace } from '@/usecases/tracking/faces'
import { theApplication } from './application'
import { guarded, problem } from './answer'
import { bytesOf } from './body'
import { guardHeaders, turnedAway } from './edge'

/**
 * The language of a customer's page: the one that was chosen, else what the browser prefers, else that of the customer.
 */
export function languageAsked(request: NextRequest, usual: Language): Language {
  const chosen = languages.find((language) => language === request.nextUrl.searchParams.get('lang'))
  return chosen ?? preferredLanguage(request.headers.get('accept-language') ?? '', usual)
}

/** A customer's page, drawn: whole, without scripts, kept by nobody. */
export const htmlAnswer = (html: string, language: Language, status = 200): Response =>
  new Response(html, {
    status,
    headers: { 'content-type': 'text/html; charset=utf-8', 'content-language': language, vary: 'accept-language' },
  })

/** A page that is about no parcel, in the seller's own face. */
export async function sellersPage(
  request: NextRequest,
  page: SellersPage,
  status = 200,
  of: { readonly channel?: string; readonly language?: Language } = {},
): Promise<Response> {
  const seller = await sellersFace(await theApplication(), of.channel)
  const language = languageAsked(request, of.language ?? 'en')
  return htmlAnswer(drawSellersPage(seller, language, page), language, status)
}

/** Of pages that need no script, and are in no frame. */
const policy = [
  "default-src 'none'",
  "style-src 'unsafe-inline'",
  "img-src 'self'",
  "form-action 'self'",
  "base-uri 'none'",
  "frame-ancestors 'none'",
].join('; ')

/** While nothing is changed, what customers write cannot be taken; pages are shown. */
async function closedNow(request: NextRequest): Promise<Response | null> {
  if (request.method === 'GET' || request.method === 'HEAD') return null
  const gharry = await theApplication().catch(() => null)
  if (!gharry || gharry.readOnly() === null) return null
  return problem(503, 'read-only', 'This cannot be taken in right now. Please try again in some minutes.')
}

type Handler<C> = (request: NextRequest, context: C) => Promise<Response>

/** A route of a customer's page: checked here, as the proxy leaves it out, whose pages have scripts. */
export function customerRoute<C>(work: Handler<C>): Handler<C> {
  return async (request, context) => {
    const { pathname } = request.nextUrl
    const turned = turnedAway(request.method, pathname, request.headers, process.env)
    const response = turned
      ? problem(turned.status, turned.code, turned.sentence)
      : ((await closedNow(request)) ?? (await guarded(() => work(request, context))))
    const secure = (process.env.GHARRY_URL ?? '').startsWith('https:')
    for (const [name, value] of Object.entries(guardHeaders(pathname, secure))) response.headers.set(name, value)
    response.headers.set('content-security-policy', policy)
    return response
  }
}

const mostForm = 20_000

/** The fields of a form that a page sent. */
export async function formOf(request: NextRequest): Promise<Readonly<Record<string, string>>> {
  const fields = new URLSearchParams((await bytesOf(request, mostForm)).toString('utf8'))
  return Object.fromEntries(fields)
}
