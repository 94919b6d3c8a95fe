import { demoRulebook } from '../../../../demo/rulebook'
import { demoWorld } from '../../../../demo/world'
import { checkRulebook } from './checkRulebook'
import { compileRulebook } from '@/core/rulebook/compile'
import { route } from '@/core/rulebook/decide'
import type { Condition, Rulebook } from '@/core/rulebook/language'
import { readyWorld } from '@/core/world'
import fc from 'fast-check'
import { anyOrder, anyRulebook, testWorld } from '../language/arbitraries.test-help'
import { unreachableServices } from './unreachableServices'

const book = (when: Condition, service: string): Rulebook => ({
  ...demoRulebook,
  rules: [
    {
      id: 'r',
      stage: 'service',
      name: 'R',
      on: true,
      when,
      then: [{ set: 'picks', to: [{ by: 'service', service }, { by: 'cheapest' }] }],
    },
  ],
})
const said = (when: Condition, service: string): string[] =>
  checkRulebook(book(when, service), demoWorld)
    .filter(({ code }) => code === 'never-serves')
    .map(({ sentence }) => sentence)

test.each<[Condition, string, string]>([
  [{ fact: 'country', op: 'is', value: 'US' }, 'heron-road', 'it goes to none of US'],
  [
    {
      all: [
        { fact: 'country', op: 'is one of', value: ['GB', 'CH'] },
        { fact: 'weight', op: '>', value: 1 },
      ],
    },
    'heron-morning',
    'none of GB, CH',
  ],
  [{ fact: 'parcel weight', op: '≥', value: 40_000 }, 'heron-road', 'it takes 31.5 kg, the rule begins at 40 kg'],
  [{ fact: 'longest side', op: 'between', value: [400, 900] as never }, 'corvid-letter', 'sides up to 35.3 cm'],
  [{ fact: 'post-office box', op: 'is', value: true }, 'dray-same-day', 'post-office boxes'],
  [{ fact: 'parcels', op: '>', value: 1 }, 'corvid-packet', 'it takes 1 in a shipment'],
  [{ fact: 'location', op: 'is', value: 'leeds' }, 'heron-road', 'does not collect in leeds'],
])('%j never goes with %s', (when, service, why) => expect(said(when, service)).toEqual([expect.stringContaining(why)]))

test.each<[Condition, string]>([
  [{ all: [] }, 'heron-road'],
  [{ fact: 'country', op: 'is one of', value: [{ group: 'road' }] }, 'heron-road'],
  [
    {
      any: [
        { fact: 'country', op: 'is', value: 'US' },
        { fact: 'country', op: 'is', value: 'BE' },
      ],
    },
    'heron-road',
  ],
  [{ none: [{ fact: 'country', op: 'is', value: 'BE' }] }, 'heron-road'],
  [{ fact: 'parcel weight', op: '>', value: 31_499 }, 'heron-road'],
])('%j may go with %s', (when, service) => expect(said(when, service)).toEqual([]))

test('no order of a rule ever goes with a service that was called beyond its reach', () => {
  const ready = readyWorld(testWorld)
  fc.assert(
    fc.property(anyRulebook, anyOrder, (rulebook, order) => {
      const { quote, trail } = route(order, compileRulebook(rulebook, testWorld.rates), ready, {
        now: Date.parse('2026-11-20T09:00:00Z'),
      })
      const by = trail.decisions.find(({ decision }) => decision === 'picks')?.by
      const rule = by?.kind === 'rule' ? rulebook.rules.find(({ id }) => id === by.rule) : undefined
      if (quote && rule && rule.stage === 'service')
        expect(unreachableServices(rule, rulebook, testWorld).map(({ service }) => service)).not.toContain(
          quote.service,
        )
    }),
    { numRuns: 400 },
  )
})
