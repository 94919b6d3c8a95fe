/** @jest-environment jsdom */
import { demoServices } from '../../../../demo/carriers'
import { formOf, serviceForm, withValues } from './serviceForm'

test('a service written into the form and read again is the same', () => {
  for (const service of demoServices) expect(withValues(service, serviceForm.parse(formOf(service)))).toEqual(service)
})

test('wrong input is said at its field', () => {
  const [service] = demoServices
  const form = formOf(service!)
  for (const [field, text, sentence] of [
    ['weight', 'heavy', '“heavy” is no weight such as 31.5 kg.'],
    ['weight', '0', '“0” is no weight'],
    ['cutOff', 'noon', 'A time such as 16:30.'],
    ['girth', '-1 cm', 'is no length'],
    ['parcels', '1.5', 'no number of parcels'],
    ['cash', 'much', '“much” is no amount'],
    ['upTo', '-5', 'is no amount'],
    ['name', ' ', 'needs a name'],
  ] as const) {
    const read = serviceForm.safeParse({ ...form, [field]: text })
    expect(read.error?.issues.map(({ path }) => path)).toEqual([[field]])
    expect(JSON.stringify(read.error?.issues)).toContain(sentence)
  }
  const read = serviceForm.parse({ ...form, parcels: '', cash: '', domesticOnly: true })
  expect(withValues(service!, read)).toMatchObject({ limits: { domesticOnly: true } })
  expect(withValues(service!, read).limits).not.toHaveProperty('cashOnDelivery')
})
