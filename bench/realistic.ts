import type { Condition, Rule, Rulebook } from '@/core/rulebook/language'
import { money } from '@/core/units'
import { seeded } from '../demo/random'
import { demoRulebook } from '../demo/rulebook'

const countries = [
  'BE',
  'NL',
  'DE',
  'FR',
  'PL',
  'GB',
  'AT',
  'ES',
  'IT',
  'DK',
  'SE',
  'NO',
  'CH',
  'US',
  'LU',
  'CZ',
  'HU',
  'PT',
  'IE',
  'FI',
]
const wordings = ['Free', 'Standard', 'Exp. 2-day', 'Priority 1-day', '810', 'Tracked']
const services = ['heron-road', 'corvid-parcel', 'corvid-packet']

/** The demo's rulebook grown to `count` rules in its own manner: six stages, nesting, item tests, sums and sets. */
export function realisticRulebook(count: number): Rulebook {
  const random = seeded(3)
  const more: Rule[] = []
  const condition = (): Condition => {
    const low = random.below(20_000)
    const parts: Condition[] = [
      { fact: 'country', op: 'is one of', value: [random.pick(countries), random.pick(countries)] },
    ]
    if (random.chance(0.6)) parts.push({ fact: 'items weight', op: 'between', value: [low, low + random.below(5000)] })
    if (random.chance(0.4)) parts.push({ fact: 'wording', op: 'is', value: random.pick(wordings) })
    if (random.chance(0.3)) parts.push({ fact: 'order value', op: '>', value: money(random.below(30_000), 'EUR') })
    if (random.chance(0.2))
      parts.push({
        items: random.pick(['any', 'no']),
        where: { fact: 'item tags', op: 'has any', value: [random.pick(['live', 'glass', 'lamp', 'letter'])] },
      })
    if (random.chance(0.1))
      parts.push({
        sum: 'quantity',
        where: { fact: 'unit weight', op: '>', value: 500 * (1 + random.below(4)) },
        op: '≥',
        value: 1 + random.below(3),
      })
    if (random.chance(0.15))
      parts.push({
        any: [
          { fact: 'company', op: 'is', value: true },
          { fact: 'quantity', op: '>', value: 1 + random.below(4) },
        ],
      })
    return { all: parts }
  }
  const makers: readonly ((id: string) => Rule)[] = [
    (id) => ({
      id,
      stage: 'triage',
      name: id,
      on: true,
      when: condition(),
      then: [
        { set: 'tags', to: [`tag ${random.below(12)}`] },
        { set: 'weight', to: random.below(80) },
      ],
    }),
    (id) => ({
      id,
      stage: 'packing',
      name: id,
      on: true,
      when: condition(),
      then: [{ set: 'preset', to: random.pick(['box-m', 'box-l', 'bag']) }],
    }),
    (id) => ({
      id,
      stage: 'origin',
      name: id,
      on: true,
      when: condition(),
      then: [{ set: 'location', to: random.pick(['ghent', 'poznan']) }],
    }),
    (id) => ({
      id,
      stage: 'protection',
      name: id,
      on: true,
      when: condition(),
      then: [{ set: 'insurance', to: { cover: 'order value' } }],
    }),
    (id) => ({
      id,
      stage: 'service',
      name: id,
      on: true,
      when: condition(),
      then: [{ set: 'picks', to: [{ by: 'service', service: random.pick(services) }, { by: 'cheapest' }] }],
    }),
    (id) => ({
      id,
      stage: 'papers',
      name: id,
      on: true,
      when: condition(),
      then: [{ set: 'reference', to: `${id} {number}` }],
    }),
  ]
  while (demoRulebook.rules.length + more.length < count)
    more.push(makers[more.length % makers.length]!(`m${more.length}`))
  // What takes everything else stays last.
  const rest = demoRulebook.rules.filter((rule) => 'all' in rule.when && rule.when.all.length === 0)
  return { ...demoRulebook, rules: [...demoRulebook.rules.filter((rule) => !rest.includes(rule)), ...more, ...rest] }
}
