/*
 * npm run test:postgres [-- PATTERN …]: the tests of the use cases on PostgreSQL, in a cluster of their own. Those that are
 * about SQLite's file are left out: backups, and the kill tests, whose workers have a file.
 */
import { spawnSync } from 'node:child_process'
import { install } from './environment.mjs'
import { installPostgres, startPostgres } from './postgres.mjs'

const onlySqlite = ['backups', 'kill']

install()
const programs = installPostgres()
if (!programs) process.exit(1)
const cluster = await startPostgres(programs)
const patterns = process.argv.slice(2)
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
