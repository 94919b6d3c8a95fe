import { money, measured } from '@/core/units'
import { type DutyRate, estimateDuties } from './duties'

const exchange = { home: 'EUR', micro: { GBP: 1_200_000 } }
const rates = measured<DutyRate[]>([
  { country: 'GB', hs: '', dutyPermille: 40, taxPermille: 200, dutyFreeUpTo: 16_000 },
  { country: 'GB', hs: '0602', dutyPermille: 80, taxPermille: 200, dutyFreeUpTo: 16_000 },
  { country: 'US', hs: '8516', dutyPermille: 27, taxPermille: 0 },
])
const item = (hsCode: string, minor: number, currency = 'EUR') => ({ hsCode, value: money(minor, currency) })

test('duty on goods with their freight, tax on that with the duty, by the longest HS beginning', () => {
  // 200.00 of plants and 100.00 of lamps, 30.00 freight: landed 220.00 and 110.00; 8 % and 4 % duty; 20 % tax on top
  expect(
    estimateDuties([item('0602.90', 20_000), item('9405.42', 10_000)], money(3000, 'EUR'), 'GB', rates, exchange),
  ).toEqual({ duty: 1760 + 440, tax: (22_000 + 1760) / 5 + (11_000 + 440) / 5 })
  expect(estimateDuties([item('0602.90', 10_000)], money(0, 'EUR'), 'GB', rates, exchange)).toEqual({
    duty: 0,
    tax: 2000,
  })
  expect(estimateDuties([item('0602.90', 100_000, 'GBP')], money(0, 'GBP'), 'GB', rates, exchange)).toEqual({
    duty: 9600,
    tax: 25_920,
  })
})

test('nothing is guessed: no rates, no line for an HS code, no exchange rate', () => {
  expect(estimateDuties([item('0602', 100)], money(0, 'EUR'), 'NO', rates, exchange)).toBeNull()
  expect(estimateDuties([item('0602', 100)], money(0, 'EUR'), 'US', rates, exchange)).toBeNull()
  expect(estimateDuties([item('0602', 100, 'SEK')], money(0, 'EUR'), 'GB', rates, exchange)).toBeNull()
})
