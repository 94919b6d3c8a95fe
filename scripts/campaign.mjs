/*
 * npm run campaign -- [--rounds N] [--seed S] [--misfortunes M] [--keep] [--built] [--postgres]: builds what is to be tried
 * (unless that is done), and tries it; see campaign/run.ts. With --postgres the books are in a PostgreSQL of its own, and
 * three workers work on them.
 */
/* npm run day -- … does the same with campaign/day/run.ts: a seller's whole day under load. */
import { bundle } from './bundle.mjs'
import { build, environment, install, run } from './environment.mjs'
import { installPostgres, startPostgres } from './postgres.mjs'

// The program that is tried: the campaign, or the day.
const program = process.argv[2]?.endsWith('.ts') ? process.argv[2] : 'campaign/run.ts'
const asked = process.argv.slice(2).filter((word) => word !== program)
install()
const env = environment()
if (!asked.includes('--built')) build(env)
for (const started of ['cli/worker.ts', 'cli/keeper.ts', 'standins/start.ts']) await bundle(started)
const postgres = asked.includes('--postgres') ? await cluster() : null
try {
  const words = asked.filter((word) => word !== '--built' && word !== '--postgres')
  const books = postgres
    ? { GHARRY_CAMPAIGN_POSTGRES: postgres.database('campaign'), GHARRY_CAMPAIGN_RESTART: postgres.restart }
    : {}
  run('node', ['scripts/run.mjs', program, ...words], { ...env, ...books })
} finally {
  postgres?.stop()
}

async function cluster() {
  const programs = installPostgres()
  if (!programs) process.exit(1)
  return startPostgres(programs)
}
