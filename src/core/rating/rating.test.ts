import fc from 'fast-check'
import { dayOf } from '@/core/calendar'
import type { Parcel } from '@/core/packing'
import { grams, millimetres } from '@/core/units'
import { chooseQuote, compileRates, dimensionalWeight, quoteAll, type Location, type Quote, type Service, type Shipment } from './index'

const ghent: Location = { id: 'ghent', name: 'Ghent', country: 'BE', timeZone: 'Europe/Brussels', address: { company: '', lines: [], postcode: '', city: '', phone: '' } }
const service: Service = {
  id: 's', carrier: 'c', name: 'S', locations: ['ghent'], zones: [{ zone: 'near', from: 'BE', to: 'FR', transitDays: 2 }, { zone: 'island', from: 'BE', to: 'FR', prefixes: ['20'], transitDays: 5 }],
  bands: { near: [{ upTo: 2000, price: 690 }, { upTo: 5000, price: 780 }], island: [{ upTo: 2000, price: 1490 }] }, dimensionalDivisor: 5000, fuelPermille: 85, limits: { weight: 10_000, longestSide: 1000, girth: 2000, postOfficeBox: false, dangerousGoods: ['UN 3481'] },
  cutOff: '16:30', collects: [1, 2, 3, 4, 5], delivers: [1, 2, 3, 4, 5], tracked: true, signatureFee: 110, cover: { included: 50_000, upTo: 500_000, perHundred: 45 },
}
const parcel = (weight: number, size: [number, number, number]): Parcel => ({ preset: 'p', size: size.map(millimetres) as unknown as Parcel['size'], weight: grams(weight), longestSide: millimetres(size[0]), girth: millimetres(size[0] + 2 * (size[1] + size[2])), volume: size[0] * size[1] * size[2] })
const shipment = (more: Partial<Shipment> = {}): Shipment => ({ parcel: parcel(1000, [200, 150, 100]), from: ghent, to: { country: 'FR', postcode: '75011', postOfficeBox: false }, dangerousGoods: [], signature: false, insured: 0, ready: { day: dayOf('2026-11-20'), minuteOfDay: 600 }, ...more })
const quote = (more: Partial<Shipment> = {}, changed: Partial<Service> = {}) => quoteAll(compileRates([{ ...service, ...changed }]), shipment(more))

test('a tariff by hand, to the cent, with every line', () => {
  // 60 × 40 × 30 cm = 72,000 cm³ / 5,000 = 14.4 kg would be too heavy a band; 30 × 25 × 25 = 18,750 / 5,000 = 3.75 kg
  const { quotes } = quote({ parcel: parcel(1200, [300, 250, 250]), signature: true, insured: 123_400 })
  expect(quotes[0]).toMatchObject({ billable: 3750, zone: 'near', leavesOn: '2026-11-20', arrivesOn: '2026-11-24' })
  // fuel 780 × 8.5 % = 66.3 → 66; cover above 500.00: 734.00 → eight started hundreds × 0.45
  expect(quotes[0]!.lines).toEqual([{ what: 'base', minor: 780 }, { what: 'fuel', minor: 66 }, { what: 'signature', minor: 110 }, { what: 'insurance', minor: 360 }])
  expect(quotes[0]!.cost).toBe(780 + 66 + 110 + 360)
})

test('a zone with a postcode prefix goes before the country', () => {
  expect(quote({ to: { country: 'FR', postcode: '20000', postOfficeBox: false } }).quotes[0]).toMatchObject({ zone: 'island', arrivesOn: '2026-11-27' })
})

test.each<[string, Partial<Shipment>, Partial<Service>]>([
  ['location', {}, { locations: [] }], ['not-covered', { to: { country: 'US', postcode: '1', postOfficeBox: false } }, {}], ['post-office-box', { to: { country: 'FR', postcode: '1', postOfficeBox: true } }, {}], ['too-heavy', { parcel: parcel(10_001, [10, 10, 10]) }, {}], ['too-long', { parcel: parcel(10, [1001, 10, 10]) }, {}],
  ['too-big', { parcel: parcel(10, [900, 300, 300]) }, {}], ['dangerous-goods', { dangerousGoods: ['UN 3481', 'UN 1013'] }, {}], ['no-signature', { signature: true }, { signatureFee: null }], ['no-cover', { insured: 500_001 }, {}], ['no-band', { parcel: parcel(6000, [10, 10, 10]) }, {}], ['never-collects', {}, { collects: [] }],
])('refuses %s with a reason', (code, more, changed) => {
  const { quotes, refusals } = quote(more, changed)
  expect(quotes).toEqual([])
  expect(refusals).toMatchObject([{ code }])
  expect(refusals[0]!.sentence.length).toBeGreaterThan(8)
})

test('the limits themselves are still carried', () => {
  expect(quote({ parcel: parcel(5000, [1000, 250, 250]) }, { dimensionalDivisor: null }).quotes).toHaveLength(1)
  expect(quote({ parcel: parcel(2000, [10, 10, 10]) }).quotes[0]!.lines[0]!.minor).toBe(690)
})

test('dimensional weight is volume over divisor, rounded up', () => {
  expect(dimensionalWeight(400 * 300 * 200, 5000)).toBe(4800)
  fc.assert(fc.property(fc.integer({ min: 1, max: 1e9 }), fc.constantFrom(4000, 5000, 6000), (volume, divisor) => {
    expect(dimensionalWeight(volume, divisor) * divisor).toBeGreaterThanOrEqual(volume)
    expect((dimensionalWeight(volume, divisor) - 1) * divisor).toBeLessThan(volume)
  }))
})

describe('choosing', () => {
  const made = (name: string, cost: number, arrivesOn: string): Quote => ({ service: name, carrier: 'c', zone: 'z', billable: 1, lines: [], cost, leavesOn: '', arrivesOn, tracked: true })
  const quotes = [made('slow', 400, '2026-11-27'), made('mid', 600, '2026-11-24'), made('fast', 900, '2026-11-23')]
  test('picks are tried from the left', () => {
    expect(chooseQuote(quotes, [{ by: 'service', service: 'gone' }, { by: 'service', service: 'mid' }], '')?.quote.service).toBe('mid')
    expect(chooseQuote(quotes, [{ by: 'cheapest' }], '')).toMatchObject({ quote: { service: 'slow' }, runnerUp: { service: 'mid' } })
    expect(chooseQuote(quotes, [{ by: 'fastest' }], '')?.quote.service).toBe('fast')
    expect(chooseQuote(quotes, [{ by: 'cheapest by promise' }], '2026-11-25')?.quote.service).toBe('mid')
    expect(chooseQuote(quotes, [{ by: 'cheapest by promise' }], '2026-11-20')).toBeNull()
    expect(chooseQuote(quotes, [{ by: 'cheapest by promise' }], '')?.quote.service).toBe('slow')
    expect(chooseQuote([], [{ by: 'cheapest' }], '')).toBeNull()
  })
  test('nothing beats the choice on its own terms', () => {
    const any = fc.array(fc.record({ cost: fc.integer({ min: 1, max: 5 }), day: fc.integer({ min: 1, max: 9 }) }), { minLength: 1, maxLength: 8 })
    fc.assert(fc.property(any, (list) => {
      const all = list.map(({ cost, day }, i) => made(`s${i}`, cost, `2026-11-0${day}`))
      const cheapest = chooseQuote(all, [{ by: 'cheapest' }], '')!.quote
      expect(all.every((other) => other.cost > cheapest.cost || (other.cost === cheapest.cost && other.arrivesOn >= cheapest.arrivesOn))).toBe(true)
    }))
  })
})
