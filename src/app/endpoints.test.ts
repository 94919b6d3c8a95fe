import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { callsAt } from './api/callsAt'
import { calls } from './api/table'

const folder = 'src/app/api'
const routes = readdirSync(folder, { recursive: true, encoding: 'utf8' })
  .filter((file) => file.endsWith('/calls.ts'))
  .flatMap((file) => {
    const path = `/api/${file.slice(0, -'/calls.ts'.length)}`.replace(/\[([a-z]+)\]/g, ':$1')
    const source = readFileSync(join(folder, file), 'utf8')
    const methods = ['GET', 'POST', 'PUT', 'PATCH', 'DELETE'].filter((method) =>
      new RegExp(`export (?:const|async function) (?:\\{[^}]*)?\\b${method}\\b`).test(source),
    )
    return methods.map((method) => ({ endpoint: `${method} ${path}`, source }))
  })
const declared = [...readFileSync('src/usecases/endpoints.ts', 'utf8').matchAll(/^ {2}'([A-Z]+ \/api\/[^']+)'/gm)].map(
  ([, endpoint]) => endpoint!,
)
// What is called from outside the screens: files to keep, photographs, print files, columns, whether the server is well, returns from
// marketplaces, and their messages.
const fetched = [
  'GET /api/health',
  'GET /api/dispatch/prints/:name',
  'GET /api/intake/connections/callback',
  'POST /api/hooks/:id',
  'GET /api/intake/files/left',
  'GET /api/intake/files/pattern',
  'GET /api/intake/items/file',
  'GET /api/desk/file',
  'GET /api/dispatch/stock/file',
  'GET /api/ledger/claims/file',
  'GET /api/ledger/refunds/file',
  'GET /api/ledger/report/file',
  'GET /api/ledger/report/journal/file',
  'GET /api/ledger/tariffs/file',
  'GET /api/rules/trial/columns',
  'GET /api/setup/pictures',
  'GET /api/intake/items/pictures',
  'GET /api/tracking/returns/photos/:id',
  'GET /api/rules/trials/:id/file',
]

test('the table of endpoints and the routes are the same, but for what is fetched as a file', () => {
  expect(declared.length).toBeGreaterThan(60)
  expect(routes.map(({ endpoint }) => endpoint).sort()).toEqual([...declared, ...fetched].sort())
})

test('a route that names its endpoint names its own', () => {
  const named = routes.flatMap(({ endpoint, source }) => {
    const [method] = endpoint.split(' ')
    const own = new RegExp(`const ${method} = (?:reading|changing)\\(\\s*'([^']+)'`).exec(source)?.[1]
    return own === undefined ? [] : [[endpoint, own]]
  })
  expect(named.length).toBeGreaterThan(50)
  for (const [endpoint, own] of named) expect(own).toBe(endpoint)
})

test('every folder with calls stands in the table, under its own name; names go before any text, and nothing answers elsewhere', () => {
  const folders = readdirSync(folder, { recursive: true, encoding: 'utf8' })
    .filter((file) => file.endsWith('/calls.ts'))
    .map((file) => file.slice(0, -'/calls.ts'.length))
  expect(Object.keys(calls).sort()).toEqual(folders.sort())
  const table = readFileSync(join(folder, 'table.ts'), 'utf8')
  for (const own of folders) {
    const name = new RegExp(`import \\* as (\\w+) from '\\./${own.replace(/[[\]]/g, '\\$&')}/calls'`).exec(table)?.[1]
    expect(table).toContain(`${/[[/-]/.test(own) ? `'${own}'` : own}: ${name!},`)
  }
  expect(callsAt(['desk', 'orders', '7'])).toMatchObject({ calls: calls['desk/orders/[id]'], params: { id: '7' } })
  expect(callsAt(['desk', 'orders'])?.calls).toBe(calls['desk/orders'])
  expect([callsAt([]), callsAt(['desk', 'nothing', 'here']), callsAt(['__proto__'])]).toEqual([
    undefined,
    undefined,
    undefined,
  ])
})
