import { execFileSync } from 'node:child_process'
import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { readRulebook } from '@/core/rulebook/language'
import { buyBatch } from '../dispatch/buyBatch'
import { planBatch } from '../dispatch/planBatch'
import { requestImport } from '../intake/importOrders'
import { ask, type OpenAnswer, type Question } from '../open/ask'
import { openDocument } from '../open/document'
import { operations } from '../open/operations'
import { type Scope, scopes } from '../open/scopes'
import { endToken, makeToken, showTokens } from '../open/tokens'
import { makeRig, soundOrders, type Rig } from './rig'

/* What can be asked from outside: who may, what comes back, once only where a key says so. */

let rig: Rig
let token: string
beforeAll(async () => {
  rig = await makeRig()
  await rig.stockShop(soundOrders(6))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  const ids = (await rig.orders()).slice(0, 2).map(({ id }) => id)
  const plan = await planBatch(rig.gharry, ids)
  await buyBatch(rig.gharry, ids, plan.total)
  await rig.workAll()
  token = await made(Object.keys(scopes) as Scope[])
})
afterAll(() => rig.close())

async function made(wanted: readonly Scope[]): Promise<string> {
  const answer = await makeToken(rig.gharry, 'Test', wanted)
  if (!answer.ok) throw new Error(answer.sentence)
  return answer.token
}
const asked = (method: string, path: string, more: Partial<Question> & { with?: string } = {}): Promise<OpenAnswer> => {
  const [bare = '', query = ''] = path.split('?')
  return ask(rig.gharry, {
    ...{ method, path: bare, query: new URLSearchParams(query), key: null, body: undefined },
    authorization: `Bearer ${more.with ?? token}`,
    ...more,
  })
}
const bodyOf = <T = Record<string, unknown>>({ body }: OpenAnswer): T => JSON.parse(String(body)) as T

test('the description is valid OpenAPI 3.1 to a validator that we did not write', async () => {
  const { gharry } = rig
  const file = join(gharry.settings.dataDir, 'openapi.json')
  const document = await asked('GET', '/openapi.json', { authorization: null })
  writeFileSync(file, document.body)
  const script = `import { Validator } from '@seriousme/openapi-schema-validator'
    import { readFileSync } from 'node:fs'
    const validator = new Validator()
    const result = await validator.validate(JSON.parse(readFileSync(process.argv[1], 'utf8')))
    console.log(JSON.stringify({ ...result, version: validator.version }))`
  const said = execFileSync('node', ['--input-type=module', '-e', script, file], { encoding: 'utf8' })
  expect(JSON.parse(said)).toMatchObject({ valid: true, version: '3.1' })
  // Every operation is in it, with its own name.
  const { paths } = openDocument('http://x.example') as {
    paths: Record<string, Record<string, { operationId: string }>>
  }
  const names = Object.values(paths).flatMap((methods) => Object.values(methods).map(({ operationId }) => operationId))
  expect(new Set(names).size).toBe(operations.length)
})

test.each(operations.map((operation) => [`${operation.method} ${operation.path}`, operation] as const))(
  'the example of %s runs, and answers as described',
  async (_name, { method, path, example, scope, status, answer, fileType }) => {
    const own = (await rig.labels())[0]!
    // The orders here are of today; the days of an example are those on which it was written.
    const today = rig.gharry.now().toISOString().slice(0, 10)
    const days = { from: today, until: today }
    const known: Readonly<Record<string, string>> = {
      id: path.startsWith('/labels') ? String(own.id) : String((await rig.orders()).at(-1)!.id),
      number: own.trackingNumber!,
    }
    const trial =
      path === '/trials/{id}' ? bodyOf<{ id: number }>(await asked('POST', '/trials', { body: days })).id : null
    const filled = path.replace(/\{(\w+)\}/g, (_, name: string) =>
      trial !== null ? String(trial) : (known[name] ?? example.params?.[name] ?? ''),
    )
    const question = { body: path === '/trials' ? { ...(example.body as object), ...days } : example.body }
    const answered = await asked(method, `${filled}?${example.query ?? ''}`, question)
    expect([answered.status, String(answered.body).slice(0, 300)]).toEqual([status, expect.anything()])
    if (answer) answer.parse(bodyOf(answered))
    else expect(answered.headers['content-type']).toContain(fileType)
    expect(answered.headers.ratelimit).toMatch(/^"calls";r=\d+;t=\d+$/)
    // A token without its scope may not.
    const [other] = (Object.keys(scopes) as Scope[]).filter((one) => one !== scope)
    expect((await asked(method, filled, { ...question, with: await made([other!]) })).status).toBe(403)
  },
)

