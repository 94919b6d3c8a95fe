import { config } from '../proxy'
import { guardHeaders, isOwnHost, turnedAway, uploadPaths } from './edge'

const env = { GHARRY_URL: 'https://gharry.example', GHARRY_HOSTS: 'desk.example:8443, 10.0.0.5:4600' }
const heads = (values: Record<string, string>): { get: (name: string) => string | null } => ({
  get: (name) => values[name] ?? null,
})
const ask = (method: string, path: string, values: Record<string, string> = {}) =>
  turnedAway(method, path, heads({ host: 'gharry.example', ...values }), env)

test('the proxy sees every path but those that take files, and these are the ones that check for themselves', () => {
  const seen = new RegExp(`^${config.matcher[0]}$`)
  for (const path of uploadPaths) expect([path, seen.test(path)]).toEqual([path, false])
  // Customers' pages make the same checks themselves.
  for (const path of ['/track', '/track/x', '/logo/x']) expect([path, seen.test(path)]).toEqual([path, false])
  for (const path of ['/tracking', '/tracking/told', '/trackers']) expect([path, seen.test(path)]).toEqual([path, true])
  for (const path of [
    '/',
    '/desk',
    '/api/line',
    '/api/intake/imports',
    '/api/ledger/balance',
    '/api/intake/items',
    '/api/ledger/tariffs',
  ])
    expect([path, seen.test(path)]).toEqual([path, true])
  expect(config.matcher[0]!.match(/api\/[a-z/]+/g)).toEqual(uploadPaths.map((path) => path.slice(1)))
})

test('only its own names are answered', () => {
  for (const own of [
    'gharry.example',
    'GHARRY.example',
    'desk.example:8443',
    '10.0.0.5:4600',
    'localhost:4600',
    '127.0.0.1',
    '[::1]:4600',
  ])
    expect([own, isOwnHost(own, env)]).toEqual([own, true])
  for (const other of [
    null,
    '',
    'evil.example',
    'gharry.example.evil.example',
    'gharry.example:81',
    '127.0.0.1.evil.example',
    'localhost.evil.example',
    '10.0.0.5',
  ])
    expect([other, isOwnHost(other, env)]).toEqual([other, false])
  expect(ask('GET', '/desk', { host: 'evil.example' })).toMatchObject({ status: 421 })
  expect(isOwnHost('', {})).toBe(false)
})

test('changes are taken from its own pages only, and as JSON', () => {
  const json = { 'content-type': 'application/json; charset=utf-8', 'content-length': '2' }
  expect(ask('POST', '/api/dispatch/plan', json)).toBeNull()
  expect(
    ask('POST', '/api/dispatch/plan', { ...json, origin: 'https://gharry.example', 'sec-fetch-site': 'same-origin' }),
  ).toBeNull()
  for (const more of <Record<string, string>[]>[
    { origin: 'https://evil.example' },
    { origin: 'null' },
    { 'sec-fetch-site': 'cross-site' },
    { 'sec-fetch-site': 'same-site' },
  ])
    expect([more, ask('POST', '/api/dispatch/plan', { ...json, ...more })?.status]).toEqual([more, 403])
  for (const type of [
    'text/plain',
    'application/x-www-form-urlencoded',
    'multipart/form-data; boundary=x',
    'text/plain;application/json',
  ])
    expect([type, ask('POST', '/api/dispatch/plan', { 'content-type': type, 'content-length': '2' })?.status]).toEqual([
      type,
      415,
    ])
  expect(ask('DELETE', '/api/intake/imports/1', { 'content-length': '0' })).toBeNull()
  expect(ask('POST', '/api/intake/items/file', { 'content-type': 'text/csv', 'content-length': '2' })).toBeNull()
  expect(
    ask('POST', '/api/intake/items/file', { 'content-type': 'multipart/form-data; boundary=x', 'content-length': '2' })
      ?.status,
  ).toBe(415)
  // The customers' form is a page's own form.
  expect(
    ask('POST', '/track', {
      'content-type': 'application/x-www-form-urlencoded',
      'content-length': '2',
      'sec-fetch-site': 'same-origin',
    }),
  ).toBeNull()
})

test('what answers carry: nothing with names in it is kept by anybody; TLS is asked for when there is TLS', () => {
  expect(guardHeaders('/desk', false)).toMatchObject({
    'cache-control': 'private, no-store',
    'x-content-type-options': 'nosniff',
  })
  expect(guardHeaders('/_next/static/a.js', false)).not.toHaveProperty('cache-control')
  expect(guardHeaders('/desk', false)).not.toHaveProperty('strict-transport-security')
  expect(guardHeaders('/desk', true)).toHaveProperty('strict-transport-security')
})
