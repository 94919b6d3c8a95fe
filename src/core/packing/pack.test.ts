import fc from 'fast-check'
import { handlings, normaliseOrder, type Handling, type Item, type ItemCard } from '@/core/order'
import { itemsVolume, itemsWeight, layOut, pack, packSmaller, parcelsPhrase, type Packed, type PackagePreset, type PackingWishes } from './index'

const presets: PackagePreset[] = [
  { id: 'm', name: 'M', inner: [300, 200, 150], outer: [310, 210, 160], tare: 200, limit: 5000 },
  { id: 's', name: 'S', inner: [200, 100, 100], outer: [210, 110, 110], tare: 100, limit: 2000 },
]
interface Given { readonly sku?: string; readonly quantity?: number; readonly weight?: number; readonly size?: readonly number[]; readonly tags?: readonly string[]; readonly handling?: readonly Handling[] }
const itemsOf = (...given: readonly Given[]): readonly Item[] => {
  const cards = new Map(given.map((item, i): [string, ItemCard] => [item.sku ?? `I${i}`, { sku: item.sku ?? `I${i}`, title: '', weight: 0, size: [1, 1, 1], tags: [], dangerousGoods: '', hsCode: '', origin: '', ...(item.handling ? { handling: item.handling } : {}) }]))
  return normaliseOrder({ id: '1', number: '1', items: given.map((item, i) => ({ sku: item.sku ?? `I${i}`, quantity: item.quantity ?? 1, weight: item.weight ?? 100, size: item.size ?? [50, 50, 50], tags: item.tags ?? [] })) }, 'c', cards).items
}
const wishes = (more: Partial<PackingWishes> = {}): PackingWishes => ({ preset: null, added: 0, ...more })
const shape = (packed: Packed): unknown => (packed.ok ? packed.parcels.map((parcel) => [parcel.preset, ...parcel.contents.map(({ item, quantity }) => `${quantity}×${item}`)]) : packed.code)

test('the smallest preset that fits is taken, with outer size, tare and correction', () => {
  expect(pack(itemsOf({ weight: 500, size: [100, 180, 50] }), presets, wishes({ added: 60 }))).toEqual({ ok: true, parcels: [{ preset: 's', size: [210, 110, 110], weight: 660, longestSide: 210, girth: 650, volume: 210 * 110 * 110, contents: [{ item: 0, quantity: 1 }] }] })
  expect(shape(pack(itemsOf({ weight: 500, size: [250, 80, 50] }), presets, wishes()))).toEqual([['m', '1×0']])
  expect(shape(pack(itemsOf({ weight: 2500 }), presets, wishes()))).toEqual([['m', '1×0']])
  // Three flat things go flat on each other, though their longest sides together would not.
  expect(shape(pack(itemsOf({ quantity: 3, size: [190, 95, 30] }), presets, wishes()))).toEqual([['s', '3×0']])
})

test('a decided preset is taken as it is, as often as it is needed, unless it does not exist or cannot bear a piece', () => {
  expect(shape(pack(itemsOf({ weight: 500 }), presets, wishes({ preset: 'm' })))).toEqual([['m', '1×0']])
  expect(shape(pack(itemsOf({ weight: 1500, quantity: 3 }), presets, wishes({ preset: 's' })))).toEqual([['s', '1×0'], ['s', '1×0'], ['s', '1×0']])
  expect(pack(itemsOf({ weight: 500 }), presets, wishes({ preset: 'gone' }))).toMatchObject({ ok: false, code: 'unknown-preset' })
  expect(pack(itemsOf({ weight: 2500 }), presets, wishes({ preset: 's' }))).toMatchObject({ code: 'too-full', sentence: 'A piece weighs 2.5 kg, 500 g more than S takes.' })
})

test('what does not go into one parcel goes into several, as few as can be', () => {
  expect(shape(pack(itemsOf({ size: [150, 150, 150], quantity: 4 }), presets, wishes()))).toEqual([['m', '2×0'], ['m', '2×0']])
  expect(shape(pack(itemsOf({ weight: 4000, quantity: 2 }), presets, wishes()))).toEqual([['m', '1×0'], ['m', '1×0']])
  const many = pack(itemsOf({ weight: 10, size: [50, 50, 50], quantity: 500 }), presets, wishes())
  expect(many.ok && many.parcels.reduce((sum, parcel) => sum + parcel.contents[0]!.quantity, 0)).toBe(500)
  expect(pack(itemsOf({ weight: 10, size: [290, 190, 140], quantity: 100_000 }), presets, wishes())).toMatchObject({ code: 'too-many-parcels' })
})

test('limits of a rule are kept by each parcel, packaging included', () => {
  expect(shape(pack(itemsOf({ weight: 700, quantity: 4 }), presets, wishes({ limits: { weight: 1600 } })))).toEqual([['s', '2×0'], ['s', '2×0']])
  expect(shape(pack(itemsOf({ quantity: 3 }), presets, wishes({ limits: { pieces: 1 } })))).toEqual([['s', '1×0'], ['s', '1×0'], ['s', '1×0']])
  expect(pack(itemsOf({ size: [250, 50, 50] }), presets, wishes({ limits: { longestSide: 250 } }))).toMatchObject({ ok: false, sentence: 'No preset is long enough: the longest item has 25 cm, S 20 cm.' })
})

