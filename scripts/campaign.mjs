/*
 * npm run campaign -- [--rounds N] [--seed S] [--misfortunes M] [--keep] [--built] [--postgres]: builds what is to be tried
 * (unless that is done), and tries it; see campaign/run.ts. With --postgres the books are in a PostgreSQL of its own, and
 * three workers work on them.
 */
import { bundle } from './bundle.mjs'
import { build, environment, install, run } from './environment.mjs'
import { installPostgres, startPostgres } from './postgres.mjs'

const asked = process.argv.slice(2)
install()
const env = environment()
if (!asked.includes('--built')) build(env)
for (const program of ['cli/worker.ts', 'cli/keeper.ts', 'standins/start.ts']) await bundle(program)
const postgres = asked.includes('--postgres') ? await cluster() : null
try {
  const words = asked.filter((word) => word !== '--built' && word !== '--postgres')
  const books = postgres
    ? { GHARRY_CAMPAIGN_POSTGRES: postgres.database('campaign'), GHARRY_CAMPAIGN_RESTART: postgres.restart }
    : {}
  run('node', ['scripts/run.mjs', 'campaign/run.ts', ...words], { ...env, ...books })
} finally {
  postgres?.stop()
}

async function cluster() {
  const programs = installPostgres()
  if (!programs) process.exit(1)
  return startPostgres(programs)
}
