import fc from 'fast-check'
import { anyRulebook } from './arbitraries.test-help'
import type { Rulebook } from './rulebook'
import { readRulebook, writeRulebook } from './rulebookText'

const plain = (value: unknown): unknown => JSON.parse(JSON.stringify(value))

/** What the text leaves out because it says nothing. */
function usual(rulebook: Rulebook): unknown {
  return plain({
    ...rulebook,
    conditions: rulebook.conditions?.length ? rulebook.conditions : undefined,
    rules: rulebook.rules.map(({ finishStage, ...rule }) => (finishStage ? { ...rule, finishStage } : rule)),
  })
}

test('what is written is read back the same, and written again it is the same to the byte', () => {
  fc.assert(
    fc.property(anyRulebook, (rulebook) => {
      const text = writeRulebook(rulebook)
      const read = readRulebook(text)
      if (!read.ok) throw new Error(JSON.stringify(read.problems))
      expect(plain(read.rulebook)).toEqual(usual(rulebook))
      expect(writeRulebook(read.rulebook)).toBe(text)
    }),
    { numRuns: 300 },
  )
})

const rule = (when: string, then = '{ set: hold, to: wait }'): string => `rulebook: Mine
rules:
  - id: r1
    stage: triage
    name: One
    when:
      all:
        - ${when}
    then:
      - ${then}
`

test('JSON is read as well, and quantities carry their units', () => {
  const read = readRulebook(
    '{"rulebook":"Mine","rules":[{"id":"r","stage":"packing","name":"R","when":{"fact":"weight","op":"between","value":["1 kg","2.5 kg"]},"then":[{"set":"insurance","to":"100.00 EUR"},{"set":"picks","to":["fastest",{"service":"x"}]}]}]}',
  )
  expect(read).toMatchObject({
    ok: true,
    rulebook: {
      rules: [
        {
          on: true,
          when: { value: [1000, 2500] },
          then: [
            { to: { cover: 'amount', amount: { minor: 10000, currency: 'EUR' } } },
            { to: [{ by: 'fastest' }, { by: 'service', service: 'x' }] },
          ],
        },
      ],
    },
  })
})

test.each<[string, string, number, RegExp]>([
  ['a unit is missing', rule('{ fact: items weight, op: ">", value: 500 }'), 8, /500 needs its unit: write "500 g"/],
  [
    'money without a currency',
    rule('{ fact: order value, op: ">", value: "25" }'),
    8,
    /"25" is no amount with a currency/,
  ],
  ['an unknown operator', rule('{ fact: wording, op: resembles, value: x }'), 8, /Invalid/i],
  ['an unknown key', `${rule('{ fact: wording, op: is, value: x }')}colour: red\n`, 11, /"colour" is not known here/],
  ['a stage that does not exist', rule('{ fact: wording, op: is, value: x }').replace('triage', 'later'), 4, /stage/],
  ['no YAML at all', 'rulebook: [', 1, /./],
  ['the same key twice', 'rulebook: a\nrulebook: b\nrules: []\n', 2, /unique/i],
  ['nothing', '', 1, /holds no rulebook/],
  ['aliases', 'rulebook: &a x\nrules: []\ngroups: *a\n', 0, /./],
])('%s is said with its line', (_what, text, line, sentence) => {
  const read = readRulebook(text)
  if (read.ok) throw new Error('it was taken')
  expect(read.problems[0]!.sentence).toMatch(sentence)
  if (line > 0) expect(read.problems[0]!.line).toBe(line)
})

test.each([
  '1_000',
  '0b11',
  '0o17',
  '0x1F',
  'yes',
  'No',
  'on',
  '~',
  'null',
  '.inf',
  '1e3',
  '2026-12-01',
  '12:30:00',
  '0123',
  '+5',
  '<<',
  '=',
  '!x',
  '# no',
  'a: b',
  '- a',
  '@x',
  '%x',
  '"',
  "'",
  'é\u2028',
  ' two  words ',
  '{x}',
  '[x]',
  '|',
  '>',
  '? x',
  'true',
  'True',
  '12.0',
])('a text that looks like something else stays the text it is: %j', (text) => {
  const rulebook: Rulebook = {
    name: 'b',
    groups: [{ id: 'g', name: 'g', members: [text] }],
    rules: [
      {
        id: 'r',
        stage: 'triage',
        name: 'r',
        on: true,
        when: { fact: 'wording', op: 'is', value: text },
        then: [{ set: 'hold', to: text }],
      },
    ],
  }
  const written = writeRulebook(rulebook)
  const read = readRulebook(written)
  expect(read).toMatchObject({
    ok: true,
    rulebook: { groups: [{ members: [text] }], rules: [{ when: { value: text }, then: [{ to: text }] }] },
  })
})

test('reading never throws', () => {
  fc.assert(fc.property(fc.oneof(fc.string(), fc.json()), (text) => void readRulebook(text)))
})
