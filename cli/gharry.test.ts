import { spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { normaliseOrder } from '@/core/order'
import { type Rulebook, writeRulebook } from '@/core/rulebook/language'
import { demoOrders } from '../demo/orders'
import { demoRulebook } from '../demo/rulebook'
import { demoWorld } from '../demo/world'
import { shopRawOrder } from '@/adapters'
import { catalogueText } from './catalogueText'
import { schemas, schemaText } from './schemas'
import { buildOnce } from '../src/usecases/tests/builtPrograms'

buildOnce('cli/gharry.ts')
const root = join(__dirname, '..')
const folder = mkdtempSync(join(tmpdir(), 'gharry-cli-'))
const at = (name: string): string => join(folder, name)
const run = (...args: string[]): { code: number | null; out: string; err: string } => {
  const { status, stdout, stderr } = spawnSync('node', ['cli/gharry.mjs', ...args], { cwd: root, encoding: 'utf8' })
  return { code: status, out: stdout, err: stderr.replaceAll(folder, '') }
}

beforeAll(() => {
  const dear: Rulebook = {
    ...demoRulebook,
    rules: demoRulebook.rules.map((rule) =>
      rule.id === 'v-rest' ? { ...rule, then: [{ set: 'picks', to: [{ by: 'fastest' }] }] } : rule,
    ),
  }
  writeFileSync(at('rules.yaml'), writeRulebook(demoRulebook))
  writeFileSync(at('dear.yaml'), writeRulebook(dear))
  writeFileSync(at('world.json'), JSON.stringify(demoWorld))
  const orders = [...demoOrders('small', 3, '2026-11-20')]
    .slice(0, 200)
    .map((order) => JSON.stringify(normaliseOrder(shopRawOrder(order)!, 'mossgill-shop', new Map())))
  writeFileSync(
    at('orders.jsonl'),
    `${[...orders.slice(0, 100), '{"number": 1}', 'not json', ...orders.slice(100)].join('\n')}\n`,
  )
})

test('check: what the demo’s rules mean together; errors with exit 1, as text and as JSON', () => {
  const fine = run('check', at('rules.yaml'), '--world', at('world.json'), '--now', '2026-11-20T08:00:00Z')
  expect(fine.code).toBe(0)
  expect(fine.out).toContain(
    'warning clash in rule "Express goes by morning" (v-express): Clash: where both match, “Live plants arrive fast” decides the service',
  )
  expect(fine.out).toMatch(/warning gap in rule "Live plants arrive fast" \(v-live\): Leaves no service/)
  expect(fine.out).toMatch(new RegExp(`${demoRulebook.rules.length} rules, 0 errors, \\d+ warnings, \\d+ notes\\.\n$`))
  writeFileSync(
    at('wrong.yaml'),
    writeRulebook({
      name: 'W',
      groups: [],
      conditions: [{ id: 'a', name: 'A', when: { saved: 'a' } }],
      rules: [
        { id: 'r', stage: 'triage', name: 'R', on: true, when: { saved: 'a' }, then: [{ set: 'preset', to: 'gone' }] },
      ],
    }),
  )
  const text = run('check', at('wrong.yaml'), '--world', at('world.json'))
  expect(text.code).toBe(1)
  expect(text.out).toContain('error: rule "R": The saved condition "A" contains itself.')
  expect(text.out).toContain('error: rule "R": The package preset "gone" does not exist.')
  expect(
    (JSON.parse(run('check', at('wrong.yaml'), '--json').out) as { findings: { code: string }[] }).findings.map(
      (finding) => finding.code,
    ),
  ).toEqual(['cycle'])
})

test('route: a decision with its trail for each order; lines that cannot be used are named', () => {
  const { code, err } = run(
    'route',
    '--rulebook',
    at('rules.yaml'),
    '--world',
    at('world.json'),
    '--orders',
    at('orders.jsonl'),
    '--out',
    at('out.jsonl'),
  )
  expect(code).toBe(3)
  expect(err).toContain('/orders.jsonl:101: channel: ')
  expect(err).toContain('/orders.jsonl:102: This line is no JSON.')
  const lines = readFileSync(at('out.jsonl'), 'utf8')
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as { number: string; trail: { decisions: unknown[] } })
  expect(lines).toHaveLength(200)
  expect(lines.every((line) => line.trail.decisions.length > 0)).toBe(true)
})

