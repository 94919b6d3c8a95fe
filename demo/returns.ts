import type { Condition, Rule, Rulebook } from '@/core/rulebook/language'

const rule = (id: string, name: string, when: Condition, then: Rule['then']): Rule => ({
  ...{ id, stage: 'papers', name, on: true, when, then },
})

/** What Mossgill answers to buyers who want to send something back. What no rule answers, a person does. */
const returnRules: readonly Rule[] = [
  rule(
    'd-back-live',
    'Plants are not taken back',
    {
      all: [
        { fact: 'tags', op: 'has any', value: ['live'] },
        { fact: 'return reason', op: 'is one of', value: ['changed mind', 'came too late'] },
      ],
    },
    [{ set: 'returns', to: false }],
  ),
  rule(
    'd-back',
    'Taken back within 30 days',
    {
      all: [
        { fact: 'return days', op: '≤', value: 30 },
        { fact: 'return reason', op: 'is one of', value: ['changed mind', 'came too late', 'wrong item'] },
      ],
    },
    [{ set: 'returns', to: true }],
  ),
  rule(
    'd-back-paid',
    'Who changes their mind pays the label',
    { fact: 'return reason', op: 'is', value: 'changed mind' },
    [{ set: 'returnPaidByBuyer', to: true }],
  ),
]

/** A rulebook that says what is taken back; these rules stand before the others of Papers, which may end the stage. */
export const withReturnRules = (rulebook: Rulebook): Rulebook => {
  const at = rulebook.rules.findIndex(({ stage }) => stage === 'papers')
  return { ...rulebook, rules: [...rulebook.rules.slice(0, at), ...returnRules, ...rulebook.rules.slice(at)] }
}
