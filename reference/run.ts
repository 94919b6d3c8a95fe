import { parseArgs } from 'node:util'
import { compare, type Check } from './check'
import { days } from './days'
import { pairs } from './pairs'
import { quotes } from './quotes'

/*
 * npm run reference -- [--minutes N] [--seed S]: holds the engine against readings of the documents that share no code
 * with it. Exit code 1 when they differ.
 */
const { values } = parseArgs({
  options: { minutes: { type: 'string', default: '10' }, seed: { type: 'string', default: '1' } },
})
const [minutes, seed] = [Number(values.minutes), Number(values.seed)]
if (!(minutes > 0) || !Number.isSafeInteger(seed)) {
  console.error(
    'Say for how many minutes, and a whole number to start from: npm run reference -- --minutes 10 --seed 1',
  )
  process.exit(2)
}
// The pairs take the most of the time.
const shares: readonly (readonly [Check, number])[] = [
  [days, 0.1],
  [quotes, 0.3],
  [pairs, 0.6],
]
let short = false
for (const [check, share] of shares) {
  const began = Date.now()
  const { compared, difference } = compare(check, check.goal, seed, began + minutes * share * 60_000)
  console.log(
    `${check.name}: ${compared.toLocaleString('en')} of ${check.goal.toLocaleString('en')} compared in ${((Date.now() - began) / 1000).toFixed(1)} s, ${difference ? 'one differs' : 'all agree'}`,
  )
  if (difference) console.log(difference)
  if (difference) process.exitCode = 1
  short ||= compared < check.goal
}
if (short && !process.exitCode) console.log('The time was over before all were compared; give it more with --minutes.')
