import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { callsAt } from './api/callsAt'
import { calls } from './api/table'
import type { Endpoint } from '@/usecases/endpoints'
import { deeds } from '@/usecases/people/deeds'
import { leavesNothing, needs, needsOfFiles } from '@/usecases/people/needs'

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
// What is called from outside the screens.
const fetched = Object.keys(needsOfFiles)

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

test('each page says what it needs, but for those of customers, partners with a link, and whoever signs in', () => {
  const open = ['sign-in', 'welcome/[token]', 'not-yours', 'partner/[token]']
  const pages = readdirSync('src/app', { recursive: true, encoding: 'utf8' }).filter((file) =>
    file.endsWith('page.tsx'),
  )
  expect(pages.length).toBeGreaterThan(40)
  for (const page of pages) {
    const source = readFileSync(join('src/app', page), 'utf8')
    const asked = /(?:applicationFor|wholeScreen)\('[a-z.]+'/.test(source) || page === 'page.tsx'
    expect([page, asked]).toEqual([page, !open.some((one) => page === `${one}/page.tsx`)])
  }
})

test('each call says what it needs, and only calls do; what leaves nothing is a call that could', () => {
  expect(Object.keys(needs).sort()).toEqual([...declared].sort())
  const unsaid = declared.filter(
    (endpoint) =>
      !endpoint.startsWith('GET ') &&
      !leavesNothing.has(endpoint) &&
      needs[endpoint as Endpoint] !== 'anybody' &&
      deeds[endpoint as Endpoint] === undefined,
  )
  expect(unsaid).toEqual([])
  for (const endpoint of leavesNothing) expect([endpoint, endpoint.startsWith('GET ')]).toEqual([endpoint, false])
})
