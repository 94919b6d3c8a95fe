import { NextResponse, type NextRequest } from 'next/server'
import { guardHeaders, turnedAway } from './app/edge'

/**
 * Before every page and call: only under Gharry's own names, no changes on behalf of other sites, and a content
 * security policy with a fresh nonce. Routes that take large files are left out of the matcher, as the framework would
 * keep a copy of all that goes by here, and cut it; they make the same checks themselves (`fileAnswer.ts`).
 */
export function proxy(request: NextRequest): NextResponse {
  const path = request.nextUrl.pathname
  const secure = (process.env.GHARRY_URL ?? '').startsWith('https:')
  const turned = turnedAway(request.method, path, request.headers, process.env)
  if (turned)
    return NextResponse.json(
      { code: turned.code, sentence: turned.sentence },
      { status: turned.status, headers: guardHeaders(path, secure) },
    )

  const nonce = btoa(crypto.randomUUID())
  const development = process.env.NODE_ENV === 'development'
  const policy = [
    "default-src 'self'",
    // WebAssembly is compiled, and nothing else: the camera reads codes with it.
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic' 'wasm-unsafe-eval'${development ? " 'unsafe-eval'" : ''}`,
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data: blob:",
    "font-src 'self' data:",
    "connect-src 'self'",
    "worker-src 'self' blob:",
    "object-src 'none'",
    "base-uri 'self'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join('; ')
  const headers = new Headers(request.headers)
  headers.set('x-nonce', nonce)
  // Where to come back to after signing in.
  headers.set('x-path', path + request.nextUrl.search)
  headers.set('content-security-policy', policy)
  const response = NextResponse.next({ request: { headers } })
  response.headers.set('content-security-policy', policy)
  for (const [name, value] of Object.entries(guardHeaders(path, secure))) response.headers.set(name, value)
  return response
}

// The framework reads this when it builds, so it names the paths of `uploadPaths` once more; a test holds both
// together.
export const config = {
  matcher: [
    '/((?!track/|track$|logo/|_next/static|_next/image|favicon.ico|api/intake/files|api/intake/items/file|api/ledger/tariffs/file|api/ledger/balance/invoices|api/setup/zones|api/dispatch/stock/file|api/setup/pictures|api/intake/items/pictures|api/tracking/page/logo).*)',
  ],
}
