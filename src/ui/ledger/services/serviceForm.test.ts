import { demoServices } from '../../../../demo/carriers'
import { coverage, formOf, readForm } from './serviceForm'

test('a service written into the form and read again is the same', () => {
  for (const service of demoServices)
    expect(readForm(service, formOf(service))).toEqual({ ...service, claimsBorneBy: service.claimsBorneBy ?? [] })
})

test('wrong input is a sentence', () => {
  const [service] = demoServices
  const form = formOf(service!)
  for (const [more, sentence] of [
    [{ weight: 'heavy' }, '“heavy” is no weight'],
    [{ cutOff: 'noon' }, '“noon” is no time'],
    [{ girth: '-1 cm' }, 'is no length'],
    [{ parcels: '1.5' }, 'no number of parcels'],
    [{ cash: 'much' }, 'Amounts are written'],
    [{ name: ' ' }, 'needs a name'],
  ] as const)
    expect(readForm(service!, { ...form, ...more })).toContain(sentence)
  expect(readForm(service!, { ...form, parcels: '', cash: '', domesticOnly: true })).toMatchObject({
    limits: { domesticOnly: true },
  })
})

test('where a service goes is told by zone', () => {
  expect(coverage(demoServices.find(({ id }) => id === 'dray-same-day')!)).toEqual([
    'L1, the same day: BE to BE 900/903/904/905',
    'L2, the same day: BE to BE 91/98/99',
  ])
})
