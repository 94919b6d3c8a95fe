/*
 * npm run test:postgres [-- PATTERN …]: the tests of the use cases on PostgreSQL, in a cluster of their own; where workers
 * are killed, three of them work at once. Those of the backups are left out: they are about SQLite's file.
 */
import { install } from './environment.mjs'
import { installPostgres, startPostgres } from './postgres.mjs'
import { useCaseTests } from './useCaseTests.mjs'

const onlySqlite = ['backups']

install()
const programs = installPostgres()
if (!programs) process.exit(1)
const cluster = await startPostgres(programs)
const patterns = process.argv.slice(2).filter((word) => word !== '--')
const status = useCaseTests({ patterns, without: onlySqlite, env: { GHARRY_TEST_POSTGRES: cluster.address } })
cluster.stop()
process.exit(status)
