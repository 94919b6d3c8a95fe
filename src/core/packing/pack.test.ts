import { measured, grams, type Plain, type Size } from '@/core/units'
import fc from 'fast-check'
import { type Handling, handlings, type Item, type ItemCard, normaliseOrder } from '@/core/order'
import { itemsVolume, itemsWeight, layOut, pack, type Packed, type PackingWishes, packSmaller } from './pack'
import { mayHoldEach } from './goods'
import { type PackagePreset, parcelsPhrase } from './parcel'

const presets = measured<PackagePreset[]>([
  { id: 'm', name: 'M', inner: [300, 200, 150], outer: [310, 210, 160], tare: 200, limit: 5000 },
  { id: 's', name: 'S', inner: [200, 100, 100], outer: [210, 110, 110], tare: 100, limit: 2000 },
])
interface Given {
  readonly sku?: string
  readonly quantity?: number
  readonly weight?: number
  readonly size?: readonly number[]
  readonly tags?: readonly string[]
  readonly handling?: readonly Handling[]
}
const itemsOf = (...given: readonly Given[]): readonly Item[] => {
  const cards = new Map(
    given.map((item, i): [string, ItemCard] => [
      item.sku ?? `I${i}`,
      {
        sku: item.sku ?? `I${i}`,
        title: '',
        weight: grams(0),
        size: measured<Size>([1, 1, 1]),
        tags: [],
        dangerousGoods: '',
        hsCode: '',
        origin: '',
        ...(item.handling ? { handling: item.handling } : {}),
      },
    ]),
  )
  return normaliseOrder(
    {
      id: '1',
      number: '1',
      items: given.map((item, i) => ({
        sku: item.sku ?? `I${i}`,
        quantity: item.quantity ?? 1,
        weight: item.weight ?? 100,
        size: item.size ?? [50, 50, 50],
        tags: item.tags ?? [],
      })),
    },
    'c',
    cards,
  ).items
}
const wishes = (more: Partial<Plain<PackingWishes>> = {}) =>
  measured<PackingWishes>({ preset: null, added: 0, ...more })
const shape = (packed: Packed): unknown =>
  packed.ok
    ? packed.parcels.map((parcel) => [
        parcel.preset,
        ...parcel.contents.map(({ item, quantity }) => `${quantity}×${item}`),
      ])
    : packed.code

test('the smallest preset that fits is taken, with outer size, tare and correction', () => {
  expect(pack(itemsOf({ weight: 500, size: [100, 180, 50] }), presets, wishes({ added: 60 }))).toEqual({
    ok: true,
    parcels: [
      {
        preset: 's',
        size: [210, 110, 110],
        weight: 660,
        longestSide: 210,
        girth: 650,
        volume: 210 * 110 * 110,
        contents: [{ item: 0, quantity: 1 }],
      },
    ],
  })
  expect(shape(pack(itemsOf({ weight: 500, size: [250, 80, 50] }), presets, wishes()))).toEqual([['m', '1×0']])
  expect(shape(pack(itemsOf({ weight: 2500 }), presets, wishes()))).toEqual([['m', '1×0']])
  // Three flat things go flat on each other, though their longest sides together would not.
  expect(shape(pack(itemsOf({ quantity: 3, size: [190, 95, 30] }), presets, wishes()))).toEqual([['s', '3×0']])
})

test('a decided preset is taken as it is, as often as it is needed, unless it does not exist or cannot bear a piece', () => {
  expect(shape(pack(itemsOf({ weight: 500 }), presets, wishes({ preset: 'm' })))).toEqual([['m', '1×0']])
  expect(shape(pack(itemsOf({ weight: 1500, quantity: 3 }), presets, wishes({ preset: 's' })))).toEqual([
    ['s', '1×0'],
    ['s', '1×0'],
    ['s', '1×0'],
  ])
  expect(pack(itemsOf({ weight: 500 }), presets, wishes({ preset: 'gone' }))).toMatchObject({
    ok: false,
    code: 'unknown-preset',
  })
  expect(pack(itemsOf({ weight: 2500 }), presets, wishes({ preset: 's' }))).toMatchObject({
    code: 'too-full',
    sentence: 'A piece weighs 2.5 kg, 500 g more than S takes.',
  })
})

