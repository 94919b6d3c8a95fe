/*
 * npm run test:other-day [-- DAYS [PATTERN …]]: the tests of the use cases, so many days from now (30 when nothing is
 * said): what goes by the month, a weekday or a holiday is found before that day comes. Left out are those that compare
 * their clock with that of a file, of another process or of a program that has the machine's.
 */
import { spawnSync } from 'node:child_process'
import { install } from './environment.mjs'

const withOtherClocks = ['authorise', 'backups', 'engines', 'files', 'health', 'kill', 'many', 'moving', 'unbreakable']

const [days = '30', ...patterns] = process.argv.slice(2).filter((word) => word !== '--')
if (!/^-?\d{1,4}$/.test(days)) {
  console.error('Say how many days from now: npm run test:other-day -- 30')
  process.exit(2)
}
install()
const { status } = spawnSync(
  'node',
  [
    ...['node_modules/jest/bin/jest.js', '--forceExit'],
    ...(patterns.length > 0 ? patterns : ['src/usecases/tests']),
    ...['--setupFiles', './src/usecases/tests/otherDay.test-help.ts'],
    ...['--testPathIgnorePatterns', ...withOtherClocks.map((name) => `tests/${name}\\.test`)],
  ],
  { stdio: 'inherit', env: { ...process.env, GHARRY_TEST_DAYS: days } },
)
process.exit(status ?? 1)
