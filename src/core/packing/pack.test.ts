import { normaliseOrder } from '@/core/order'
import { itemsVolume, pack, type PackagePreset } from './index'

const presets: PackagePreset[] = [
  { id: 'm', name: 'M', inner: [300, 200, 150], outer: [310, 210, 160], tare: 200, limit: 5000 },
  { id: 's', name: 'S', inner: [200, 100, 100], outer: [210, 110, 110], tare: 100, limit: 2000 },
]
const items = (weight: number, size: number[], quantity = 1) => normaliseOrder({ id: '1', number: '1', items: [{ sku: 'A', quantity, weight, size }] }, 'c', new Map()).items

test('the smallest preset that fits is taken, with outer size, tare and correction', () => {
  expect(pack(items(500, [100, 180, 50]), presets, null, 60)).toEqual({ ok: true, parcel: { preset: 's', size: [210, 110, 110], weight: 660, longestSide: 210, girth: 650, volume: 210 * 110 * 110 } })
  expect(pack(items(500, [250, 80, 50]), presets, null, 0)).toMatchObject({ parcel: { preset: 'm' } })
  expect(pack(items(2500, [50, 50, 50]), presets, null, 0)).toMatchObject({ parcel: { preset: 'm' } })
})

test('a decided preset is taken as it is, unless it does not exist or cannot bear the weight', () => {
  expect(pack(items(500, [50, 50, 50]), presets, 'm', 0)).toMatchObject({ parcel: { preset: 'm', weight: 700 } })
  expect(pack(items(500, [50, 50, 50]), presets, 'gone', 0)).toMatchObject({ ok: false, code: 'unknown-preset' })
  expect(pack(items(2500, [50, 50, 50]), presets, 's', 0)).toMatchObject({ code: 'too-full', sentence: 'The items weigh 2.5 kg, 500 g more than S takes.' })
})

test('what fits nowhere is told with the nearest miss', () => {
  expect(pack(items(6000, [50, 50, 50]), presets, null, 0)).toMatchObject({ sentence: 'No preset takes 6 kg; M takes most, and it is 1 kg over.' })
  expect(pack(items(10, [400, 10, 10]), presets, null, 0)).toMatchObject({ sentence: 'No preset is long enough: the longest item has 40 cm, M 30 cm.' })
  expect(pack(items(10, [150, 150, 150], 4), presets, null, 0)).toMatchObject({ code: 'no-preset' })
  expect(pack(items(10, [1, 1, 1]), [], null, 0)).toMatchObject({ sentence: 'There is no package preset at all: add one.' })
  expect(itemsVolume(items(1, [10, 10, 10], 3))).toBe(3000)
})
