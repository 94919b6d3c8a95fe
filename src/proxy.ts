import { NextResponse, type NextRequest } from 'next/server'

/**
 * Before every page and call: a content security policy with a fresh nonce, and no changes on behalf of other sites.
 */
export function proxy(request: NextRequest): NextResponse {
  const origin = request.headers.get('origin')
  if (request.method !== 'GET' && request.method !== 'HEAD' && origin !== null && hostOf(origin) !== request.headers.get('host'))
    return NextResponse.json({ code: 'other-site', sentence: 'Changes are only taken from Gharry’s own pages.' }, { status: 403 })

  const nonce = btoa(crypto.randomUUID())
  const development = process.env.NODE_ENV === 'development'
  const policy = [
    "default-src 'self'", `script-src 'self' 'nonce-${nonce}' 'strict-dynamic'${development ? " 'unsafe-eval'" : ''}`, "style-src 'self' 'unsafe-inline'", "img-src 'self' data: blob:", "font-src 'self' data:",
    "connect-src 'self'", "worker-src 'self' blob:", "object-src 'none'", "base-uri 'self'", "form-action 'self'", "frame-ancestors 'none'",
  ].join('; ')
  const headers = new Headers(request.headers)
  headers.set('x-nonce', nonce)
  headers.set('content-security-policy', policy)
  const response = NextResponse.next({ request: { headers } })
  response.headers.set('content-security-policy', policy)
  response.headers.set('x-content-type-options', 'nosniff')
  response.headers.set('referrer-policy', 'same-origin')
  return response
}

function hostOf(origin: string): string {
  try {
    return new URL(origin).host
  } catch {
    return ''
  }
}

export const config = { matcher: ['/((?!_next/static|_next/image|favicon.ico).*)'] }
