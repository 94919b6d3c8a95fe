import { createHash, randomUUID } from 'node:crypto'
import { actingAs, addAudit, freeKey, keepAnswer, takeKey, writtenSoFar } from '@/data'
import { plainForAudit } from '../people/plainForAudit'
import type { Application } from '../shared/application'
import { countCall } from './calls'
import { statusOf } from '../shared/refusals'
import { openDocument } from './document'
import { type FileAnswer, isRefused, type Operation } from './operation'
import { operations } from './operations'
import { type TokenView, whoAsks } from './tokens'

/** A question from outside, as it came. */
export interface Question {
  readonly method: string
  /** Behind `/api/v1`. */
  readonly path: string
  readonly query: URLSearchParams
  readonly authorization: string | null
  readonly key: string | null
  readonly body: unknown
}
export interface OpenAnswer {
  readonly status: number
  readonly headers: Readonly<Record<string, string>>
  readonly body: string | Buffer
}

const perMinute = 600
const minute = 60_000
/** A question whose process died may be taken up again. */
const underWayMs = 60_000

const json = (status: number, body: unknown, headers: Readonly<Record<string, string>> = {}): OpenAnswer => ({
  status,
  headers: { 'content-type': 'application/json', ...headers },
  body: JSON.stringify(body),
})

/** An error after RFC 9457. */
export const problem = (
  status: number,
  code: string,
  detail: string,
  more: {
    readonly fields?: Readonly<Record<string, string>>
    readonly headers?: Readonly<Record<string, string>>
  } = {},
): OpenAnswer => ({
  status,
  headers: { 'content-type': 'application/problem+json', ...more.headers },
  body: JSON.stringify({
    ...{ type: `urn:gharry:problem:${code}`, title: code.replaceAll('-', ' '), status, detail, code },
    ...(more.fields ? { fields: more.fields } : {}),
  }),
})

/** Answers a question from outside: who asks, may they, what is meant, and once only where a key says so. */
export async function ask(gharry: Application, question: Question): Promise<OpenAnswer> {
  if (question.method === 'GET' && question.path === '/openapi.json')
    return json(200, openDocument(gharry.settings.publicUrl))
  const readOnly = question.method === 'GET' ? null : gharry.readOnly()
  if (readOnly !== null)
    return problem(503, 'read-only', `Nothing is changed now. ${readOnly}`, { headers: { 'retry-after': '60' } })
  if (question.query.has('token') || question.query.has('access_token'))
    return problem(
      401,
      'token-in-address',
      'A token in an address ends up in logs: send it as “Authorization: Bearer …”.',
    )
  const token = /^Bearer ([\w-]{10,200})$/.exec(question.authorization ?? '')?.[1]
  const who = token ? await whoAsks(gharry, token) : null
  if (!who)
    return problem(
      401,
      'not-known',
      'Send a token that is in use: “Authorization: Bearer gharry_…”. Set-up makes them.',
      {
        headers: { 'www-authenticate': 'Bearer' },
      },
    )
  const rate = await counted(gharry, who)
  if (!rate.ok) return rate.answer
  const actor = { id: `token:${who.id}`, name: who.name, role: 'machine', address: '', request: randomUUID() }
  const answer = await actingAs(actor, async () => {
    const given = await answerTo(gharry, who, question)
    if (question.method !== 'GET' && given.status < 300 && writtenSoFar() === 0)
      await addAudit(
        gharry.db,
        { action: `${question.method} /api/v1${question.path}`, about: '', after: plainForAudit(question.body) },
        gharry.now().toISOString(),
      )
    return given
  })
  return { ...answer, headers: { ...rate.headers, ...answer.headers } }
}

/** Counts a call; how many are left is in the heads (RateLimit header fields of the IETF draft). */
async function counted(
  gharry: Application,
  who: TokenView,
): Promise<{ ok: true; headers: Record<string, string> } | { ok: false; answer: OpenAnswer }> {
  const { used, msLeft } = await countCall(gharry, `calls of token ${who.id}`, minute)
  const wait = Math.max(1, Math.ceil(msLeft / 1000))
  const headers = {
    'ratelimit-policy': `"calls";q=${perMinute};w=60`,
    ratelimit: `"calls";r=${Math.max(0, perMinute - used)};t=${wait}`,
  }
  if (used <= perMinute) return { ok: true, headers }
  return {
    ok: false,
    answer: problem(429, 'too-many-calls', `At most ${perMinute} calls a minute: come again in ${wait} s.`, {
      headers: { ...headers, 'retry-after': String(wait) },
    }),
  }
}

