import { money } from '@/core/units'
import { checkRulebook } from './checkRulebook'
import type { Action, Condition, Rule, Rulebook } from '@/core/rulebook/language'
import { testWorld } from '../language/arbitraries.test-help'

const holds: Condition = { all: [] }
const rule = (more: Partial<Rule>): Rule => ({
  id: 'r',
  stage: 'service',
  name: 'R',
  on: true,
  when: holds,
  then: [{ set: 'picks', to: [{ by: 'cheapest' }] }],
  ...more,
})
const book = (rules: readonly Rule[], more: Partial<Rulebook> = {}): Rulebook => ({
  name: 'b',
  groups: [{ id: 'g', name: 'G', members: ['BE'] }],
  rules,
  ...more,
})
const said = (rulebook: Rulebook): string[] =>
  checkRulebook(rulebook, testWorld).map(({ severity, code, sentence }) => `${severity} ${code}: ${sentence}`)
const ofCondition = (when: Condition, more: Partial<Rulebook> = {}): string[] => said(book([rule({ when })], more))
const ofAction = (action: Action, more: Partial<Rule> = {}): string[] =>
  said(book([rule({ stage: 'triage', then: [action], ...more })]))

describe('what the check says of a condition', () => {
  test.each<[string, Condition, string]>([
    [
      'a fact that does not exist',
      { fact: 'colour', op: 'is', value: 'red' },
      'error unknown-fact: There is no fact "colour".',
    ],
    [
      'an item fact outside of an item test',
      { fact: 'sku', op: 'is', value: 'A' },
      'error unknown-fact: There is no fact "sku".',
    ],
    [
      'an order fact inside of one',
      { items: 'any', where: { fact: 'country', op: 'is', value: 'BE' } },
      'error unknown-fact: There is no item fact "country".',
    ],
    [
      'an item test in an item test',
      { items: 'any', where: { items: 'no', where: holds } },
      'error nested-items: An item test cannot stand inside another one.',
    ],
    [
      'a sum in an item test',
      { items: 'any', where: { sum: 'quantity', where: holds, op: '>', value: 1 } },
      'error nested-items: A sum over items cannot stand inside an item test.',
    ],
    [
      'a fact that this stage settles itself',
      { fact: 'service', op: 'is', value: 'a-slow' },
      'error not-settled: "service" is settled in service; a rule of service cannot test it yet.',
    ],
    [
      'an operator of another type',
      { fact: 'country', op: '>', value: 3 },
      'error operator: "ship-to country" is country and does not understand ">".',
    ],
    [
      'a list with nothing in it',
      { fact: 'country', op: 'is one of', value: [] },
      'error no-value: "ship-to country is one of" needs at least one value.',
    ],
    [
      'a group that does not exist',
      { fact: 'country', op: 'is one of', value: [{ group: 'gone' }] },
      'error unknown-group: There is no group "gone".',
    ],
    [
      'an empty text',
      { fact: 'wording', op: 'contains', value: '  ' },
      'error no-value: "checkout wording contains" needs a value.',
    ],
    [
      'yes or no without either',
      { fact: 'company', op: 'is', value: 'yes' },
      'error no-value: "ship-to is a company" needs yes or no.',
    ],
    [
      'an amount without a currency',
      { fact: 'order value', op: '>', value: 40 },
      'error no-value: "order value" needs an amount with a currency.',
    ],
    [
      'a currency without a rate',
      { fact: 'order value', op: '>', value: money(4000, 'JPY') },
      'error no-rate: There is no exchange rate for JPY.',
    ],
    [
      'a weight that is no number',
      { fact: 'items weight', op: '<', value: 'heavy' },
      'error no-value: "weight of the items" needs a weight with its unit.',
    ],
    [
      'one end of two',
      { fact: 'quantity', op: 'between', value: [3] as never },
      'error no-value: "total quantity" needs a number.',
    ],
    [
      'ends the wrong way round',
      { fact: 'items weight', op: 'between', value: [500, 100] },
      'warning between: "weight of the items between": the first end is above the second, so it never holds.',
    ],
    [
      'amounts the wrong way round',
      { fact: 'order value', op: 'between', value: [money(500, 'EUR'), money(100, 'EUR')] },
      'warning between: "order value between": the first end is above the second, so it never holds.',
    ],
    [
      'no day',
      { fact: 'placed', op: 'before', value: 'Christmas' },
      'error no-value: "order was placed before" needs a day such as 2026-12-24.',
    ],
    [
      'no weekday',
      { fact: 'placed', op: 'weekday is', value: ['Someday'] },
      'error no-value: "order was placed weekday is" needs weekdays such as Thursday, Friday.',
    ],
    [
      'no time of day',
      { fact: 'placed', op: 'time of day between', value: ['12:00', '25:00'] as never },
      'error no-value: "order was placed time of day between" needs two times such as 12:00 and 23:59.',
    ],
    [
      'no span',
      { fact: 'placed', op: 'within the last', value: 3 },
      'error no-value: "order was placed within the last" needs a number of hours or days.',
    ],
    ['any of nothing', { any: [] }, 'warning empty-any: "any of" with nothing in it never holds.'],
    [
      'a saved condition that does not exist',
      { none: [{ saved: 'gone' }] },
      'error unknown-condition: There is no saved condition "gone".',
    ],
  ])('%s', (_, when, wanted) => expect(ofCondition(when)).toContain(wanted))

  test('a value that a fact never has is a warning which names those it has', () => {
    expect(ofCondition({ fact: 'payment', op: 'is one of', value: ['prepaid', 'barter'] })).toEqual([
      expect.stringMatching(/^warning unknown-value: "payment.*" is never "barter": it is prepaid, /) as string,
    ])
    expect(ofCondition({ fact: 'payment', op: 'is', value: 'Prepaid' })).toEqual([])
  })

  test('saved conditions that contain each other', () => {
    const conditions = [
      { id: 'a', name: 'A', when: { saved: 'b' } },
      { id: 'b', name: 'B', when: { any: [{ saved: 'a' }] } },
    ]
    expect(ofCondition({ saved: 'a' }, { conditions })).toEqual([
      'error cycle: The saved condition "A" contains itself.',
    ])
    expect(said(book([], { conditions: [conditions[0]!, conditions[0]!] }))).toEqual([
      'error same-id: Two saved conditions have the identifier "a".',
    ])
  })

  test('what a saved condition says counts for the stage of each rule that uses it', () => {
    const conditions = [
      { id: 'tagged', name: 'Tagged', when: { fact: 'tags', op: 'has any' as const, value: ['live'] } },
    ]
    const using = (stage: Rule['stage'], then: Action): string[] =>
      said(book([rule({ stage, when: { saved: 'tagged' }, then: [then] })], { conditions }))
    expect(using('triage', { set: 'hold', to: 'x' })).toEqual([
      'error not-settled: "tags" is settled in triage; a rule of triage cannot test it yet.',
    ])
    expect(using('packing', { set: 'preset', to: 'small' })).toEqual([])
  })
})

