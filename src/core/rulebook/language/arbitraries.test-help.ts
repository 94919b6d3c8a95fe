import fc from 'fast-check'
import { type Handling, type ItemCard, normaliseOrder, type Order } from '@/core/order'
import { money, measured } from '@/core/units'
import { decisionKinds, type DecisionType } from './decisionKinds'
import { facts, type FactType, isTextual, itemFacts, itemSums, operatorsOf, takesList } from './facts'
import {
  type Action,
  type Condition,
  type Operator,
  type Rule,
  type Rulebook,
  type Stage,
  stageIndex,
  stages,
  type Value,
} from './rulebook'
import { type Outage, type World, worldAt } from '@/core/world'

/* Made-up worlds, orders and rulebooks for tests: few distinct values, so that rules and orders often meet. */

export const testWorld = measured<World>({
  rates: { home: 'EUR', micro: { GBP: 1_200_000 } },
  locations: [
    {
      id: 'ghent',
      name: 'Ghent',
      country: 'BE',
      timeZone: 'Europe/Brussels',
      address: { company: 'M', lines: ['Kaai 1'], postcode: '9000', city: 'Gent', phone: '' },
    },
    {
      id: 'leeds',
      name: 'Leeds',
      country: 'GB',
      timeZone: 'Europe/London',
      stock: { A: 2, B: 1 },
      address: { company: 'M', lines: ['Road 1'], postcode: 'LS1 1AA', city: 'Leeds', phone: '' },
    },
  ],
  presets: [
    { id: 'small', name: 'Small', inner: [200, 150, 100], outer: [210, 160, 110], tare: 100, limit: 5000 },
    { id: 'large', name: 'Large', inner: [600, 400, 400], outer: [620, 420, 420], tare: 600, limit: 20_000 },
  ],
  carriers: [{ id: 'a', name: 'A' }],
  services: [
    {
      id: 'a-slow',
      carrier: 'a',
      name: 'A Slow',
      locations: ['ghent', 'leeds'],
      zones: ['BE', 'GB'].flatMap((from) => ['BE', 'NL', 'GB'].map((to) => ({ zone: 'z', from, to, transitDays: 3 }))),
      limits: { weight: 20_000, longestSide: 1000, girth: 3000, postOfficeBox: true, dangerousGoods: [] },
      cutOff: '16:00',
      collects: [1, 2, 3, 4, 5],
      delivers: [1, 2, 3, 4, 5],
      offers: ['tracking', 'signature', 'live goods', 'cash on delivery'],
      cover: { included: 0, upTo: 100_000 },
    },
    {
      id: 'a-fast',
      carrier: 'a',
      name: 'A Fast',
      locations: ['ghent'],
      zones: ['BE', 'NL'].map((to) => ({ zone: 'z', from: 'BE', to, transitDays: 1 })),
      limits: {
        weight: 20_000,
        longestSide: 1000,
        girth: 3000,
        postOfficeBox: false,
        dangerousGoods: ['UN 1'],
        parcels: 2,
      },
      cutOff: '16:00',
      collects: [1, 2, 3, 4, 5],
      delivers: [1, 2, 3, 4, 5, 6],
      offers: ['tracking'],
      cover: { included: 10_000, upTo: 10_000 },
    },
  ],
  tariffs: [
    {
      service: 'a-slow',
      from: '2020-01-01',
      until: null,
      currency: 'EUR',
      basis: 'parcel',
      dimensionalDivisor: null,
      roundUpTo: 1,
      discountPermille: 0,
      zones: {
        z: {
          bands: [
            { upTo: 2000, price: 400 },
            { upTo: 20_000, price: 900 },
          ],
        },
      },
      surcharges: [
        { on: 'signature', each: 'shipment', amount: 100 },
        { on: 'insurance', each: 'shipment', perHundred: 50 },
        { on: 'long', each: 'parcel', over: 580, amount: 700 },
        { on: 'residential', each: 'shipment', amount: 20 },
      ],
    },
    {
      service: 'a-fast',
      from: '2020-01-01',
      until: null,
      currency: 'GBP',
      basis: 'parcel',
      dimensionalDivisor: 5000,
      roundUpTo: 1,
      discountPermille: 100,
      zones: { z: { bands: [{ upTo: 20_000, price: 1500 }] } },
      surcharges: [{ on: 'fuel', each: 'shipment', permille: 100 }],
    },
  ],
  arrivals: [
    ...([1, 2, 5] as const).map((weekday) => ({
      ...{ service: 'a-slow', location: 'ghent', zone: 'z', country: 'BE', weekday },
      came: [
        [-1, 2],
        [0, 20 * weekday],
        [1, 4],
        [3, 1],
      ] as const,
    })),
    {
      ...{ service: 'a-slow', location: 'poznan', zone: 'z', country: 'NL', weekday: 3 },
      came: [
        [0, 1],
        [2, 3],
      ],
    },
  ],
  demands: [{ channel: 'market', offers: ['signature'], byPromise: true }],
  slips: [{ id: 'plain', name: 'Plain', heading: '', closing: '' }],
  items: [],
  customsUnion: ['BE', 'NL'],
  wordings: [
    {
      channel: 'shop',
      rows: [
        {
          wording: 'exp*',
          countries: ['BE', 'GB'],
          weight: [0, 3000],
          gives: { speed: 'express', pick: { by: 'fastest' } },
        },
        { wording: '*two*', value: [1000, 5000], gives: { preset: 'large', speed: 'standard' } },
        { wording: 'free', gives: { pick: { by: 'service', service: 'a-slow' } } },
      ],
    },
  ],
  remoteAreas: [{ country: 'NL', prefixes: ['1'] }],
})

