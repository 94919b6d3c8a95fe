import { expect, test, type APIRequestContext, type APIResponse } from '@playwright/test'
import { strToU8, zipSync } from 'fflate'
import { e2ePorts } from './ports'

/*
 * A few bytes that blocked the server, killed it, or made it do what it should not. The server runs as it does for
 * people.
 */

const origin = `http://127.0.0.1:${e2ePorts.GHARRY_PORT}`
const json = { 'content-type': 'application/json' }

/** How long the server was deaf while something was tried. */
async function deafFor(request: APIRequestContext, work: () => Promise<unknown>): Promise<number> {
  let longest = 0
  let working = true
  const watching = (async () => {
    while (working) {
      const began = performance.now()
      expect((await request.get('/api/health')).ok()).toBe(true)
      longest = Math.max(longest, performance.now() - began)
      await new Promise((resolve) => setTimeout(resolve, 20))
    }
  })()
  await work()
  working = false
  await watching
  return longest
}

const sheet = (cells: string, more: Record<string, Uint8Array> = {}): Buffer =>
  Buffer.from(
    zipSync(
      {
        'xl/workbook.xml': strToU8(
          '<workbook xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships"><sheets><sheet name="A" sheetId="1" r:id="r1"/></sheets></workbook>',
        ),
        'xl/_rels/workbook.xml.rels': strToU8(
          '<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="r1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/worksheet" Target="worksheets/sheet1.xml"/></Relationships>',
        ),
        'xl/worksheets/sheet1.xml': strToU8(
          `<worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><sheetData>${cells}</sheetData></worksheet>`,
        ),
        ...more,
      },
      { level: 9 },
    ),
  )
const cell = (at: string, text: string): string => `<c r="${at}" t="inlineStr"><is><t>${text}</t></is></c>`
const slip = (text: string, copies = 1): object => ({
  slip: {
    id: 'x',
    name: 'X',
    heading: '',
    closing: '',
    blocks: Array.from({ length: copies }, () => ({ kind: 'text', text })),
  },
  number: '',
})
const deep = (levels: number): string =>
  `{"rulebook":{"name":"x","groups":[],"rules":[{"id":"a","stage":"triage","name":"a","on":true,"when":${'{"all":['.repeat(levels)}${']}'.repeat(levels)},"then":[]}]},"revision":1}`

type Tried = [
  name: string,
  status: number | readonly number[],
  ask: (request: APIRequestContext) => Promise<APIResponse>,
]
const upload =
  (path: string, data: Buffer | string) =>
  (request: APIRequestContext): Promise<APIResponse> =>
    request.post(path, { data, headers: { 'content-type': 'application/octet-stream' } })
const post =
  (path: string, data: string | object, headers: Record<string, string> = json) =>
  (request: APIRequestContext): Promise<APIResponse> =>
    request.post(path, { data, headers })

const tried: readonly Tried[] = [
  [
    'a cell at the far corner of a spreadsheet',
    422,
    upload(
      '/api/intake/items/file',
      sheet(`<row r="1">${cell('A1', 'sku')}</row><row r="1048576">${cell('XFD1048576', 'x')}</row>`),
    ),
  ],
  [
    'a spreadsheet that unpacks to a cell of 100 MB',
    422,
    upload('/api/intake/items/file', sheet(`<row r="1">${cell('A1', 'x'.repeat(100_000_000))}</row>`)),
  ],
  ['a header of 104,000 commas', 422, upload('/api/ledger/tariffs/file', `row${','.repeat(104_000)}\n1\n`)],
  [
    'an order file with a header of 104,000 commas',
    422,
    upload('/api/intake/files', `order number,sku${','.repeat(104_000)}\n1\n`),
  ],
  [
    'blanks of 100 kB before the currency of an invoice',
    422,
    upload(
      '/api/ledger/balance/invoices?carrier=heron',
      `tracking number,amount\nH123456,"4.90${' '.repeat(100_000)}x"\n`,
    ),
  ],
  ['a table of more than 20 MB', 413, upload('/api/intake/items/file', Buffer.alloc(21 * 1024 * 1024, 'a'))],
  ['a JSON body of 3 MB', 413, post('/api/dispatch/plan', `{"orders":[${'1,'.repeat(1_500_000)}1]}`)],
  ['conditions 800 deep', 400, (request) => request.put('/api/rules/rulebook', { data: deep(800), headers: json })],
  ['JSON 100,000 levels deep', 400, post('/api/dispatch/plan', `${'['.repeat(100_000)}${']'.repeat(100_000)}`)],
  ['an order named twice', 400, post('/api/dispatch/plan', { orders: [5, 5] })],
  ['NUL in a search', 400, (request) => request.get('/api/desk?q=a%00b')],
  ['an order called 0x10', 404, (request) => request.get('/api/desk/orders/0x10')],
  ['an order called 1e3', 404, (request) => request.get('/api/desk/orders/1e3')],
  ['a country that is none', [400, 422], post('/api/desk/address', { text: 'x', country: 'QQQQ' })],
  ['a template that takes in a file', 200, post('/api/dispatch/slips/preview', slip("{% include 'package.json' %}"))],
  [
    'a slip of sixty endless loops',
    200,
    post(
      '/api/dispatch/slips/preview',
      slip('{% for a in (1..900) %}{% for b in (1..900) %}{{ a }}{% endfor %}{% endfor %}', 60),
    ),
  ],
  [
    'a range of a billion',
    200,
    post('/api/dispatch/slips/preview', slip('{% for a in (1..1000000000) %}x{% endfor %}')),
  ],
  ['printing what is not there', 404, post('/api/dispatch/labels/999999/print', {})],
  ['printing by GET', 405, (request) => request.get('/api/dispatch/labels/1/print')],
  [
    'a change as a form',
    415,
    post('/api/dispatch/plan', 'orders=1', { 'content-type': 'application/x-www-form-urlencoded' }),
  ],
  ['a change as plain text', 415, post('/api/dispatch/plan', '{"orders":[1]}', { 'content-type': 'text/plain' })],
  [
    'a change from another site',
    403,
    post('/api/dispatch/plan', { orders: [1] }, { ...json, 'sec-fetch-site': 'cross-site' }),
  ],
  [
    'an upload from another site',
    403,
    (request) =>
      request.post('/api/intake/items/file', {
        data: 'sku\n',
        headers: { 'content-type': 'text/csv', origin: 'http://elsewhere.example' },
      }),
  ],
  [
    'another name of the machine',
    421,
    (request) => request.get('/api/line', { headers: { host: 'elsewhere.example' } }),
  ],
  [
    'an upload under another name',
    421,
    (request) =>
      request.post('/api/intake/items/file', {
        data: 'sku\n',
        headers: { 'content-type': 'text/csv', host: 'elsewhere.example' },
      }),
  ],
]

