import { spawnSync } from 'node:child_process'
import {
  appendFileSync,
  existsSync,
  linkSync,
  mkdtempSync,
  openSync,
  readFileSync,
  symlinkSync,
  writeFileSync,
  writeSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { type Rulebook, writeRulebook } from '@/core/rulebook/language'
import { demoRulebook } from '../demo/rulebook'
import { demoWorld } from '../demo/world'
import { buildOnce } from '../src/usecases/tests/builtPrograms'

/* Files and calls that gave stack traces, wrong exit codes, empty files or silence. */

buildOnce('cli/gharry.ts')
const root = join(__dirname, '..')
const folder = mkdtempSync(join(tmpdir(), 'gharry-cli-hostile-'))
const at = (name: string): string => join(folder, name)
const run = (
  args: readonly string[],
  env: Record<string, string> = {},
): { code: number | null; out: string; err: string } => {
  const { status, stdout, stderr } = spawnSync('node', ['cli/gharry.mjs', ...args], {
    cwd: root,
    encoding: 'utf8',
    env: { ...process.env, ...env },
    timeout: 60_000,
  })
  return { code: status, out: stdout, err: stderr.replaceAll(folder, '') }
}
const shell = (command: string): { code: number | null; out: string; err: string } => {
  const { status, stdout, stderr } = spawnSync('bash', ['-c', command], {
    cwd: root,
    encoding: 'utf8',
    timeout: 60_000,
  })
  return { code: status, out: stdout, err: stderr }
}
const routing = ['route', '--rulebook', at('rules.yaml'), '--world', at('world.json'), '--orders']
const csv = 'order,sku,qty,name,street,postcode,city,country\n'

beforeAll(() => {
  writeFileSync(at('rules.yaml'), writeRulebook(demoRulebook))
  writeFileSync(at('world.json'), JSON.stringify(demoWorld))
  writeFileSync(
    at('orders.csv'),
    `${csv}${Array.from({ length: 200 }, (_, i) => `C-${i},TLS-TWEEZ,1,Ann,Kouter 1,9000,Gent,BE\n`).join('')}`,
  )
})

test('an output that is an input, also through a link, is refused and left as it was', () => {
  const before = readFileSync(at('orders.csv'), 'utf8')
  symlinkSync(at('orders.csv'), at('link.csv'))
  linkSync(at('orders.csv'), at('hard.csv'))
  for (const out of [at('orders.csv'), at('link.csv'), at('hard.csv'), at('world.json'), at('rules.yaml')])
    expect(run([...routing, at('orders.csv'), '--out', out])).toMatchObject({
      code: 2,
      err: expect.stringContaining('is the very file that is read') as string,
    })
  expect(readFileSync(at('orders.csv'), 'utf8')).toBe(before)
})

test('an output that fails leaves what was there: a folder, a full disk, a call that stops half-way', () => {
  expect(run([...routing, at('orders.csv'), '--out', folder])).toMatchObject({
    code: 3,
    err: expect.stringContaining('This is a folder') as string,
  })
  expect(run([...routing, at('orders.csv'), '--out', '/dev/full'])).toMatchObject({
    code: 3,
    err: expect.stringContaining('The disk is full') as string,
  })
  expect(shell(`node cli/gharry.mjs ${[...routing, at('orders.csv')].join(' ')} > /dev/full`)).toMatchObject({
    code: 3,
    err: expect.stringContaining('The output cannot be written') as string,
  })
  writeFileSync(at('kept.jsonl'), 'old')
  writeFileSync(at('broken.jsonl'), '{"number":1}\n')
  run([...routing, at('nowhere.csv'), '--out', at('kept.jsonl')])
  expect(readFileSync(at('kept.jsonl'), 'utf8')).toBe('old')
  expect(run(['export', '/proc/x'], { GHARRY_DATA: at('data') }).code).toBe(3)
})

test('who reads the output may stop', () => {
  expect(
    shell(`set -o pipefail; node cli/gharry.mjs ${[...routing, at('orders.csv')].join(' ')} | head -1 | wc -l`),
  ).toMatchObject({ code: 0, out: '1\n', err: '' })
})

test('folders, byte-order marks, and a line of 700 MB', () => {
  expect(run([...routing, folder])).toMatchObject({ code: 3, err: ': This is a folder: name a file in it.\n' })
  expect(run(['check', folder])).toMatchObject({ code: 3, err: ': This is a folder: name a file in it.\n' })
  writeFileSync(at('bom-world.json'), `\uFEFF${JSON.stringify(demoWorld)}`)
  writeFileSync(
    at('bom.jsonl'),
    `\uFEFF${run([...routing, at('orders.csv')]).out.slice(0, 0)}${JSON.stringify(orderLine)}\n`,
  )
  expect(
    run(['route', '--rulebook', at('rules.yaml'), '--world', at('bom-world.json'), '--orders', at('bom.jsonl')]),
  ).toMatchObject({ code: 0 })
  const file = openSync(at('long.jsonl'), 'w')
  writeSync(file, `${JSON.stringify(orderLine)}\n`)
  const piece = Buffer.alloc(50_000_000, 'x')
  for (let i = 0; i < 14; i++) writeSync(file, piece)
  appendFileSync(at('long.jsonl'), `\n${JSON.stringify(orderLine)}\n`)
  const { code, out, err } = run([...routing, at('long.jsonl')])
  expect([code, out.trim().split('\n').length, err]).toEqual([3, 2, '/long.jsonl:2: This line is longer than 10 MB.\n'])
}, 120_000)

const orderLine = {
  channel: 'c',
  remoteId: '1',
  number: 'N',
  status: 'open',
  placedAt: '2026-11-25T08:00:00.000Z',
  changedAt: '2026-11-25T08:00:00.000Z',
  promisedBy: '',
  paymentMethod: 'prepaid',
  wording: '',
  shippingPaid: { minor: 0, currency: 'EUR' },
  value: { minor: 100, currency: 'EUR' },
  discount: { minor: 0, currency: 'EUR' },
  buyer: { name: 'A', email: '', phone: '', returning: false },
  shipTo: { name: 'A', company: '', lines: ['Kouter 1'], city: 'Gent', postcode: '9000', region: '', country: 'BE' },
  items: [
    {
      line: '1',
      sku: 'X',
      title: '',
      quantity: 1,
      unitWeight: 100,
      unitPrice: { minor: 100, currency: 'EUR' },
      size: null,
      tags: [],
      dangerousGoods: '',
      hsCode: '',
      origin: '',
    },
  ],
  problems: [],
}

test('an order without country, items or weight needs attention, whatever its file says', () => {
  const lacking = [
    { ...orderLine, shipTo: { ...orderLine.shipTo, country: '' } },
    { ...orderLine, items: [] },
    { ...orderLine, items: [{ ...orderLine.items[0]!, unitWeight: null }] },
  ]
  writeFileSync(at('lacking.jsonl'), lacking.map((order) => `${JSON.stringify(order)}\n`).join(''))
  const problems = run([...routing, at('lacking.jsonl')])
    .out.trim()
    .split('\n')
    .map((line) => (JSON.parse(line) as { problems: { code: string }[] }).problems[0]!.code)
  expect(problems).toEqual(['unknown-country', 'no-items', 'no-weight'])
})

test('columns as documented are read, those that are not are said', () => {
  writeFileSync(
    at('named.csv'),
    'Order number,SKU,Quantity,Recipient,Street,"Street, second line",City,Country,Item title,Order time,Colour\n1,X,1,Ann,Kaai 1,Bus 3,Gent,BE,Fern,2026-11-20 23:30,red\n',
  )
  const { code, out, err } = run([...routing, at('named.csv')])
  expect([code, err]).toEqual([0, '/named.csv: these columns are not read: Colour.\n'])
  expect(JSON.parse(out)).toMatchObject({ number: '1' })
})

test('a rulebook with errors decides nothing and exits 1; its stored form as JSON is read; what refers to nothing is said', () => {
  const wrong: Rulebook = {
    ...demoRulebook,
    rules: [
      { id: 'x', stage: 'packing', name: 'X', on: true, when: { all: [] }, then: [{ set: 'preset', to: 'gone' }] },
    ],
  }
  writeFileSync(at('wrong.yaml'), writeRulebook(wrong))
  expect(
    run(['route', '--rulebook', at('wrong.yaml'), '--world', at('world.json'), '--orders', at('orders.csv')]),
  ).toMatchObject({ code: 1, out: '' })
  expect(
    run([
      'trial',
      '--rulebook',
      at('wrong.yaml'),
      '--against',
      at('rules.yaml'),
      '--world',
      at('world.json'),
      '--orders',
      at('orders.csv'),
    ]),
  ).toMatchObject({ code: 1, out: '' })
  writeFileSync(at('stored.json'), JSON.stringify(demoRulebook))
  expect(run(['check', at('stored.json'), '--world', at('world.json')]).code).toBe(0)
  const is = (fact: string, value: string): Rulebook['rules'][number]['when'] => ({ fact, op: 'is', value })
  const odd: Rulebook = {
    name: 'Odd',
    groups: [
      { id: 'g', name: 'G', members: ['Belgium'] },
      { id: 'g', name: 'G2', members: ['BE'] },
    ],
    rules: [
      {
        id: 'r',
        stage: 'papers',
        name: 'R',
        on: true,
        when: {
          any: [is('country', 'UK'), is('location', 'gent'), is('service', 'heron-rode'), is('preset', 'box-q')],
        },
        then: [{ set: 'reference', to: '{number' }],
      },
    ],
  }
  writeFileSync(at('odd.json'), JSON.stringify(odd))
  const { code, out } = run(['check', at('odd.json'), '--world', at('world.json')])
  expect(code).toBe(1)
  for (const part of [
    '"UK" is no country code: write GB.',
    '"Belgium" is no country code: write BE.',
    'There is no location "gent"',
    'There is no service "heron-rode"',
    'There is no package preset "box-q"',
    'Two groups have the identifier "g"',
    '"{number" is no placeholder',
  ])
    expect(out).toContain(part)
  writeFileSync(at('five.yaml'), 'rulebook: X\nconditions: 5\nrules: []\n')
  expect(run(['check', at('five.yaml')])).toMatchObject({
    code: 3,
    err: expect.stringContaining('conditions') as string,
  })
  writeFileSync(
    at('deep.yaml'),
    `rulebook: X\nrules:\n  - id: a\n    stage: packing\n    name: A\n    when: ${'{ all: ['.repeat(800)}${'] }'.repeat(800)}\n    then: []\n`,
  )
  expect(run(['check', at('deep.yaml')])).toMatchObject({
    code: 3,
    err: expect.stringContaining('more than 100 deep') as string,
  })
})

test('times without a zone are those of the first location, wherever the machine stands', () => {
  const decided = ['UTC', 'Pacific/Auckland', 'America/New_York'].map(
    (TZ) => run([...routing, at('named.csv'), '--now', '2026-11-20 16:45'], { TZ }).out,
  )
  expect(new Set(decided).size).toBe(1)
  expect((JSON.parse(decided[0]!) as { quote: { leavesOn: string } }).quote.leavesOn).toBe(
    (
      JSON.parse(run([...routing, at('named.csv'), '--now', '2026-11-20T15:45:00Z']).out) as {
        quote: { leavesOn: string }
      }
    ).quote.leavesOn,
  )
  expect(run([...routing, at('named.csv'), '--now', 'order 66'])).toMatchObject({ code: 2 })
  expect(
    run([
      'trial',
      '--rulebook',
      at('rules.yaml'),
      '--against',
      at('rules.yaml'),
      '--world',
      at('world.json'),
      '--orders',
      at('orders.csv'),
      '--as-of',
      '2026-02-30',
    ]),
  ).toMatchObject({ code: 2 })
})

test('a CSV whose dates or decimals can be read in two ways is refused with the line, and read with the sign that is given', () => {
  writeFileSync(
    at('signs.csv'),
    'order,sku,qty,name,street,city,country,weight,placed\n1,X,1,Ann,Kaai 1,Gent,BE,"1,500 kg",03/04/2026\n',
  )
  expect(run([...routing, at('signs.csv')])).toMatchObject({
    code: 3,
    out: '',
    err: expect.stringContaining('/signs.csv:2: "1,500 kg" could be 1500 or 1.5000') as string,
  })
  expect(run([...routing, at('signs.csv'), '--decimal', ',', '--dates', 'dmy'])).toMatchObject({ code: 0 })
  expect(run([...routing, at('signs.csv'), '--decimal', ';'])).toMatchObject({ code: 2 })
  expect(existsSync(at('signs.csv'))).toBe(true)
})