test('pages follow each other without a gap and without a repetition, while orders come in', async () => {
  const seen: number[] = []
  let cursor = ''
  for (let page = 0; page < 20; page++) {
    const answer = bodyOf<{ orders: { id: number }[]; next: string | null }>(
      await asked('GET', `/orders?limit=2${cursor}`),
    )
    seen.push(...answer.orders.map(({ id }) => id))
    if (answer.next === null) break
    cursor = `&cursor=${answer.next}`
  }
  expect(seen).toEqual((await rig.orders()).map(({ id }) => id))
})

test('a key is one intent: twice is one order, another body under it is refused', async () => {
  const { body } = operations.find(({ path, method }) => path === '/orders' && method === 'POST')!.example
  const before = (await rig.orders()).length
  const key = 'order-key-0001'
  const [first, second] = [await asked('POST', '/orders', { body, key }), await asked('POST', '/orders', { body, key })]
  expect([first.status, second.status]).toEqual([201, 201])
  expect(bodyOf(second)).toEqual(bodyOf(first))
  expect(second.headers['idempotent-replayed']).toBe('true')
  expect(await rig.orders()).toHaveLength(before + 1)
  expect((await asked('POST', '/orders', { body: { ...body, value: 1 }, key })).status).toBe(422)
  expect((await asked('POST', '/orders', { body, key: 'short' })).status).toBe(400)
  // Ten at once: one is made, the others get its answer or are told to come again.
  const many = await Promise.all(
    Array.from({ length: 10 }, () => asked('POST', '/orders', { body, key: 'order-key-0002' })),
  )
  expect(many.every(({ status }) => status === 201 || status === 409)).toBe(true)
  expect(await rig.orders()).toHaveLength(before + 2)
  // What was refused may be asked again under the same key.
  const wrong = { ...body, shipTo: { lines: [], city: '', country: 'QQ' } }
  const refused = await asked('POST', '/orders', { body: wrong, key: 'order-key-0003' })
  expect(bodyOf(refused)).toMatchObject({
    status: refused.status,
    code: 'incomplete',
    fields: { country: /no country/ },
  })
  expect((await asked('POST', '/orders', { body: wrong, key: 'order-key-0003' })).status).toBe(refused.status)
})

test('no token, a wrong one, one in the address, an ended one: each is told apart from what is not there', async () => {
  expect((await asked('GET', '/orders', { authorization: null })).headers['www-authenticate']).toBe('Bearer')
  expect((await asked('GET', '/orders', { with: 'gharry_wrong_wrong_wrong' })).status).toBe(401)
  expect(bodyOf(await asked('GET', `/orders?token=${token}`, { authorization: null }))).toMatchObject({
    ...{ status: 401, code: 'token-in-address' },
    type: 'urn:gharry:problem:token-in-address',
  })
  const ending = await made(['orders:read'])
  const { tokens } = await showTokens(rig.gharry)
  expect(JSON.stringify(tokens)).not.toContain(ending)
  expect(await endToken(rig.gharry, tokens[0]!.id)).toMatchObject({ ok: true })
  expect((await asked('GET', '/orders', { with: ending })).status).toBe(401)
  expect((await asked('GET', '/nowhere')).status).toBe(404)
  expect((await asked('DELETE', '/orders')).headers.allow).toBe('GET, POST')
  expect((await asked('GET', '/orders/999999')).status).toBe(404)
  expect((await asked('GET', '/orders/abc')).status).toBe(404)
  expect((await asked('GET', '/orders?limit=9999')).status).toBe(400)
  expect(await makeToken(rig.gharry, '', ['orders:read'])).toMatchObject({ ok: false })
  expect(await makeToken(rig.gharry, 'x', ['everything'])).toMatchObject({ ok: false })
})

test('calls are counted: the one above the limit says when to come again', async () => {
  const own = await made(['rules:read'])
  const answers: OpenAnswer[] = []
  for (let i = 0; i < 601; i++) answers.push(await asked('GET', '/nowhere', { with: own }))
  expect(answers.at(-2)!.status).toBe(404)
  expect(answers.at(-1)!.status).toBe(429)
  expect(Number(answers.at(-1)!.headers['retry-after'])).toBeGreaterThan(0)
  // Another caller is not held up by it.
  expect((await asked('GET', '/orders?limit=1')).status).toBe(200)
})

test('the rulebook is given as its own text, a paper as a PDF that another program reads', async () => {
  const text = await asked('GET', '/rulebook')
  expect(readRulebook(String(text.body))).toMatchObject({ ok: true })
  const paper = await asked('GET', `/labels/${(await rig.labels())[0]!.id}/papers`)
  const file = join(rig.gharry.settings.dataDir, 'paper.pdf')
  writeFileSync(file, paper.body)
  execFileSync('qpdf', ['--check', file])
  expect((await rig.labels())[0]!.printedAt).toBeNull()
})
