/*
 * What is checked of every request before anything else looks at it; for the proxy, and for the routes that it leaves
 * out because they take large files. No Node built-ins: the proxy may run anywhere.
 */

export interface Turned {
  readonly status: number
  readonly code: string
  readonly sentence: string
}

interface Heads {
  readonly get: (name: string) => string | null
}

/** Routes that take a file as their bare body; the proxy does not see them, as it would keep a copy of what goes by. */
export const uploadPaths = [
  '/api/intake/files',
  '/api/intake/items/file',
  '/api/ledger/tariffs/file',
  '/api/ledger/balance/invoices',
  '/api/setup/zones',
  '/api/dispatch/stock/file',
  '/api/setup/pictures',
  '/api/intake/items/pictures',
  '/api/tracking/page/logo',
] as const

const loopback = /^(?:127\.0\.0\.1|localhost|\[::1\])(?::\d{1,5})?$/

/** Whether Gharry answers to this name: that of its own address, those of GHARRY_HOSTS, and the machine's own. */
export function isOwnHost(host: string | null, env: Readonly<Record<string, string | undefined>>): boolean {
  if (!host) return false
  const name = host.toLowerCase()
  if (loopback.test(name)) return true
  const own = [
    hostOf(env.GHARRY_URL ?? ''),
    ...(env.GHARRY_HOSTS ?? '')
      .toLowerCase()
      .split(',')
      .map((entry) => entry.trim()),
  ]
  return own.includes(name)
}

/** Why a request is turned away; null when it is not. */
export function turnedAway(
  method: string,
  path: string,
  headers: Heads,
  env: Readonly<Record<string, string | undefined>>,
): Turned | null {
  const host = headers.get('host')
  if (!isOwnHost(host, env))
    return {
      status: 421,
      code: 'other-host',
      sentence:
        'Gharry does not answer under this name: use the address in GHARRY_URL, or add the name to GHARRY_HOSTS.',
    }
  if (method === 'GET' || method === 'HEAD') return null
  const [origin, site, type] = [
    headers.get('origin'),
    headers.get('sec-fetch-site'),
    (headers.get('content-type') ?? '').split(';')[0]!.trim().toLowerCase(),
  ]
  if (
    (origin !== null && hostOf(origin) !== host?.toLowerCase()) ||
    (site !== null && site !== 'same-origin' && site !== 'none')
  )
    return { status: 403, code: 'other-site', sentence: 'Changes are only taken from Gharry’s own pages.' }
  if (!path.startsWith('/api/')) return null
  // A form of another site can send these, and no others.
  const formTypes = ['', 'text/plain', 'application/x-www-form-urlencoded', 'multipart/form-data']
  const upload = uploadPaths.some((own) => path === own)
  const hasBody = headers.get('content-length') !== '0' && headers.get('content-length') !== null
  if (
    upload
      ? type === 'application/x-www-form-urlencoded' || type === 'multipart/form-data'
      : type !== 'application/json' && (hasBody || formTypes.slice(1).includes(type))
  )
    return {
      status: 415,
      code: 'content-type',
      sentence: upload
        ? 'Send the file as the bare body, not as a form.'
        : 'Changes are asked for with a JSON body (content-type: application/json).',
    }
  return null
}

export function hostOf(address: string): string {
  try {
    return new URL(address).host.toLowerCase()
  } catch {
    return ''
  }
}

/** What every answer carries; `secure` when customers and people reach Gharry by TLS. */
export function guardHeaders(path: string, secure: boolean): Readonly<Record<string, string>> {
  return {
    'x-content-type-options': 'nosniff',
    'referrer-policy': 'same-origin',
    'cross-origin-opener-policy': 'same-origin',
    // Letters show the seller's logo, wherever they are read.
    'cross-origin-resource-policy': path.startsWith('/logo/') ? 'cross-origin' : 'same-origin',
    'permissions-policy': 'camera=(self), geolocation=(), microphone=(), payment=(), usb=()',
    ...(secure ? { 'strict-transport-security': 'max-age=31536000' } : {}),
    // Names and addresses are on nearly every page.
    ...(path.startsWith('/_next/') || path.startsWith('/logo/') ? {} : { 'cache-control': 'private, no-store' }),
  }
}
