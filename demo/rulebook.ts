import type { Action, Condition, Rule, Rulebook, Stage } from '@/core/rulebook/language'
import { money } from '@/core/units'

const eur = (major: number): ReturnType<typeof money> => money(Math.round(major * 100), 'EUR')
const rule = (
  id: string,
  stage: Stage,
  name: string,
  when: Condition,
  then: readonly Action[],
  more: Partial<Rule> = {},
): Rule => ({ id, stage, name, on: true, when, then, ...more })
const anyItem = (where: Condition): Condition => ({ items: 'any', where })
const tagged = (...tags: string[]): Condition => ({ fact: 'tags', op: 'has any', value: tags })

/** The rulebook that the demo begins with. */
export const demoRulebook: Rulebook = {
  name: 'Mossgill rulebook',
  groups: [
    { id: 'road', name: 'road countries', members: ['BE', 'NL', 'LU', 'DE', 'FR', 'PL'] },
    {
      id: 'customs-union',
      name: 'customs union',
      members: [
        'AT',
        'BE',
        'BG',
        'HR',
        'CY',
        'CZ',
        'DK',
        'EE',
        'FI',
        'FR',
        'DE',
        'GR',
        'HU',
        'IE',
        'IT',
        'LV',
        'LT',
        'LU',
        'MT',
        'NL',
        'PL',
        'PT',
        'RO',
        'SK',
        'SI',
        'ES',
        'SE',
      ],
    },
    { id: 'benelux', name: 'Benelux', members: ['BE', 'NL', 'LU'] },
  ],
  rules: [
    rule('t-live', 'triage', 'Live plants', anyItem({ fact: 'item tags', op: 'has any', value: ['live'] }), [
      { set: 'tags', to: ['live'] },
      { set: 'weight', to: 60 },
    ]),
    rule(
      't-glass',
      'triage',
      'Glass',
      anyItem({
        all: [
          { fact: 'item tags', op: 'has any', value: ['glass'] },
          { fact: 'unit weight', op: '>', value: 1000 },
        ],
      }),
      [
        { set: 'tags', to: ['fragile'] },
        { set: 'weight', to: 350 },
      ],
    ),
    rule('t-dg', 'triage', 'Dangerous goods', anyItem({ fact: 'dangerous goods', op: 'is known' }), [
      { set: 'tags', to: ['dangerous goods'] },
    ]),
    rule(
      't-express',
      'triage',
      'Express wording',
      {
        any: [
          { fact: 'wording', op: 'contains', value: 'exp' },
          { fact: 'wording', op: 'matches', value: '*1-day*' },
        ],
      },
      [{ set: 'tags', to: ['express'] }],
    ),
    rule(
      't-hold-live-far',
      'triage',
      'Live plants outside the road countries',
      {
        all: [
          anyItem({ fact: 'item tags', op: 'has any', value: ['live'] }),
          { fact: 'country', op: 'is none of', value: [{ group: 'road' }] },
        ],
      },
      [{ set: 'hold', to: 'live plants cannot travel that far: ask the buyer' }],
    ),
    rule(
      't-hold-value',
      'triage',
      'Very dear orders',
      {
        all: [
          { fact: 'order value', op: '≥', value: eur(1500) },
          { fact: 'returning buyer', op: 'is', value: false },
        ],
      },
      [{ set: 'hold', to: 'new buyer above €1,500: check the payment' }],
    ),
    rule(
      'p-plants',
      'packing',
      'Plants in vented boxes',
      {
        all: [
          tagged('live'),
          { none: [tagged('fragile')] },
          { fact: 'weight', op: '≤', value: 5500 },
          { items: 'every', where: { fact: 'item longest side', op: '≤', value: 360 } },
        ],
      },
      [{ set: 'preset', to: 'box-plants' }],
    ),
    rule(
      'p-letters',
      'packing',
      'Small flat things as letters',
      {
        all: [
          { items: 'every', where: { fact: 'item tags', op: 'has any', value: ['letter'] } },
          { fact: 'quantity', op: '≤', value: 4 },
        ],
      },
      [{ set: 'preset', to: 'letter' }],
    ),
    rule(
      'p-tank-60',
      'packing',
      'Tanks up to 60 l',
      anyItem({ fact: 'sku', op: 'is one of', value: ['TNK-060', 'TNK-NANO'] }),
      [{ set: 'preset', to: 'double-60' }],
    ),
    rule(
      'p-split',
      'packing',
      'Large orders in smaller parcels when that is cheaper',
      { fact: 'items volume', op: '≥', value: 20 },
      [{ set: 'split', to: 'when cheaper' }],
    ),
    rule(
      'p-heat',
      'packing',
      'Heat pack in winter',
      tagged('live'),
      [{ set: 'inserts', to: [{ name: 'Heat pack', weight: 60 }] }],
      { from: '2026-10-15', until: '2027-03-31' },
    ),
    rule(
      'o-uk',
      'origin',
      'British orders from Leeds',
      { all: [{ fact: 'country', op: 'is', value: 'GB' }, { none: [tagged('fragile', 'live')] }] },
      [{ set: 'location', to: 'leeds' }],
    ),
    rule(
      'o-large',
      'origin',
      'Large goods from Poznań',
      {
        any: [
          { fact: 'parcel weight', op: '>', value: 18_000 },
          { fact: 'country', op: 'is', value: 'PL' },
        ],
      },
      [{ set: 'location', to: 'poznan' }],
    ),
    rule('s-insure', 'protection', 'Insure dear orders', { fact: 'order value', op: '≥', value: eur(250) }, [
      { set: 'insurance', to: { cover: 'order value' } },
    ]),
    rule('s-sign', 'protection', 'Signature for dear orders', { fact: 'order value', op: '≥', value: eur(400) }, [
      { set: 'signature', to: true },
    ]),
    rule('v-live', 'service', 'Live plants arrive fast', tagged('live'), [
      { set: 'barred', to: ['corvid-parcel', 'corvid-letter'] },
      { set: 'picks', to: [{ by: 'service', service: 'heron-road' }, { by: 'fastest' }] },
    ]),
    rule(
      'v-express',
      'service',
      'Express goes by morning',
      { any: [tagged('express'), { fact: 'speed', op: 'is one of', value: ['express', 'next day', 'same day'] }] },
      [{ set: 'picks', to: [{ by: 'service', service: 'heron-morning' }, { by: 'fastest' }] }],
    ),
    rule(
      'v-dear-tracked',
      'service',
      'No untracked letters above €40',
      { fact: 'order value', op: '>', value: eur(40) },
      [{ set: 'barred', to: ['corvid-letter'] }],
    ),
    rule('v-rest', 'service', 'Everything else', { all: [] }, [
      { set: 'picks', to: [{ by: 'cheapest by promise' }, { by: 'cheapest' }] },
    ]),
    rule(
      'd-trade',
      'papers',
      'Trade slip',
      { fact: 'channel', op: 'is', value: 'trade-desk' },
      [
        { set: 'slip', to: 'trade' },
        { set: 'reference', to: 'TRADE {number}' },
      ],
      { finishStage: true },
    ),
    rule('d-live', 'papers', 'Care sheet with plants', tagged('live'), [{ set: 'slip', to: 'live-plants' }]),
    rule(
      'd-return',
      'papers',
      'Return label with lamps by road',
      {
        all: [
          anyItem({ fact: 'item tags', op: 'has any', value: ['lamp'] }),
          { fact: 'service', op: 'is', value: 'heron-road' },
        ],
      },
      [{ set: 'returnLabel', to: true }],
    ),
    rule('d-standard', 'papers', 'Standard slip', { all: [] }, [{ set: 'slip', to: 'standard' }]),
  ],
}