interface Found {
  readonly operation: Operation
  readonly params: Readonly<Record<string, string>>
}

/** The operation of a path, and what its path says; else the methods that the path has. */
function operationOf(method: string, path: string): Found | { readonly methods: readonly string[] } {
  const parts = path.split('/')
  const fitting = operations.flatMap((operation): Found[] => {
    const wanted = operation.path.split('/')
    if (wanted.length !== parts.length) return []
    const params: Record<string, string> = {}
    const fits = wanted.every((want, i) => {
      const name = /^\{(\w+)\}$/.exec(want)?.[1]
      if (name) params[name] = decodeURIComponent(parts[i]!)
      return name !== undefined || want === parts[i]
    })
    return fits ? [{ operation, params }] : []
  })
  return (
    fitting.find(({ operation }) => operation.method === method) ?? {
      methods: fitting.map(({ operation }) => operation.method),
    }
  )
}

async function answerTo(gharry: Application, who: TokenView, question: Question): Promise<OpenAnswer> {
  const found = operationOf(question.method, question.path)
  if ('methods' in found)
    return found.methods.length === 0
      ? problem(404, 'no-such-path', 'There is no such path: /api/v1/openapi.json has all of them.')
      : problem(405, 'other-method', `This path takes ${found.methods.join(', ')}.`, {
          headers: { allow: found.methods.join(', ') },
        })
  const { operation, params } = found
  if (!who.scopes.includes(operation.scope))
    return problem(403, 'other-scope', `This token may not do that: it needs the scope ${operation.scope}.`)
  const query = operation.query.safeParse(Object.fromEntries(question.query))
  const body = operation.body?.safeParse(question.body ?? {})
  for (const parsed of [query, ...(body ? [body] : [])])
    if (!parsed.success) {
      const fields = Object.fromEntries(parsed.error.issues.map(({ path, message }) => [path.join('.'), message]))
      const [field, message] = Object.entries(fields)[0]!
      return problem(400, 'bad-input', `${field || 'input'}: ${message}`, { fields })
    }
  const asked = { params, query: query.data as never, body: body?.data as never }
  if (operation.method !== 'POST' || question.key === null)
    return done(gharry, operation, { ...asked, key: `${who.id}-${randomUUID()}` })
  if (!/^[\x21-\x7e]{8,100}$/.test(question.key))
    return problem(400, 'bad-key', 'An Idempotency-Key has 8 to 100 signs, without blanks.')
  return once(gharry, who, operation, asked, question)
}

/** Answers once to a key: the same question again gets the same answer, another one under the same key is refused. */
async function once(
  gharry: Application,
  who: TokenView,
  operation: Operation,
  asked: { readonly params: Found['params']; readonly query: never; readonly body: never },
  { key, path, body }: Question,
): Promise<OpenAnswer> {
  const hash = createHash('sha256')
    .update(JSON.stringify([operation.method, path, body]))
    .digest('base64url')
  const at = gharry.now().toISOString()
  const known = await takeKey(gharry.db, { token: who.id, key: key!, asked: hash, at })
  if (known && known.asked !== hash)
    return problem(422, 'other-question', 'This Idempotency-Key was used for another question.')
  if (known?.status)
    return {
      status: known.status,
      headers: { 'content-type': 'application/json', 'idempotent-replayed': 'true' },
      body: known.body ?? '',
    }
  if (known && gharry.now().getTime() - Date.parse(known.at) < underWayMs)
    return problem(409, 'under-way', 'The same question is being answered: come again in a moment.')
  const answer = await done(gharry, operation, { ...asked, key: `${who.id}-${key!}` })
  if (answer.status < 400)
    await keepAnswer(gharry.db, who.id, key!, { status: answer.status, body: String(answer.body) })
  else await freeKey(gharry.db, who.id, key!)
  return answer
}

async function done(
  gharry: Application,
  operation: Operation,
  asked: Parameters<Operation['work']>[1],
): Promise<OpenAnswer> {
  const answer = await operation.work(gharry, asked)
  if (answer === null) return problem(404, 'not-found', 'There is no such thing (any more).')
  if (isRefused(answer)) return problem(statusOf[answer.code], answer.code, answer.sentence, { fields: answer.fields })
  if (operation.answer === null) {
    const { file, type } = answer as FileAnswer
    return { status: 200, headers: { 'content-type': type, 'cache-control': 'no-store' }, body: file }
  }
  // What goes out is what the description says, and nothing else.
  return json(operation.status, operation.answer.parse(answer))
}
