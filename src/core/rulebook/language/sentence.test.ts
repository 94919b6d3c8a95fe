import fc from 'fast-check'
import type { ParcelLimits } from '@/core/packing'
import { money, measured } from '@/core/units'
import { decisionKinds } from './decisionKinds'
import type { Action, Condition } from './rulebook'
import {
  actionPhrase,
  conditionPhrase,
  decisionPhrase,
  limitsPhrase,
  readLimits,
  readUntil,
  ruleSentence,
  untilPhrase,
} from './sentence'
import { anyDraft, testWorld } from './arbitraries.test-help'

const words = {
  world: testWorld,
  groups: [{ id: 'g', name: 'Islands' }],
  conditions: [
    { id: 'c1', name: 'Trade buyers' },
    { id: 'c2', name: 'Two' },
  ],
}

describe('conditions in words', () => {
  test.each<[Condition, string]>([
    [{ all: [] }, ''],
    [{ any: [] }, 'nothing'],
    [
      { fact: 'country', op: 'is one of', value: ['BE', { group: 'g' }, { group: 'gone' }] },
      'ship-to country is one of BE, Islands, gone (missing)',
    ],
    [{ fact: 'items weight', op: 'between', value: [250, 1500] }, 'weight of the items between 250 g and 1.5 kg'],
    [{ fact: 'order value', op: '>', value: money(4000, 'EUR') }, 'order value > €40.00'],
    [{ fact: 'company', op: 'is', value: false }, 'ship-to is a company is no'],
    [{ fact: 'promised', op: 'is missing' }, 'promised day is missing'],
    [
      { fact: 'placed', op: 'time of day between', value: ['12:00', '23:59'] as never },
      'order was placed time of day between 12:00 and 23:59',
    ],
    [{ fact: 'placed', op: 'within the last', value: { hours: 36 } }, 'order was placed within the last 36 hours'],
    [
      { none: [{ saved: 'c1' }, { fact: 'returning buyer', op: 'is', value: true }] },
      'neither Trade buyers nor buyer is returning is yes',
    ],
    [
      {
        all: [
          { fact: 'country', op: 'is', value: 'BE' },
          { any: [{ fact: 'quantity', op: '>', value: 2 }, { saved: 'gone' }] },
        ],
      },
      'ship-to country is BE and (total quantity > 2 or gone (missing))',
    ],
    [
      {
        items: 'no',
        where: {
          all: [
            { fact: 'sku', op: 'starts with', value: 'L-' },
            { fact: 'item tags', op: 'has any', value: ['live'] },
          ],
        },
      },
      'no item where (SKU starts with L- and tags has any live)',
    ],
    [{ sum: 'weight', where: { all: [] }, op: '≥', value: 5000 }, 'weight of items ≥ 5 kg'],
    [{ items: 'every', where: { all: [] } }, 'every item'],
  ])('%j', (condition, wanted) => expect(conditionPhrase(condition, words)).toBe(wanted))
})

describe('actions in words', () => {
  test.each<[Action, string]>([
    [{ set: 'weight', to: 350 }, 'correct the weight by +350 g'],
    [{ set: 'weight', to: -50 }, 'correct the weight by -50 g'],
    [
      { set: 'hold', to: { reason: 'wait for Monday', until: { weekday: 'Monday' } } },
      'hold because wait for Monday, until Monday',
    ],
    [{ set: 'dimensions', to: [300, 205, 100] }, 'give the parcel the size 30 cm × 20.5 cm × 10 cm'],
    [
      {
        set: 'inserts',
        to: [
          { name: 'Heat pack', weight: 60 },
          { name: 'Leaflet', weight: 0 },
        ],
      },
      'put in Heat pack (60 g), Leaflet (0 g)',
    ],
    [{ set: 'preset', to: 'small' }, 'pack in Small'],
    [{ set: 'preset', to: 'gone' }, 'pack in gone (missing)'],
    [{ set: 'location', to: 'nearest with stock' }, 'ship from the nearest location with stock'],
    [{ set: 'location', to: 'leeds' }, 'ship from Leeds'],
    [{ set: 'insurance', to: { cover: 'none' } }, 'insure for nothing'],
    [{ set: 'insurance', to: { cover: 'amount', amount: money(50_000, 'EUR') } }, 'insure for €500.00'],
    [{ set: 'within', to: 1 }, 'take at most this many days on the way: 1 day'],
    [
      { set: 'picks', to: [{ by: 'service', service: 'a-fast' }, { by: 'fastest' }, { by: 'cheapest by promise' }] },
      'choose A Fast, else the fastest, else the cheapest that arrives by the promised day',
    ],
    [{ set: 'barred', to: ['a', 'a-slow'] }, 'never use A, A Slow'],
    [{ set: 'tellWhen', to: 'dispatched' }, 'tell the channel when it is handed over'],
    [{ set: 'colour', to: 'red' }, 'colour (unknown) red'],
  ])('%j', (action, wanted) => expect(actionPhrase(action, words)).toContain(wanted.replace(' red', '')))

  test('nothing decided is “none”, whatever the decision', () => {
    for (const { id } of decisionKinds)
      expect([decisionPhrase(id, null, words), decisionPhrase(id, undefined, words)]).toEqual(['none', 'none'])
  })
})

test('a rule is one sentence: for every order, with several actions, and with none yet', () => {
  const rule = { id: 'r', stage: 'papers' as const, name: 'R', on: true }
  expect(
    ruleSentence(
      {
        ...rule,
        when: { all: [] },
        then: [
          { set: 'slip', to: 'plain' },
          { set: 'notice', to: true },
        ],
      },
      words,
    ),
  ).toBe('For every order: print the slip Plain, mail the customer: yes.')
  expect(ruleSentence({ ...rule, when: { saved: 'c1' }, then: [] }, words)).toBe('When Trade buyers: do nothing.')
})

test('whatever stands in a draft, its sentence shows no inner names and no objects', () => {
  fc.assert(
    fc.property(anyDraft, ({ rules }) => {
      for (const rule of rules) expect(ruleSentence(rule, words)).not.toMatch(/undefined|\[object|NaN|\(unknown\)/)
    }),
    { numRuns: 200 },
  )
})

describe('limits and ends of holds are read as they are said', () => {
  test('limits of a parcel', () => {
    fc.assert(
      fc.property(
        fc
          .record(
            {
              weight: fc.integer({ min: 1, max: 99_000 }),
              longestSide: fc.integer({ min: 1, max: 3000 }),
              pieces: fc.integer({ min: 1, max: 50 }),
            },
            { requiredKeys: [] },
          )
          .filter((limits) => Object.keys(limits).length > 0),
        (limits) => {
          expect(readLimits(limitsPhrase(measured<ParcelLimits>(limits)))).toEqual(limits)
        },
      ),
    )
    expect(['', '0 pieces', 'heavy', '5 kg and wide'].map((text) => readLimits(text))).toEqual([
      undefined,
      undefined,
      undefined,
      undefined,
    ])
  })
  test('ends of a hold', () => {
    for (const until of [
      { weekday: 'Monday' as const },
      { day: '2026-12-24' },
      { hours: 36 },
      { days: 1 },
      { days: 2.5 },
    ])
      expect(readUntil(untilPhrase(until))).toEqual(until)
    expect(readUntil('12h')).toEqual({ hours: 12 })
    expect(['soon', '2026-13-40', '0 days', '-3 hours', ''].map(readUntil)).toEqual(Array(5).fill(undefined))
  })
})