test('what does not go into one parcel goes into several, as few as can be', () => {
  expect(shape(pack(itemsOf({ size: [150, 150, 150], quantity: 4 }), presets, wishes()))).toEqual([
    ['m', '2×0'],
    ['m', '2×0'],
  ])
  expect(shape(pack(itemsOf({ weight: 4000, quantity: 2 }), presets, wishes()))).toEqual([
    ['m', '1×0'],
    ['m', '1×0'],
  ])
  const many = pack(itemsOf({ weight: 10, size: [50, 50, 50], quantity: 500 }), presets, wishes())
  expect(many.ok && many.parcels.reduce((sum, parcel) => sum + parcel.contents[0]!.quantity, 0)).toBe(500)
  expect(pack(itemsOf({ weight: 10, size: [290, 190, 140], quantity: 100_000 }), presets, wishes())).toMatchObject({
    code: 'too-many-parcels',
  })
})

test('limits of a rule are kept by each parcel, packaging included', () => {
  expect(shape(pack(itemsOf({ weight: 700, quantity: 4 }), presets, wishes({ limits: { weight: 1600 } })))).toEqual([
    ['s', '2×0'],
    ['s', '2×0'],
  ])
  expect(shape(pack(itemsOf({ quantity: 3 }), presets, wishes({ limits: { pieces: 1 } })))).toEqual([
    ['s', '1×0'],
    ['s', '1×0'],
    ['s', '1×0'],
  ])
  expect(pack(itemsOf({ size: [250, 50, 50] }), presets, wishes({ limits: { longestSide: 250 } }))).toMatchObject({
    ok: false,
    sentence: 'No preset is long enough: the longest item has 25 cm, S 20 cm.',
  })
})

test('what must not share a parcel does not', () => {
  const items = itemsOf({ tags: ['live'] }, { tags: ['glass'] }, {}, { tags: ['live'] })
  expect(shape(pack(items, presets, wishes({ apart: ['live'] })))).toEqual([
    ['s', '1×0', '1×3'],
    ['s', '1×1', '1×2'],
  ])
  expect(
    shape(
      pack(itemsOf({ handling: ['own box'], quantity: 2, weight: 900, size: [400, 300, 200] }, {}), presets, wishes()),
    ),
  ).toEqual([
    ['', '1×0'],
    ['', '1×0'],
    ['s', '1×1'],
  ])
  expect(shape(pack(itemsOf({ handling: ['alone'] }, {}), presets, wishes()))).toEqual([
    ['s', '1×0'],
    ['s', '1×1'],
  ])
})

test('nothing stands on what is fragile, and this side stays up', () => {
  const tall = itemsOf({ size: [100, 100, 180], handling: ['this side up'] })
  expect(shape(pack(tall, presets, wishes()))).toBe('no-preset')
  expect(shape(pack(itemsOf({ size: [100, 100, 140], handling: ['this side up'] }), presets, wishes()))).toEqual([
    ['m', '1×0'],
  ])
  // Two plates fill S only when one stands on the other.
  expect(shape(pack(itemsOf({ size: [190, 95, 40], quantity: 2 }), [presets[1]!], wishes()))).toEqual([['s', '2×0']])
  expect(
    shape(
      pack(
        itemsOf({ size: [190, 95, 40], quantity: 2, handling: ['fragile', 'this side up'] }),
        [presets[1]!],
        wishes(),
      ),
    ),
  ).toEqual([
    ['s', '1×0'],
    ['s', '1×0'],
  ])
})

test('what fits nowhere is told with the nearest miss', () => {
  expect(pack(itemsOf({ weight: 6000 }), presets, wishes())).toMatchObject({
    sentence: 'No preset takes 6 kg; M takes most, and it is 1 kg over.',
  })
  expect(pack(itemsOf({ size: [400, 10, 10] }), presets, wishes())).toMatchObject({
    sentence: 'No preset is long enough: the longest item has 40 cm, M 30 cm.',
  })
  expect(pack(itemsOf({ size: [300, 250, 10] }), presets, wishes())).toMatchObject({
    code: 'no-preset',
    sentence: 'No preset holds an item of 30 cm × 25 cm × 1 cm; the largest, M, has 30 cm × 20 cm × 15 cm inside.',
  })
  expect(pack(itemsOf({}), [], wishes())).toMatchObject({ sentence: 'There is no package preset at all: add one.' })
  expect(
    pack(
      itemsOf({}),
      presets.map((preset) => ({ ...preset, stock: 0 })),
      wishes(),
    ),
  ).toMatchObject({ ok: false })
  expect(itemsVolume(itemsOf({ size: [10, 10, 10], quantity: 3 }))).toBe(3000)
})