/** The same world, seen from other clocks: a day may have begun, or ended, where the first location stands. */
export const testWorlds = measured<readonly World[]>([
  testWorld,
  ...['Pacific/Auckland', 'America/New_York'].map((timeZone): World => ({
    ...testWorld,
    locations: [{ ...testWorld.locations[0]!, timeZone }, testWorld.locations[1]!],
  })),
  // A channel that wants to bear claims.
  {
    ...testWorld,
    demands: [{ channel: 'shop', protected: true }],
    services: testWorld.services.map((service, i) => (i === 0 ? { ...service, claimsBorneBy: ['shop'] } : service)),
  },
  // A channel that knows one carrier alone.
  {
    ...testWorld,
    demands: [{ channel: 'shop', carriers: ['b'] }],
    services: testWorld.services.map((service, i) => (i === 0 ? { ...service, carrier: 'b' } : service)),
  },
  // What is retired, closed and switched off.
  {
    ...testWorld,
    locations: [
      { ...testWorld.locations[0]!, id: 'old', retired: true },
      { ...testWorld.locations[0]!, openDays: [2, 5], closedOn: ['2026-11-20'] },
      testWorld.locations[1]!,
    ],
    presets: testWorld.presets.map((preset, i) => (i === 0 ? { ...preset, retired: true } : preset)),
    services: testWorld.services.map((service, i) => {
      if (i === 0) return { ...service, retired: true }
      return i === 1 ? { ...service, fetched: true } : service
    }),
  },
  ...[0, 1].map((which): World =>
    worldAt(
      {
        ...testWorld,
        outages: [
          outage('location', testWorld.locations[which]!.id),
          outage('carrier', testWorld.services[which]!.carrier),
        ],
      },
      Date.parse('2026-11-20T08:00:00Z'),
    ),
  ),
])

function outage(what: 'location' | 'carrier', of: string): Outage {
  return { id: what, what, of, from: '2026-11-01T00:00:00Z', until: '2026-12-01T05:00:00Z', note: '' }
}

const texts = ['', 'Free', 'EXP. 2-day', 'straße', '  two  words ', 'ﬁne', '   ', 'ΟΔΟΣ', 'οδοσ😀']
const countries = ['BE', 'NL', 'GB', 'nowhere']
const tagsUsed = ['live', 'glass', 'new', ' Live', 'GLASS']
const postcodes = ['1', '10005', '1000 AB', 'sw1a 1aa', 'SW1A1AA', '']
const numbers = [0, 1, 2, 500, 1500, 5000]

