import { normaliseOrder, type RawOrder } from '@/core/order'
import { type Precedent, suggestRules } from './suggestRules'
import { readyWorld } from '@/core/world'
import { testWorld } from '../language/arbitraries.test-help'

const ready = readyWorld(testWorld)
let next = 0
const precedent = (more: Partial<RawOrder>, pins: Precedent['pins'], decided: Precedent['decided'] = {}): Precedent => {
  const id = ++next
  return {
    id,
    number: `N-${id}`,
    pins,
    decided,
    order: normaliseOrder(
      {
        id: String(id),
        number: `N-${id}`,
        placedAt: '2026-11-20T08:00:00Z',
        wording: 'Free',
        shipTo: { country: 'BE', lines: ['Kaai 1'], city: 'G', postcode: '9000' },
        items: [{ sku: 'A', weight: 500, price: '20' }],
        ...more,
      },
      'shop',
      new Map(),
    ),
  }
}
const fast = { picks: [{ by: 'service', service: 'a-fast' }] }
const slow = { picks: [{ by: 'service', service: 'a-slow' }] }

describe('suggestions from hand pins', () => {
  test('the pattern that tells the pinned orders from the others, with what speaks for and against it', () => {
    const orders = [
      ...[1, 2, 3, 4].map(() => precedent({ wording: '810' }, fast)),
      precedent({ wording: '810' }, {}, slow),
      ...[1, 2, 3, 4, 5].map(() => precedent({}, {}, slow)),
      precedent({ wording: '810' }, {}, fast),
    ]
    const [found] = suggestRules(orders, ready, 0)
    expect(found).toMatchObject({
      decision: 'picks',
      value: fast.picks,
      when: { all: [{ fact: 'wording', op: 'is', value: '810' }] },
      pinned: 4,
    })
    expect(found!.support).toHaveLength(4)
    expect(found!.against.map(({ number }) => number)).toEqual(['N-5'])
  })
  test('two tests together when one does not do', () => {
    const orders = [
      ...[1, 2, 3].map(() =>
        precedent({ wording: '810', shipTo: { country: 'NL', lines: ['Kaai 1'], city: 'G', postcode: '1000' } }, fast),
      ),
      ...[1, 2, 3, 4].map(() => precedent({ wording: '810' }, {}, slow)),
      ...[1, 2, 3, 4].map(() =>
        precedent({ shipTo: { country: 'NL', lines: ['Kaai 1'], city: 'G', postcode: '1000' } }, {}, slow),
      ),
    ]
    expect(suggestRules(orders, ready, 0)[0]!.when).toEqual({
      all: [
        { fact: 'wording', op: 'is', value: '810' },
        { fact: 'country', op: 'is', value: 'NL' },
      ],
    })
  })
  test('too few, or too many that were decided otherwise: nothing is said', () => {
    expect(
      suggestRules(
        [1, 2].map(() => precedent({ wording: '810' }, fast)),
        ready,
        0,
      ),
    ).toEqual([])
    expect(
      suggestRules(
        [...[1, 2, 3].map(() => precedent({}, fast)), ...Array.from({ length: 6 }, () => precedent({}, {}, slow))],
        ready,
        0,
      ),
    ).toEqual([])
    expect(
      suggestRules(
        [1, 2, 3].map(() => precedent({}, { hold: 'x', weight: 5 })),
        ready,
        0,
      ),
    ).toEqual([])
  })
})