test('smaller ways to pack the same are offered, each once', () => {
  const items = itemsOf({ size: [140, 90, 90], quantity: 2 })
  const first = pack(items, presets, wishes())
  expect(shape(first)).toEqual([['m', '2×0']])
  const ways = first.ok ? packSmaller(items, presets, wishes(), first.parcels) : []
  expect(ways.map((parcels) => parcels.map((parcel) => parcel.preset))).toEqual([['s', 's']])
  expect(parcelsPhrase(ways[0]!, (id) => id.toUpperCase())).toBe('2 × S, 400 g')
  expect(packSmaller(items, presets, wishes({ preset: 'm' }), first.ok ? first.parcels : [])).toEqual([])
})

const anyGiven: fc.Arbitrary<Given> = fc.record({
  quantity: fc.integer({ min: 1, max: 6 }),
  weight: fc.integer({ min: 0, max: 3000 }),
  size: fc.tuple(fc.integer({ min: 5, max: 320 }), fc.integer({ min: 5, max: 200 }), fc.integer({ min: 5, max: 150 })),
  tags: fc.subarray(['live', 'glass']),
  handling: fc.subarray([...handlings], { maxLength: 2 }),
})

test('every piece is packed once, within size, weight and limits, whatever the order', () => {
  fc.assert(
    fc.property(
      fc.array(anyGiven, { minLength: 1, maxLength: 6 }),
      fc.record({
        weight: fc.option(fc.integer({ min: 1000, max: 6000 }), { nil: undefined }),
        pieces: fc.option(fc.integer({ min: 1, max: 4 }), { nil: undefined }),
      }),
      fc.subarray(['live', 'glass']),
      (given, limits, apart) => {
        const items = itemsOf(...given)
        const packed = pack(items, presets, wishes({ limits: JSON.parse(JSON.stringify(limits)) as object, apart }))
        if (!packed.ok) return
        items.forEach((item, index) =>
          expect(
            packed.parcels
              .flatMap((parcel) => parcel.contents)
              .filter((content) => content.item === index)
              .reduce((sum, { quantity }) => sum + quantity, 0),
          ).toBe(item.quantity),
        )
        for (const parcel of packed.parcels) {
          const inside = parcel.contents.map(({ item, quantity }) => ({ ...items[item]!, quantity }))
          const preset = presets.find(({ id }) => id === parcel.preset)
          expect(parcel.weight).toBe(itemsWeight(inside) + (preset?.tare ?? 0))
          if (!preset) continue
          expect(itemsWeight(inside)).toBeLessThanOrEqual(preset.limit)
          expect(parcel.weight).toBeLessThanOrEqual(limits.weight ?? Infinity)
          expect(inside.reduce((sum, { quantity }) => sum + quantity, 0)).toBeLessThanOrEqual(limits.pieces ?? Infinity)
          for (const tag of apart) expect(new Set(inside.map((item) => item.tags.includes(tag))).size).toBe(1)
          checkLayout(items, parcel, preset)
        }
      },
    ),
    { numRuns: 300 },
  )
})

test('what is fragile does not go under a piece that stands out above it', () => {
  const items = itemsOf(
    { size: [157, 157, 5], weight: 0 },
    { size: [5, 5, 5], weight: 0, handling: ['fragile'] },
    { size: [144, 7, 123], weight: 0 },
  )
  const packed = pack(items, presets, wishes())
  if (packed.ok)
    for (const parcel of packed.parcels)
      checkLayout(
        items,
        parcel,
        presets.find(({ id }) => id === parcel.preset)!,
      )
  expect(packed.ok).toBe(true)
})

function checkLayout(items: readonly Item[], parcel: Parameters<typeof layOut>[1], preset: PackagePreset): void {
  const placed = layOut(items, parcel, presets)!.filter(({ unit }) => unit.volume > 0)
  const end = (i: number, axis: 0 | 1 | 2): number => placed[i]!.at[axis] + placed[i]!.size[axis]
  placed.forEach((one, i) => {
    for (const axis of [0, 1, 2] as const) expect(end(i, axis)).toBeLessThanOrEqual(preset.inner[axis])
    expect([...one.size].sort()).toEqual([...one.unit.size].sort())
    if (one.unit.upright) expect(one.size[2]).toBe(one.unit.size[2])
    placed.forEach((other, k) => {
      if (k <= i) return
      const apart = ([0, 1, 2] as const).some((axis) => end(i, axis) <= other.at[axis] || end(k, axis) <= one.at[axis])
      expect(apart).toBe(true)
      const above = (lower: typeof one, upper: typeof one): boolean =>
        lower.unit.fragile &&
        upper.at[2] >= lower.at[2] + lower.size[2] &&
        ([0, 1] as const).every(
          (axis) =>
            upper.at[axis] < lower.at[axis] + lower.size[axis] && lower.at[axis] < upper.at[axis] + upper.size[axis],
        )
      expect(above(one, other) || above(other, one)).toBe(false)
    })
  })
}