const cardA = measured<ItemCard>({
  sku: 'A',
  title: 'A',
  weight: 500,
  size: [100, 80, 50],
  tags: [],
  dangerousGoods: '',
  hsCode: '',
  origin: '',
})

/** Orders as normalisation makes them. */
export const anyOrder: fc.Arbitrary<Order> = fc
  .record({
    wording: fc.constantFrom(...texts),
    country: fc.constantFrom(...countries),
    value: fc.option(fc.constantFrom('5.00', '15.00', '50.00'), { nil: undefined }),
    currency: fc.constantFrom('EUR', 'GBP', 'SEK'),
    company: fc.constantFrom('', 'Aqua'),
    channel: fc.constantFrom('shop', 'shop', 'market'),
    payment: fc.constantFrom('prepaid', 'prepaid', 'cash on delivery'),
    handling: fc.subarray<Handling>(['own box', 'alone', 'live', 'not stackable', 'this side up', 'fragile'], {
      maxLength: 1,
    }),
    returning: fc.boolean(),
    postcode: fc.constantFrom(...postcodes),
    street: fc.constantFrom('Kaai 1', 'Postbus 12', ''),
    promised: fc.constantFrom('', '2026-11-24', '2026-12-01'),
    back: fc.option(
      fc.record(
        {
          reason: fc.constantFrom('damaged', 'changed mind'),
          days: fc.constantFrom(0, 5, 40),
          value: fc.constantFrom(money(1500, 'EUR'), money(5000, 'SEK')),
        },
        { requiredKeys: [] },
      ),
      { nil: undefined, freq: 2 },
    ),
    items: fc.array(
      fc.record({
        sku: fc.constantFrom('A', 'B', 'ß'),
        quantity: fc.constantFrom(1, 2, 5),
        weight: fc.constantFrom(0, 500, 1500, 5000),
        price: fc.constantFrom('1.00', '15.00'),
        tags: fc.subarray(tagsUsed),
        size: fc.constantFrom([100, 80, 50], [500, 300, 300], [900, 10, 10], undefined),
        dangerousGoods: fc.constantFrom('', 'UN 1'),
      }),
      { maxLength: 3 },
    ),
  })
  .map(({ back, ...given }) => ({
    ...normaliseOrder(
      {
        id: '1',
        number: 'N-1',
        placedAt: '2026-11-20T08:00:00Z',
        wording: given.wording,
        paymentMethod: given.payment,
        currency: given.currency,
        ...(given.value ? { value: given.value } : {}),
        promisedBy: given.promised,
        buyer: { name: 'x', returning: given.returning },
        shipTo: {
          company: given.company,
          lines: [given.street],
          city: 'C',
          postcode: given.postcode,
          country: given.country,
        },
        items: given.items,
      },
      given.channel,
      new Map(given.handling.length > 0 ? [['A', { ...cardA, handling: given.handling }]] : []),
    ),
    ...(back ? { comesBack: back } : {}),
  }))

const valueFor = (type: FactType, op: Operator): fc.Arbitrary<Value | undefined> => {
  if (op === 'is missing' || op === 'is known') return fc.constant(undefined)
  if (type === 'yes/no') return fc.boolean()
  if (type === 'time') {
    if (op === 'before' || op === 'after')
      return fc.constantFrom('2026-11-19', '2026-11-20', '2026-11-21', '2026-12-01')
    if (op === 'weekday is') return fc.subarray(['Friday', 'Saturday', 'Tuesday'], { minLength: 1 })
    if (op === 'time of day between')
      return fc
        .constantFrom(['08:00', '09:00'], ['09:00', '12:00'], ['22:00', '09:30'])
        .map((ends) => ends as unknown as Value)
    return fc.constantFrom({ hours: 1 }, { hours: 100 }, { days: 1 }, { days: 30 })
  }
  const list = fc.array(
    fc.oneof(
      fc.constantFrom(...texts.slice(1), ...countries, ...tagsUsed, 'A', 'ß', 'ghent', 'small', 'damaged'),
      fc.constant({ group: 'g' }),
    ),
    { minLength: 1, maxLength: 3 },
  )
  if (takesList(op, type))
    return type === 'postcode'
      ? fc.array(fc.constantFrom('1', '9000', '1*', '0-5', '10-19', '1000-1999', 'SW1A 1AA', 'sw1*'), {
          minLength: 1,
          maxLength: 2,
        })
      : list
  if (op === 'matches') return fc.constantFrom('*', 'exp*', '*o*o*', '?ree', 'e?p*day', '', '????', 'οδοσ?', 'sw1a1??')
  if (isTextual(type))
    return fc.constantFrom(...texts, 'fr', 'BE', 'nl', 'a', 'ss', 'ghent', 'small', 'shop', 'οδοσ', 'sw1a 1aa', 'sw1a1')
  const number = fc.constantFrom(...numbers).map((n) => (type === 'money' ? money(n, 'EUR') : n))
  return op === 'between' ? fc.tuple(number, number).map((ends) => ends as unknown as Value) : number
}

