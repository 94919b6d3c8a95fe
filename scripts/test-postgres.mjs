/*
 * npm run test:postgres [-- PATTERN …]: the tests of the use cases on PostgreSQL, in a cluster of their own; where workers
 * are killed, three of them work at once. Those of the backups are left out: they are about SQLite's file.
 */
import { spawnSync } from 'node:child_process'
import { install } from './environment.mjs'
import { installPostgres, startPostgres } from './postgres.mjs'

const onlySqlite = ['backups']

install()
const programs = installPostgres()
if (!programs) process.exit(1)
const cluster = await startPostgres(programs)
const patterns = process.argv.slice(2).filter((word) => word !== '--')
const { status } = spawnSync(
  'node',
  [
    ...['node_modules/jest/bin/jest.js', '--forceExit'],
    ...(patterns.length > 0 ? patterns : ['src/usecases/tests']),
    ...['--testPathIgnorePatterns', ...onlySqlite.map((name) => `tests/${name}\\.test`)],
  ],
  { stdio: 'inherit', env: { ...process.env, GHARRY_TEST_POSTGRES: cluster.address } },
)
cluster.stop()
process.exit(status ?? 1)
