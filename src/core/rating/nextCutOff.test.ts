import { demoServices, demoTariffs } from '../../../demo/carriers'
import { demoWorld } from '../../../demo/world'
import { compileRates } from './compileRates'
import { nextCutOff } from './nextCutOff'

const book = compileRates(demoServices, demoTariffs, demoWorld.rates)
const ghent = demoWorld.locations.find(({ id }) => id === 'ghent')!
const road = demoServices.find(({ id }) => id === 'heron-road')!
const next = (at: string): string | null => {
  const found = nextCutOff(book, 'heron-road', ghent, Date.parse(at))
  return found === null ? null : new Date(found).toISOString().slice(0, 16)
}
// Ghent is one hour before UTC in winter.
const clock = `${String(Number(road.cutOff.slice(0, 2)) - 1).padStart(2, '0')}:${road.cutOff.slice(3)}`

test('the next cut-off is today’s until it has gone by, then that of the next collection day', () => {
  expect(next('2026-11-27T05:00:00Z')).toBe(`2026-11-27T${clock}`)
  // A Friday evening: Heron collects again on Monday.
  expect(next('2026-11-27T22:30:00Z')).toBe(`2026-11-30T${clock}`)
})

test('a service that does not collect at a location has none there', () => {
  expect(nextCutOff(book, 'heron-road', { ...ghent, id: 'nowhere' }, 0)).toBeNull()
  expect(nextCutOff(book, 'no such service', ghent, 0)).toBeNull()
})
