import { compare } from './check'
import { days } from './days'
import { pairs } from './pairs'
import { quotes } from './quotes'

/* A short run of `npm run reference`, with other cases each day. */
const today = Math.floor(Date.now() / 86_400_000)

test.each([
  [pairs, 1500],
  [quotes, 3000],
  [days, 1500],
])('the engine and the reference agree on $name', (check, goal) => {
  const { compared, difference } = compare(check, goal, today, Date.now() + 40_000)
  expect(difference).toBeNull()
  expect(compared).toBeGreaterThan(goal / 4)
})
