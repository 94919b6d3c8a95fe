import type { VNode } from 'preact'
import type { NextRequest } from 'next/server'
import { type Language, languages, preferredLanguage, type ReadableColours } from '@/core/telling'
import { pageHtml } from '@/ui/customer/html'
import { bytesOf } from './body'

/** The language of a customer's page: the one that was chosen, else what the browser prefers, else that of the customer. */
export function languageAsked(request: NextRequest, usual: Language): Language {
  const chosen = languages.find((language) => language === request.nextUrl.searchParams.get('lang'))
  return chosen ?? preferredLanguage(request.headers.get('accept-language') ?? '', usual)
}

/** A customer's page: whole, without scripts, kept by nobody. */
export const htmlAnswer = (
  body: VNode,
  head: { readonly language: Language; readonly title: string; readonly colours: ReadableColours },
  status = 200,
): Response =>
  new Response(pageHtml(body, head), {
    status,
    headers: { 'content-type': 'text/html; charset=utf-8', 'content-language': head.language, vary: 'accept-language' },
  })

const mostForm = 20_000

/** The fields of a form that a page sent. */
export async function formOf(request: NextRequest): Promise<Readonly<Record<string, string>>> {
  const fields = new URLSearchParams((await bytesOf(request, mostForm)).toString('utf8'))
  return Object.fromEntries(fields)
}