/* What an independent check of 4,800 packings found. */
const weights = (packed: Packed): readonly number[] => (packed.ok ? packed.parcels.map(({ weight }) => weight) : [])

test('tags that are kept apart are compared without regard to case', () => {
  expect(
    shape(pack(itemsOf({ tags: ['Live'] }, { tags: [] }, { tags: ['live '] }), presets, wishes({ apart: ['LIVE'] }))),
  ).toHaveLength(2)
})

test('corrections and inserts count in the weight that a parcel may have, and in what a box bears', () => {
  // 4 × 1,200 g go as 3 + 1 under 4 kg with their boxes; 90 g of insert fit only beside the single piece.
  const packed = pack(itemsOf({ weight: 1200, quantity: 4 }), presets, wishes({ added: 90, limits: { weight: 3850 } }))
  expect(weights(packed).every((weight) => weight <= 3850)).toBe(true)
  expect(weights(packed).reduce((sum, weight) => sum + weight, 0)).toBe(
    4 * 1200 + 90 + (packed.ok ? packed.parcels.reduce((sum, { preset }) => sum + (preset === 'm' ? 200 : 100), 0) : 0),
  )
  // 1,990 g are no more than S bears; with 40 g of insert they go in M.
  expect(shape(pack(itemsOf({ weight: 1990 }), presets, wishes({ added: 40 })))).toEqual([['m', '1×0']])
  expect(pack(itemsOf({ weight: 900 }), presets, wishes({ added: 500, limits: { weight: 1200 } }))).toMatchObject({
    ok: false,
    cause: 'parcelLimits',
  })
  expect(pack(itemsOf({ weight: 1990 }), presets, wishes({ preset: 's', added: 40 }))).toMatchObject({
    ok: false,
    code: 'too-full',
  })
})

test('limits are kept by a named preset, by a given size, and by goods in their own box', () => {
  expect(pack(itemsOf({}), presets, wishes({ preset: 'm', limits: { longestSide: 250 } }))).toMatchObject({
    ok: false,
    cause: 'parcelLimits',
    sentence: 'No preset keeps to the longest side that a parcel may have (25 cm).',
  })
  expect(
    shape(pack(itemsOf({ quantity: 3 }), presets, wishes({ dimensions: [400, 300, 200], limits: { pieces: 1 } }))),
  ).toEqual([
    ['', '1×0'],
    ['', '1×0'],
    ['', '1×0'],
  ])
  expect(
    weights(
      pack(
        itemsOf({ weight: 700, quantity: 4 }),
        presets,
        wishes({ dimensions: [400, 300, 200], limits: { weight: 1500 } }),
      ),
    ),
  ).toEqual([1400, 1400])
  expect(
    shape(pack(itemsOf({ tags: ['live'] }, {}), presets, wishes({ dimensions: [400, 300, 200], apart: ['live'] }))),
  ).toHaveLength(2)
  expect(
    shape(pack(itemsOf({ handling: ['alone'] }, {}), presets, wishes({ dimensions: [400, 300, 200] }))),
  ).toHaveLength(2)
  expect(
    shape(
      pack(
        itemsOf({ handling: ['own box'], size: [300, 300, 300] }, {}),
        presets,
        wishes({ dimensions: [400, 300, 200] }),
      ),
    ),
  ).toEqual([
    ['', '1×0'],
    ['', '1×1'],
  ])
  expect(
    pack(
      itemsOf({ handling: ['own box'], weight: 12_000, size: [300, 300, 300] }),
      presets,
      wishes({ limits: { weight: 10_000 } }),
    ),
  ).toMatchObject({
    ok: false,
    cause: 'parcelLimits',
    sentence: 'A piece weighs 12 kg, 2 kg more than a parcel may weigh (10 kg).',
  })
  expect(
    pack(itemsOf({ handling: ['own box'], size: [700, 300, 300] }), presets, wishes({ limits: { longestSide: 600 } })),
  ).toMatchObject({ ok: false, cause: 'parcelLimits' })
})