const testOn = (list: readonly { id: string; type: FactType }[]): fc.Arbitrary<Condition> =>
  fc
    .constantFrom(...list)
    .chain(({ id, type }) =>
      fc
        .constantFrom(...operatorsOf[type])
        .chain((op) =>
          valueFor(type, op).map((value): Condition =>
            value === undefined ? { fact: id, op } : { fact: id, op, value },
          ),
        ),
    )

/** `checked`: only on what is settled before the stage, as the check wants it. */
function conditionFor(stage: Stage, checked: boolean): fc.Arbitrary<Condition> {
  const usable = facts.filter((fact) => !checked || !fact.settledBy || stageIndex(fact.settledBy) < stageIndex(stage))
  const tree = (leaf: fc.Arbitrary<Condition>): fc.Arbitrary<Condition> =>
    fc.letrec<{ node: Condition }>((tie) => ({
      node: fc.oneof(
        { maxDepth: 3, depthIdentifier: 'tree' },
        leaf,
        fc.array(tie('node'), { maxLength: 3 }).map((all): Condition => ({ all })),
        fc.array(tie('node'), { maxLength: 3 }).map((any): Condition => ({ any })),
        fc.array(tie('node'), { maxLength: 2 }).map((none): Condition => ({ none })),
      ),
    })).node
  const items = fc.record({
    items: fc.constantFrom('any' as const, 'every' as const, 'no' as const),
    where: tree(testOn(itemFacts)),
  })
  const sums = fc
    .constantFrom('lines' as const, 'quantity' as const, 'value' as const, 'weight' as const)
    .chain((sum) =>
      fc.constantFrom<Operator>('=', '≠', '<', '≥', 'between').chain((op) =>
        fc.record({
          sum: fc.constant(sum),
          where: tree(testOn(itemFacts)),
          op: fc.constant(op),
          value: valueFor(itemSums[sum].type, op) as fc.Arbitrary<Value>,
        }),
      ),
    )
  return tree(
    fc.oneof(
      { weight: 5, arbitrary: testOn(usable) },
      { weight: 1, arbitrary: items },
      { weight: 1, arbitrary: sums },
      { weight: 1, arbitrary: fc.constantFrom<Condition>({ saved: 'c1' }, { saved: 'c2' }) },
    ),
  )
}