describe('what the check says of actions', () => {
  test.each<[string, Action, string]>([
    ['one that does not exist', { set: 'colour', to: 'red' }, 'error unknown-action: There is no action "colour".'],
    [
      'a preset that does not exist',
      { set: 'preset', to: 'gone' },
      'error missing: The package preset "gone" does not exist.',
    ],
    [
      'a location that does not exist',
      { set: 'location', to: 'gone' },
      'error missing: The location "gone" does not exist.',
    ],
    [
      'a service that does not exist',
      { set: 'picks', to: [{ by: 'cheapest' }, { by: 'service', service: 'gone' }] },
      'error missing: The service "gone" does not exist.',
    ],
    [
      'neither a service nor a carrier',
      { set: 'barred', to: ['a', 'a-slow', 'gone'] },
      'error missing: The service "gone" does not exist.',
    ],
    [
      'a slip that does not exist',
      { set: 'slip', to: 'gone' },
      'error missing: The slip template "gone" does not exist.',
    ],
    [
      'one of several documents',
      { set: 'documents', to: ['plain', 'gone'] },
      'error missing: The slip template "gone" does not exist.',
    ],
    [
      'a ceiling in a currency without a rate',
      { set: 'ceiling', to: money(100, 'JPY') },
      'error missing: There is no exchange rate for JPY.',
    ],
    [
      'cover in a currency without a rate',
      { set: 'insurance', to: { cover: 'amount', amount: money(100, 'JPY') } },
      'error missing: There is no exchange rate for JPY.',
    ],
  ])('%s', (_, action, wanted) => expect(ofAction(action)).toContain(wanted))

  test('a value of a wrong kind is named with its action', () => {
    expect(ofAction({ set: 'weight', to: 'much' })).toEqual([
      expect.stringMatching(/^error bad-value: "correct the weight by" /) as string,
    ])
    expect(ofAction({ set: 'tags', to: [] })).toEqual([
      expect.stringMatching(/^error bad-value: "add tags" /) as string,
    ])
  })

  test('an earlier stage is over: its decisions come too late; those of later stages do not', () => {
    expect(ofAction({ set: 'tags', to: ['x'] }, { stage: 'packing' })).toEqual([
      'error too-late: "add tags" belongs to triage; a rule of packing comes too late for it.',
    ])
    expect(ofAction({ set: 'slip', to: 'plain' })).toEqual([])
    expect(ofAction({ set: 'location', to: 'nearest with stock' })).toEqual([])
  })

  test('rules as a whole: identifiers, names, dates, nothing to do', () => {
    expect(said(book([rule({}), rule({})]))).toEqual([
      'error same-id: Two rules have the identifier "r".',
      'warning same-name: Another rule is called "R" too.',
    ])
    expect(said(book([rule({ from: '2026-12-24', until: '2026-12-01' })]))).toEqual([
      'error dates: It ends (2026-12-01) before it begins (2026-12-24).',
    ])
    expect(said(book([rule({ then: [] })]))).toEqual(['warning no-action: It does nothing: add an action.'])
    expect(said(book([rule({ from: '2026-12-01', until: '2026-12-01' })]))).toEqual([])
  })
})
