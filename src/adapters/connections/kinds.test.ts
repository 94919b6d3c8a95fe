import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import type { CallResult } from '../http'
import { fieldsOf } from './kind'
import { kinds } from './registry'
import { watched, type CallReport } from './watched'

const root = join(__dirname, '../../..')

test('every kind says what it is, asks for its settings in words, and has a README', () => {
  expect(new Set(kinds.map(({ id, role }) => `${role} ${id}`)).size).toBe(kinds.length)
  const folders = (['channel', 'carrier', 'partner', 'messenger'] as const).flatMap((role) =>
    readdirSync(join(root, `src/adapters/${role}s`), { withFileTypes: true })
      .filter((entry) => entry.isDirectory())
      .map(({ name }) => `${role} ${name}`),
  )
  expect(folders.sort()).toEqual(kinds.map(({ id, role }) => `${role} ${id}`).sort())
  for (const { id, role } of kinds) {
    const readme = readFileSync(join(root, `src/adapters/${role}s/${id}/README.md`), 'utf8')
    expect(readme).toContain('**Tests**')
    expect(readme.split('\n').length).toBeLessThan(26)
  }
  for (const kind of kinds) {
    expect(kind.about).toMatch(/^[A-Z].*\.$/)
    for (const field of fieldsOf(kind)) expect(field.label).toMatch(/^[A-Z]/)
  }
})

test('the worked example of the documents is the code that ships', () => {
  const example = /```ts\n(export const[\s\S]*?)```/.exec(
    readFileSync(join(root, 'docs/new-connection.md'), 'utf8'),
  )![1]!
  const code = readFileSync(join(root, 'src/adapters/channels/keyed-shop/kind.ts'), 'utf8')
  const plain = (text: string): string =>
    text
      .replace(/\s+/g, ' ')
      .replace(/,? ([)}])/g, '$1')
      .replace(/([({]) /g, '$1')
  expect(plain(code)).toContain(plain(example).trim())
})

test('what is secret is marked, and what is needed', () => {
  const shop = kinds.find(({ id }) => id === 'keyed-shop')!
  expect(fieldsOf(shop).map(({ id, secret, needed }) => [id, secret ?? false, needed])).toEqual([
    ['address', false, true],
    ['key', false, true],
    ['secret', true, true],
  ])
})

describe('a connection that fails again and again', () => {
  const outside = { timeoutMs: 100, privateAddresses: true, pauseMs: 2000 }
  const down = { ok: false, kind: 'unreachable', sentence: 'It cannot be reached.', retryAfter: 0 } as const
  const make = (answers: () => CallResult<unknown>) => {
    let calls = 0
    const reports: CallReport[] = []
    const client = watched(
      {
        ask: () => {
          calls++
          return Promise.resolve(answers())
        },
      },
      (report) => reports.push(report),
      outside,
    )
    return { client, calls: () => calls, reports }
  }

  test('is left alone after five failures, and tried again after a pause', async () => {
    let answer: CallResult<unknown> = down
    const { client, calls, reports } = make(() => answer)
    for (let i = 0; i < 20; i++) expect(await client.ask()).toMatchObject({ ok: false, kind: 'unreachable' })
    expect([calls(), reports.length]).toEqual([5, 5])
    expect(await client.ask()).toMatchObject({
      sentence: expect.stringContaining('waits before it asks again') as string,
    })
    answer = { ok: true, body: 1 }
    // How long it waits is spread at random, so that many do not come back at once.
    const before = calls()
    for (let waited = 0; calls() === before && waited < 100; waited++) {
      await new Promise((resolve) => setTimeout(resolve, 100))
      await client.ask()
    }
    expect(await client.ask()).toEqual({ ok: true, body: 1 })
    expect(reports.at(-1)).toMatchObject({ failure: null })
  })

  test.each(['refused', 'rate-limited'] as const)('what is %s is an answer: the next call is made', async (kind) => {
    const { client, calls } = make(() => ({ ...down, kind }))
    for (let i = 0; i < 12; i++) await client.ask()
    expect(calls()).toBe(12)
  })

  test('an error of our own is thrown as it is', async () => {
    const { client } = make(() => {
      throw new Error('a fault of Gharry')
    })
    await expect(client.ask()).rejects.toThrow('a fault of Gharry')
  })
})
