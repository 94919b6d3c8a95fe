/*
 * npm run test:other-day [-- DAYS [PATTERN …]]: the tests of the use cases, so many days from now (30 when nothing is
 * said): what goes by the month, a weekday or a holiday is found before that day comes. Left out are those that compare
 * their clock with that of a file, of another process or of a program that has the machine's.
 */
import { install } from './environment.mjs'
import { useCaseTests } from './useCaseTests.mjs'

const withOtherClocks = ['authorise', 'backups', 'engines', 'files', 'health', 'kill', 'many', 'moving', 'unbreakable']

const [days = '30', ...patterns] = process.argv.slice(2).filter((word) => word !== '--')
if (!/^-?\d{1,4}$/.test(days)) {
  console.error('Say how many days from now: npm run test:other-day -- 30')
  process.exit(2)
}
install()
process.exit(
  useCaseTests({
    ...{ patterns, without: withOtherClocks, env: { GHARRY_TEST_DAYS: days } },
    more: ['--setupFiles', './src/usecases/tests/otherDay.test-help.ts'],
  }),
)