test('each is answered or refused in time, while the server answers others', async ({ playwright }, testInfo) => {
  const request = await playwright.request.newContext({ baseURL: origin })
  const took: string[] = []
  await upload('/api/intake/items/file', 'sku\nX\n')(request)
  for (const [name, status, ask] of tried) {
    let spent = 0
    const deaf = await deafFor(request, async () => {
      const began = performance.now()
      const response = await ask(request)
      spent = performance.now() - began
      expect([name, [status].flat()]).toEqual([name, expect.arrayContaining([response.status()])])
      const body = (await response.json().catch(() => null)) as { sentence?: string; ok?: boolean } | null
      if (response.status() >= 400 && response.status() !== 405)
        expect([name, (body?.sentence ?? '').length > 10]).toEqual([name, true])
      expect([name, JSON.stringify(body).includes('dependencies')]).toEqual([name, false])
    })
    took.push(`${name}: ${Math.round(spent)} ms, health ${Math.round(deaf)} ms`)
    // A second at most; the machine of a test run has other things to do.
    expect([name, spent < 2500, deaf < 1200], took[took.length - 1]).toEqual([name, true, true])
  }
  await testInfo.attach('how long each took', { body: took.join('\n') })
  console.log(took.join('\n'))
})

test('an upload of 30 MB arrives whole', async ({ playwright }) => {
  const request = await playwright.request.newContext({ baseURL: origin })
  const rows = 300_000
  const file = `order number,sku,quantity,name,street,postcode,city,country\n${Array.from({ length: rows }, (_, i) => `UP-${i},TLS-TWEEZ,1,Ann Peeters ${i},Kouter ${i % 90},9000,Gent,BE,,,,,,,,,,,,,,,,,,,,,,,,,,,,,,,,,,,,`).join('\n')}\n`
  expect(file.length).toBeGreaterThan(25_000_000)
  const response = await request.post('/api/intake/files', { data: file, headers: { 'content-type': 'text/csv' } })
  expect(response.status()).toBe(200)
  const { file: name, preview } = (await response.json()) as { file: string; preview: { mapping: object } }
  const queued = await request.post('/api/intake/imports', {
    data: { channel: 'trade-desk', file: name, fileName: 'up.csv', mapping: preview.mapping },
    headers: json,
  })
  const { id } = (await queued.json()) as { id: number }
  const { imports } = (await (await request.get('/api/intake')).json()) as {
    imports: { id: number; bytesTotal: number }[]
  }
  expect(imports.find((row) => row.id === id)!.bytesTotal).toBe(file.length)
  await request.delete(`/api/intake/imports/${id}`, { data: {}, headers: json })
})

test('what pages and answers carry: a policy, no caching, no frames of other sites', async ({ playwright }) => {
  const request = await playwright.request.newContext({ baseURL: origin })
  for (const path of ['/desk', '/api/line', '/api/intake/items/file?format=csv']) {
    const headers = (await request.get(path)).headers()
    expect([
      path,
      headers['x-content-type-options'],
      headers['cross-origin-opener-policy'],
      headers['cross-origin-resource-policy'],
      headers['permissions-policy']?.includes('geolocation=()'),
      /no-store/.test(headers['cache-control'] ?? ''),
    ]).toEqual([path, 'nosniff', 'same-origin', 'same-origin', true, true])
  }
})