test('a negative correction comes off all parcels in proportion, and none weighs nothing', () => {
  const four = pack(itemsOf({ weight: 1500, quantity: 4 }), [presets[1]!], wishes({ added: -3000 }))
  expect(weights(four)).toEqual([850, 850, 850, 850])
  expect(
    weights(pack(itemsOf({ handling: ['own box'], weight: 1000, quantity: 2 }), presets, wishes({ added: -5000 }))),
  ).toEqual([1, 1])
  fc.assert(
    fc.property(
      fc.array(anyGiven, { minLength: 1, maxLength: 4 }),
      fc.integer({ min: -4000, max: 3000 }),
      (given, added) => {
        const items = itemsOf(...given)
        const packed = pack(items, presets, wishes({ added }))
        if (!packed.ok) return
        const tare = packed.parcels.reduce(
          (sum, { preset }) => sum + (presets.find(({ id }) => id === preset)?.tare ?? 0),
          0,
        )
        const total = packed.parcels.reduce((sum, { weight }) => sum + weight, 0)
        const wanted = Math.max(0, itemsWeight(items) + added) + tare
        // Never too light; too heavy by a gram at most, where a parcel would weigh nothing.
        expect(total).toBeGreaterThanOrEqual(itemsWeight(items) === 0 ? Math.min(total, wanted) : wanted)
        if (itemsWeight(items) > 0) expect(total).toBeLessThanOrEqual(wanted + packed.parcels.length)
      },
    ),
  )
})

test('a named preset does not lay down what must stand upright; a single piece may fill a box wholly', () => {
  expect(
    pack(itemsOf({ size: [100, 100, 180], handling: ['this side up'] }), presets, wishes({ preset: 'm' })),
  ).toMatchObject({
    ok: false,
    sentence:
      'No preset holds an item of 10 cm × 10 cm × 18 cm that must stand upright; the largest, M, has 30 cm × 20 cm × 15 cm inside.',
  })
  expect(
    shape(pack(itemsOf({ size: [140, 90, 140], handling: ['this side up'] }), presets, wishes({ preset: 'm' }))),
  ).toEqual([['m', '1×0']])
  expect(shape(pack(itemsOf({ size: [200, 100, 100] }), presets, wishes()))).toEqual([['s', '1×0']])
  expect(shape(pack(itemsOf({ size: [300, 200, 150] }), presets, wishes()))).toEqual([['m', '1×0']])
  expect(shape(pack(itemsOf({ size: [300, 200, 150], quantity: 60, weight: 1 }), presets, wishes()))).toHaveLength(60)
})

test('every piece in a picture rests on the bottom, or with half of its base or more on others', () => {
  fc.assert(
    fc.property(fc.array(anyGiven, { minLength: 1, maxLength: 6 }), (given) => {
      const items = itemsOf(...given)
      const packed = pack(items, presets, wishes())
      for (const parcel of packed.ok ? packed.parcels : []) {
        const placed = (layOut(items, parcel, presets) ?? []).filter(({ unit }) => unit.volume > 0)
        for (const { at, size } of placed) {
          if (at[2] === 0) continue
          const borne = placed
            .filter((other) => other.at[2] + other.size[2] === at[2])
            .reduce(
              (sum, other) =>
                sum +
                Math.max(0, Math.min(at[0] + size[0], other.at[0] + other.size[0]) - Math.max(at[0], other.at[0])) *
                  Math.max(0, Math.min(at[1] + size[1], other.at[1] + other.size[1]) - Math.max(at[1], other.at[1])),
              0,
            )
          expect(borne * 2).toBeGreaterThanOrEqual(size[0] * size[1])
        }
      }
    }),
    { numRuns: 400 },
  )
})

const roomy = measured<PackagePreset[]>([
  ...presets,
  { id: 'l', name: 'L', inner: [400, 350, 350], outer: [410, 360, 360], tare: 500, limit: 20_000, cost: 90 },
])