test('route reads CSV too', () => {
  writeFileSync(
    at('orders.csv'),
    'order,sku,qty,name,street,postcode,city,country\nC-1,TLS-TWEEZ,1,Ann,Kouter 1,9000,Gent,BE\nC-2,TLS-TWEEZ,x,Ann,Kouter 1,9000,Gent,BE\n',
  )
  const { code, out, err } = run(
    'route',
    '--rulebook',
    at('rules.yaml'),
    '--world',
    at('world.json'),
    '--orders',
    at('orders.csv'),
    '--now',
    '2026-11-20T08:00:00Z',
  )
  expect(code).toBe(3)
  expect(err).toContain('/orders.csv:3: The quantity "x"')
  expect(JSON.parse(out)).toMatchObject({
    number: 'C-1',
    decisions: { preset: 'letter' },
    quote: { service: 'corvid-letter' },
  })
})

test('trial: two rulebooks over the same orders', () => {
  const { out } = run(
    'trial',
    '--rulebook',
    at('dear.yaml'),
    '--against',
    at('rules.yaml'),
    '--world',
    at('world.json'),
    '--orders',
    at('orders.jsonl'),
  )
  expect(out).toMatch(/^\d+ of 200 orders change; \d+ change service; \d+\.\d\d EUR dearer;/)
  expect(
    run(
      'trial',
      '--rulebook',
      at('rules.yaml'),
      '--against',
      at('rules.yaml'),
      '--world',
      at('world.json'),
      '--orders',
      at('orders.jsonl'),
    ).out,
  ).toMatch(/^0 of 200 orders change;/)
})

test('wrong calls and files: exit 2 with the usage, exit 3 with file and line', () => {
  expect(run()).toMatchObject({ code: 2, err: expect.stringContaining('gharry check RULEBOOK') as string })
  expect(run('route', '--rulebook', at('rules.yaml'))).toMatchObject({
    code: 2,
    err: expect.stringContaining('--world is missing.') as string,
  })
  // An option that would not be read might be what was meant.
  expect(run('export', '--out', at('files'))).toMatchObject({
    code: 2,
    err: expect.stringContaining('export takes no --out.') as string,
  })
  expect(run('check', at('rules.yaml'), 'more')).toMatchObject({
    code: 2,
    err: expect.stringContaining('check takes no "more".') as string,
  })
  expect(run('--help')).toMatchObject({ code: 0, out: expect.stringContaining('gharry check RULEBOOK') as string })
  expect(run('check', at('nowhere.yaml'))).toMatchObject({ code: 3, err: '/nowhere.yaml: There is no such file.\n' })
  writeFileSync(
    at('unit.yaml'),
    'rulebook: X\nrules:\n  - id: a\n    stage: packing\n    name: A\n    when: { fact: weight, op: ">", value: 500 }\n    then: []\n',
  )
  expect(run('check', at('unit.yaml'))).toMatchObject({
    code: 3,
    err: '/unit.yaml:6: 500 needs its unit: write "500 g".\n',
  })
  writeFileSync(at('bad-world.json'), '{}')
  expect(run('check', at('rules.yaml'), '--world', at('bad-world.json')).code).toBe(3)
})

test('the published schemas and the catalogue are those the code checks with', () => {
  expect(readFileSync(join(root, 'docs/catalogue.md'), 'utf8')).toBe(catalogueText())
  for (const [name, schema] of Object.entries(schemas))
    expect(readFileSync(join(root, 'docs/schema', name), 'utf8')).toBe(schemaText(schema))
})
