import { headers, cookies } from 'next/headers'
import { redirect } from 'next/navigation'
import type { NextRequest } from 'next/server'
import { cache } from 'react'
import type { Permission } from '@/core/people'
import type { Application } from '@/usecases/shared/application'
import { type From, type Person, unlessMay, whoIs } from '@/usecases/people/signedIn'
import { addressBehind } from '@/usecases/tracking/trackParcel'
import { theApplication } from './application'

/*
 * Who asks: by a cookie that no program in the page can read, that is sent to this host alone, and, where people reach
 * Gharry by TLS, never without it (`__Host-`, RFC 6265bis).
 */
const secure = (): boolean => (process.env.GHARRY_URL ?? '').startsWith('https:')
const cookieName = (): string => (secure() ? '__Host-gharry' : 'gharry')
/** As long as a sign-in lasts at most; the server ends it sooner. */
const maxAge = 7 * 24 * 3600

/** What a browser keeps of a sign-in; without a secret, it forgets it. */
export const signInCookie = (secret: string | null): string =>
  `${cookieName()}=${secret ?? ''}; Path=/; HttpOnly; SameSite=Lax; Max-Age=${secret === null ? 0 : maxAge}${secure() ? '; Secure' : ''}`

/** What a browser keeps while its person is at the outside provider. */
export const providerCookie = (kept: string | null): string =>
  `${secure() ? '__Host-' : ''}gharry-provider=${kept ?? ''}; Path=/; HttpOnly; SameSite=Lax; Max-Age=${kept === null ? 0 : 600}${secure() ? '; Secure' : ''}`
export const keptForProvider = (request: NextRequest): string | undefined =>
  request.cookies.get(`${secure() ? '__Host-' : ''}gharry-provider`)?.value

/** What the request's cookie holds. */
export const secretOf = (request: NextRequest): string | undefined => request.cookies.get(cookieName())?.value

/** Where a request comes from, as far as one's own proxies say. */
export const fromOf = ({ settings }: Application, request: NextRequest): From => ({
  address: addressBehind(request.headers.get('x-forwarded-for'), settings.proxies),
  agent: request.headers.get('user-agent') ?? '',
})

/** The site under which the browser has reached Gharry: the edge has let only its own names through. */
export const siteOf = (request: NextRequest): { readonly origin: string } => ({
  origin: request.headers.get('origin') ?? `${secure() ? 'https' : 'http'}://${request.headers.get('host') ?? ''}`,
})

/** Who looks at a page; null when nobody has signed in. It is asked once for each page, however many parts ask. */
export const personHere = cache(async (): Promise<Person | null> =>
  whoIs(await theApplication(), (await cookies()).get(cookieName())?.value),
)

/** Gharry for a page of whoever may see it; who has not signed in is asked to, and who may not is told who may. */
export async function applicationFor(permission: Permission): Promise<Application> {
  const [gharry, person] = await Promise.all([theApplication(), personHere()])
  if (!person) redirect(`/sign-in?to=${encodeURIComponent((await headers()).get('x-path') ?? '/')}`)
  if (unlessMay(person, permission)) redirect(`/not-yours?needs=${permission}`)
  return gharry
}