test('up to six pieces go in the fewest parcels that any way to share them out allows', () => {
  expect(shape(pack(itemsOf({ size: [269, 167, 349], quantity: 4, weight: 100 }), roomy, wishes()))).toEqual([
    ['l', '2×0'],
    ['l', '2×0'],
  ])
  const piece = fc.record({
    size: fc.tuple(
      fc.integer({ min: 60, max: 340 }),
      fc.integer({ min: 60, max: 340 }),
      fc.integer({ min: 60, max: 340 }),
    ),
    weight: fc.integer({ min: 100, max: 4000 }),
    quantity: fc.integer({ min: 1, max: 2 }),
  })
  fc.assert(
    fc.property(fc.array(piece, { minLength: 1, maxLength: 3 }), (given) => {
      const items = itemsOf(...given)
      const packed = pack(items, roomy, wishes())
      if (!packed.ok) return
      const units = items.flatMap((item, i) => Array.from({ length: item.quantity }, () => i))
      const inOne = (share: readonly number[]): boolean => {
        const single = pack(
          [...new Set(share)].map((i) => ({ ...items[i]!, quantity: share.filter((other) => other === i).length })),
          roomy,
          wishes(),
        )
        return single.ok && single.parcels.length === 1
      }
      // Every way to part them in two, asked by brute force: if one of them does, two are enough.
      const ways = Array.from(
        { length: 2 ** units.length },
        (_, bits) => [units.filter((__, i) => bits & (1 << i)), units.filter((__, i) => !(bits & (1 << i)))] as const,
      )
      const inTwo = ways.some(([a, b]) => a.length > 0 && b.length > 0 && inOne(a) && inOne(b))
      const enough = inOne(units) ? 1 : [3, 2][Number(inTwo)]
      expect(Math.min(3, packed.parcels.length)).toBe(enough)
    }),
    { numRuns: 60 },
  )
})

test('the order of the lines changes nothing; the stock of boxes is counted down', () => {
  fc.assert(
    fc.property(
      fc.array(anyGiven, { minLength: 2, maxLength: 5 }),
      fc.integer({ min: -300, max: 300 }),
      (given, added) => {
        const named = given.map((one, i) => ({ ...one, sku: `S${i}` }))
        const of = (packed: Packed): unknown =>
          packed.ok ? packed.parcels.map(({ preset, weight, size }) => [preset, weight, ...size].join()).sort() : packed
        expect(of(pack(itemsOf(...named), roomy, wishes({ added })))).toEqual(
          of(pack(itemsOf(...[...named].reverse()), roomy, wishes({ added }))),
        )
      },
    ),
  )
  const one = presets.map((preset) => ({ ...preset, stock: preset.id === 's' ? 2 : 9 }))
  expect(
    shape(pack(itemsOf({ weight: 1500, quantity: 4, size: [150, 90, 90] }), one, wishes({ limits: { pieces: 1 } }))),
  ).toEqual([
    ['s', '1×0'],
    ['s', '1×0'],
    ['m', '1×0'],
    ['m', '1×0'],
  ])
  expect(
    pack(
      itemsOf({}),
      presets.map((preset) => ({ ...preset, stock: 0 })),
      wishes(),
    ),
  ).toMatchObject({
    ok: false,
    cause: 'preset',
    sentence: 'No package is left: M, S are out of stock. Order more, or correct the stock.',
  })
})

test('several pieces of a SKU that goes alone may share a box; nothing stands on what is not stackable', () => {
  expect(shape(pack(itemsOf({ handling: ['alone'], quantity: 2 }, {}), presets, wishes()))).toEqual([
    ['s', '2×0'],
    ['s', '1×1'],
  ])
  expect(
    shape(pack(itemsOf({ size: [190, 95, 40], quantity: 2, handling: ['not stackable'] }), [presets[1]!], wishes())),
  ).toHaveLength(2)
})

test('a preset that may not hold a piece by itself is never packed', () => {
  fc.assert(
    fc.property(fc.array(anyGiven, { minLength: 1, maxLength: 3 }), fc.constantFrom(...presets), (given, preset) => {
      const items = itemsOf(...given)
      const packed = pack(items, presets, wishes({ preset: preset.id }))
      if (packed.ok) expect(mayHoldEach(preset, items)).toBe(true)
    }),
    { numRuns: 500 },
  )
  const long = { size: [260, 20, 20] }
  expect(presets.map((preset) => mayHoldEach(preset, itemsOf(long)))).toEqual([true, false])
  expect(presets.map((preset) => mayHoldEach(preset, itemsOf({ weight: 2001 })))).toEqual([true, false])
  expect(mayHoldEach(presets[1]!, itemsOf({ ...long, handling: ['own box'] }))).toBe(true)
})