test('what must not share a parcel does not', () => {
  const items = itemsOf({ tags: ['live'] }, { tags: ['glass'] }, {}, { tags: ['live'] })
  expect(shape(pack(items, presets, wishes({ apart: ['live'] })))).toEqual([['s', '1×0', '1×3'], ['s', '1×1', '1×2']])
  expect(shape(pack(itemsOf({ handling: ['own box'], quantity: 2, weight: 900, size: [400, 300, 200] }, {}), presets, wishes()))).toEqual([['', '1×0'], ['', '1×0'], ['s', '1×1']])
  expect(shape(pack(itemsOf({ handling: ['alone'] }, {}), presets, wishes()))).toEqual([['s', '1×0'], ['s', '1×1']])
})

test('nothing stands on what is fragile, and this side stays up', () => {
  const tall = itemsOf({ size: [100, 100, 180], handling: ['this side up'] })
  expect(shape(pack(tall, presets, wishes()))).toBe('no-preset')
  expect(shape(pack(itemsOf({ size: [100, 100, 140], handling: ['this side up'] }), presets, wishes()))).toEqual([['m', '1×0']])
  // Two plates fill S only when one stands on the other.
  expect(shape(pack(itemsOf({ size: [190, 95, 40], quantity: 2 }), [presets[1]!], wishes()))).toEqual([['s', '2×0']])
  expect(shape(pack(itemsOf({ size: [190, 95, 40], quantity: 2, handling: ['fragile', 'this side up'] }), [presets[1]!], wishes()))).toEqual([['s', '1×0'], ['s', '1×0']])
})

test('what fits nowhere is told with the nearest miss', () => {
  expect(pack(itemsOf({ weight: 6000 }), presets, wishes())).toMatchObject({ sentence: 'No preset takes 6 kg; M takes most, and it is 1 kg over.' })
  expect(pack(itemsOf({ size: [400, 10, 10] }), presets, wishes())).toMatchObject({ sentence: 'No preset is long enough: the longest item has 40 cm, M 30 cm.' })
  expect(pack(itemsOf({ size: [300, 250, 10] }), presets, wishes())).toMatchObject({ code: 'no-preset', sentence: 'No preset holds an item of 30 cm × 25 cm × 1 cm; the largest, M, has 30 cm × 20 cm × 15 cm inside.' })
  expect(pack(itemsOf({}), [], wishes())).toMatchObject({ sentence: 'There is no package preset at all: add one.' })
  expect(pack(itemsOf({}), presets.map((preset) => ({ ...preset, stock: 0 })), wishes())).toMatchObject({ ok: false })
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
  quantity: fc.integer({ min: 1, max: 6 }), weight: fc.integer({ min: 0, max: 3000 }), size: fc.tuple(fc.integer({ min: 5, max: 320 }), fc.integer({ min: 5, max: 200 }), fc.integer({ min: 5, max: 150 })),
  tags: fc.subarray(['live', 'glass']), handling: fc.subarray([...handlings], { maxLength: 2 }),
})

test('every piece is packed once, within size, weight and limits, whatever the order', () => {
  fc.assert(fc.property(fc.array(anyGiven, { minLength: 1, maxLength: 6 }), fc.record({ weight: fc.option(fc.integer({ min: 1000, max: 6000 }), { nil: undefined }), pieces: fc.option(fc.integer({ min: 1, max: 4 }), { nil: undefined }) }), fc.subarray(['live', 'glass']), (given, limits, apart) => {
    const items = itemsOf(...given)
    const packed = pack(items, presets, wishes({ limits: JSON.parse(JSON.stringify(limits)) as object, apart }))
    if (!packed.ok) return
    items.forEach((item, index) => expect(packed.parcels.flatMap((parcel) => parcel.contents).filter((content) => content.item === index).reduce((sum, { quantity }) => sum + quantity, 0)).toBe(item.quantity))
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
  }), { numRuns: 300 })
})

test('what is fragile does not go under a piece that stands out above it', () => {
  const items = itemsOf({ size: [157, 157, 5], weight: 0 }, { size: [5, 5, 5], weight: 0, handling: ['fragile'] }, { size: [144, 7, 123], weight: 0 })
  const packed = pack(items, presets, wishes())
  if (packed.ok) for (const parcel of packed.parcels) checkLayout(items, parcel, presets.find(({ id }) => id === parcel.preset)!)
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
      const above = (lower: typeof one, upper: typeof one): boolean => lower.unit.fragile && upper.at[2] >= lower.at[2] + lower.size[2] && ([0, 1] as const).every((axis) => upper.at[axis] < lower.at[axis] + lower.size[axis] && lower.at[axis] < upper.at[axis] + upper.size[axis])
      expect(above(one, other) || above(other, one)).toBe(false)
    })
  })
}
