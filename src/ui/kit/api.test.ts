/** @jest-environment jsdom */
import { call, Refusal, sendFile as send, sentenceOf } from './api'
import { onSignedOut } from './signedOutNews'

// What goes along with which call is a matter of types; here it is what becomes of it.
const ask = call as unknown as (endpoint: string, given?: object) => Promise<unknown>
const sendFile = send as unknown as (endpoint: string, given: object) => Promise<unknown>

const asked: { address: string; init: RequestInit | undefined }[] = []
/** The server answers so, from now on. */
function answers(status: number, body: unknown, headers: Readonly<Record<string, string>> = {}): void {
  globalThis.fetch = ((address: string, init?: RequestInit) => {
    asked.push({ address, init })
    const said = typeof body === 'string' ? () => Promise.reject(new Error(body)) : () => Promise.resolve(body)
    return Promise.resolve({ status, ok: status < 300, json: said, headers: new Headers(headers) })
  }) as unknown as typeof fetch
}
const refused = async (asking: Promise<unknown>): Promise<Refusal> => {
  const error = await asking.then(
    () => null,
    (one: unknown) => one,
  )
  if (!(error instanceof Refusal)) throw new Error('it was not refused')
  return error
}
beforeEach(() => void (asked.length = 0))

test('the parts of a path and the query are put into the address, whatever is in them', async () => {
  answers(200, { ok: true })
  await ask('GET /api/desk/orders/:id', { path: { id: '7/8 ?' } })
  await ask('GET /api/find', { query: { q: 'van & acker', none: undefined, nothing: null } })
  await ask('GET /api/find', { query: new URLSearchParams('q=a') })
  expect(asked.map(({ address }) => address)).toEqual([
    '/api/desk/orders/7%2F8%20%3F',
    '/api/find?q=van+%26+acker',
    '/api/find?q=a',
  ])
})

test('what is written goes as JSON, a file as it is', async () => {
  answers(200, { ok: true })
  await ask('POST /api/rules/pinned/:id', { path: { id: '7' }, body: { note: 'as agreed' } })
  const file = new Blob(['a;b'])
  await sendFile('POST /api/intake/files', { file, query: { name: 'orders.csv' } })
  expect(asked[0]!.init).toMatchObject({ method: 'POST', body: '{"note":"as agreed"}' })
  expect(asked[1]!.init!.body).toBe(file)
})

test('what has not changed is not sent again', async () => {
  answers(200, { rows: [1] }, { etag: '"one"' })
  expect(await ask('GET /api/desk/views')).toEqual({ rows: [1] })
  answers(304, 'no body')
  expect(await ask('GET /api/desk/views')).toEqual({ rows: [1] })
  expect(asked[1]!.init).toEqual({ headers: { 'if-none-match': '"one"' } })
  answers(200, { rows: [2] })
  expect(await ask('GET /api/desk/views')).toEqual({ rows: [2] })
  await ask('GET /api/desk/views')
  expect(asked.at(-1)!.init).toBeUndefined()
})

test.each([
  [422, { code: 'incomplete', sentence: 'Enter the town.', fields: { city: 'Which town?' } }, false],
  [409, { code: 'changed', sentence: 'Somebody else changed it.' }, false],
  [429, { code: 'too-many', sentence: 'Wait a minute.' }, true],
  [503, { code: 'read-only', sentence: 'The disk is full.' }, true],
])('a refusal %s says its sentence and its fields; whether it passes', async (status, body, passing) => {
  answers(status, body)
  const error = await refused(ask('GET /api/desk/views'))
  expect(error).toMatchObject({ code: body.code, message: body.sentence, passing })
  expect(error.fields).toEqual('fields' in body ? body.fields : {})
})

test('what waits for somebody else is not done, and no fault that passes', async () => {
  answers(202, { code: 'proposed', sentence: 'It waits for Tomasz.' })
  expect(await refused(ask('POST /api/rules/publish', { body: {} }))).toMatchObject({
    code: 'proposed',
    passing: false,
  })
})

test('a server that answers no JSON, or not at all: what was done is said not to be saved', async () => {
  answers(502, 'no JSON')
  expect((await refused(ask('GET /api/desk/views'))).message).toBe('The server answered 502.')
  expect((await refused(ask('POST /api/rules/publish', { body: {} }))).message).toBe(
    'The server answered 502. What you did is not saved yet; try again.',
  )
  globalThis.fetch = () => Promise.reject(new TypeError('failed to fetch'))
  const away = await refused(ask('POST /api/rules/publish', { body: {} }))
  expect(away).toMatchObject({ code: 'unreachable', passing: true })
  expect(away.message).toContain('cannot be reached')
  expect(sentenceOf(away)).toBe(away.message)
  expect(sentenceOf('what?')).toBe('Something went wrong.')
})

test('whoever is signed out is told so, but not where they sign in', async () => {
  const told = jest.fn()
  const stop = onSignedOut(told)
  answers(401, { code: 'signed-out', sentence: 'Sign in.' })
  await refused(ask('POST /api/people/sign-in', { body: {} }))
  expect(told).not.toHaveBeenCalled()
  await refused(ask('GET /api/desk/views'))
  expect(told).toHaveBeenCalledTimes(1)
  stop()
})