const actionFor = (stage: Stage): fc.Arbitrary<Action> =>
  fc.constantFrom(...decisionKinds.filter((kind) => stageIndex(kind.stage) >= stageIndex(stage))).chain((kind) => {
    const values: Readonly<Record<DecisionType, fc.Arbitrary<unknown>>> = {
      tags: fc.subarray(tagsUsed, { minLength: 1 }),
      text: fc.constantFrom('one', 'two'),
      grams: fc.constantFrom(-800, -50, 60, 700),
      preset: fc.constantFrom('small', 'large', 'gone'),
      location: fc.constantFrom('ghent', 'leeds', 'gone', 'cheapest', 'nearest with stock'),
      hold: fc.constantFrom(
        'one',
        'two',
        { reason: 'later', until: { weekday: 'Friday' } },
        { reason: 'soon', until: { hours: 1 } },
        { reason: 'long', until: { days: 3 } },
        { reason: 'then', until: { day: '2026-11-23' } },
      ),
      'ship day': fc.constantFrom({ weekday: 'Monday' }, { day: '2026-11-25' }, { days: 2 }, { day: '2020-01-01' }),
      speed: fc.constantFrom('standard', 'express'),
      priority: fc.constantFrom('urgent', 'later'),
      size: fc.constantFrom([300, 200, 100], [900, 10, 10]),
      inserts: fc.subarray(
        [
          { name: 'Heat pack', weight: 60 },
          { name: 'heat  pack', weight: 60 },
          { name: 'Heat pack', weight: 90 },
          { name: 'Leaflet', weight: 0 },
        ],
        { minLength: 1 },
      ),
      duties: fc.constantFrom('DAP', 'DDP'),
      needs: fc.subarray(['tracking', 'live goods', 'duties paid'], { minLength: 1 }),
      days: fc.constantFrom(1, 2, 4),
      money: fc.constantFrom(money(500, 'EUR'), money(1000, 'GBP')),
      moment: fc.constantFrom('bought', 'dispatched'),
      insurance: fc.constantFrom(
        { cover: 'order value' },
        { cover: 'none' },
        { cover: 'amount', amount: money(5000, 'EUR') },
      ),
      'yes/no': fc.boolean(),
      picks: fc.subarray(
        [
          { by: 'service', service: 'a-fast' },
          { by: 'cheapest by promise', chance: 90 },
          { by: 'cheapest by promise' },
          { by: 'fastest' },
          { by: 'cheapest' },
        ],
        { minLength: 1 },
      ),
      'item tags': fc.subarray(tagsUsed, { minLength: 1 }),
      limits: fc.constantFrom({ weight: 2000 }, { pieces: 1 }, { longestSide: 300, pieces: 2 }),
      split: fc.constantFrom('when needed', 'when cheaper'),
      'address kind': fc.constantFrom('home', 'company', 'as the address says'),
      services: fc.subarray(['a-slow', 'a-fast', 'a'], { minLength: 1 }),
      slip: fc.constantFrom('plain', 'gone'),
      slips: fc.subarray(['plain', 'gone'], { minLength: 1 }),
      partner: fc.constantFrom('nobody', 'gone'),
      steps: fc.subarray(['collected', 'delivered', 'delayed'], { minLength: 1 }),
    }
    return values[kind.type].map((to): Action => ({ set: kind.id, to }))
  })

const ruleOf = (checked: boolean): fc.Arbitrary<Rule> =>
  fc.constantFrom(...stages).chain((stage) =>
    fc
      .record({
        id: fc.uuid(),
        stage: fc.constant(stage),
        name: fc.constant('rule'),
        on: fc.boolean(),
        finishStage: fc.boolean(),
        when: conditionFor(stage, checked),
        then: fc.array(actionFor(stage), { maxLength: 3 }),
        dates: fc.constantFrom(
          {},
          { from: '2026-11-20' },
          { until: '2026-11-19' },
          { from: '2026-11-01', until: '2026-11-30' },
        ),
      })
      .map(({ dates, ...rule }): Rule => ({ ...rule, ...dates })),
  )

const rulebookOf = (checked: boolean): fc.Arbitrary<Rulebook> =>
  fc
    .record({
      rules: fc.uniqueArray(ruleOf(checked), { maxLength: 40, selector: ({ id }) => id }),
      saved: testOn(facts.filter((fact) => !fact.settledBy)),
    })
    .map(({ rules, saved }) => ({
      name: 'made up',
      groups: [{ id: 'g', name: 'G', members: ['be', 'Free', 'live'] }],
      conditions: [
        { id: 'c1', name: 'One', when: saved },
        { id: 'c2', name: 'Two', when: { none: [{ saved: 'c1' }, { fact: 'company', op: 'is', value: true }] } },
      ],
      rules,
    }))

export const anyRulebook = rulebookOf(true)
/** A draft in the making: its rules may test what is not settled yet. */
export const anyDraft = rulebookOf(false)
