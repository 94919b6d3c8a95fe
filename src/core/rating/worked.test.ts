import { minorUnits } from '@/core/units'
import { readFileSync } from 'node:fs'
import { dayOf } from '@/core/calendar'
import { parcelOf } from '@/core/packing'
import { demoServices, demoTariffs } from '../../../demo/carriers'
import { demoWorld } from '../../../demo/world'
import { compileRates } from './compileRates'
import { quoteAll } from './quote'

test('the example that docs/tariffs.md works by hand is what the engine says, line by line', () => {
  const page = readFileSync('docs/tariffs.md', 'utf8')
  const rows = [
    ...page
      .slice(page.indexOf('a test holds'))
      .matchAll(/^\| (?:\*\*)?([a-z ]+?)(?:\*\*)? +\|.*?\| (?:\*\*)?(\d+\.\d\d)(?:\*\*)? +\|$/gm),
  ].map(([, what, amount]) => [what, Math.round(Number(amount) * 100)] as const)
  expect(rows).toHaveLength(9)
  const { quotes } = quoteAll(compileRates(demoServices, demoTariffs, demoWorld.rates), {
    parcels: [parcelOf('', [400, 300, 200], 2400, []), parcelOf('', [1300, 200, 150], 6200, [])],
    from: demoWorld.locations[0]!,
    to: { country: 'FR', postcode: '20000', postOfficeBox: false, residential: true },
    dangerousGoods: [],
    signature: true,
    insured: minorUnits(62_000),
    ready: { day: dayOf('2026-11-25'), minuteOfDay: 600 },
  })
  const quote = quotes.find(({ service }) => service === 'heron-road')!
  expect([...quote.lines.map(({ what, minor }) => [what, minor]), ['sum', quote.cost]]).toEqual(
    rows.map(([what, minor]) => [what, minor]),
  )
})
