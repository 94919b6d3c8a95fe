import type { Rule } from '@/core/rulebook/language'
import { money } from '@/core/units'

/** Rules to begin with; amounts are in the home currency. */
export const starters = (home: string): readonly Omit<Rule, 'id'>[] => [
  {
    stage: 'service',
    name: 'In time, else cheapest',
    on: true,
    when: { all: [] },
    then: [{ set: 'picks', to: [{ by: 'cheapest by promise' }, { by: 'cheapest' }] }],
  },
  {
    stage: 'protection',
    name: 'Dear orders are signed for',
    on: true,
    when: { fact: 'value', op: '≥', value: money(25_000, home) },
    then: [{ set: 'signature', to: true }],
  },
  {
    stage: 'protection',
    name: 'Dear orders are insured',
    on: true,
    when: { fact: 'value', op: '≥', value: money(10_000, home) },
    then: [{ set: 'insurance', to: { cover: 'order value' } }],
  },
  {
    stage: 'service',
    name: 'Express was paid for',
    on: true,
    when: { fact: 'wording', op: 'contains', value: 'express' },
    then: [{ set: 'picks', to: [{ by: 'fastest' }] }],
  },
  {
    stage: 'service',
    name: 'Nothing above the ceiling unseen',
    on: true,
    when: { all: [] },
    then: [{ set: 'ceiling', to: money(10_000, home) }],
  },
]
