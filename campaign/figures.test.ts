import { percentile } from './figures'

test('the value below which a share lies', () => {
  const list = Array.from({ length: 100 }, (_, i) => 100 - i)
  expect([percentile(list, 0.5), percentile(list, 0.95), percentile(list, 1), percentile([], 0.5)]).toEqual([
    51, 96, 100, 0,
  ])
})
