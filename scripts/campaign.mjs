/*
 * npm run campaign -- [--rounds N] [--seed S] [--misfortunes M] [--keep] [--built]: builds what is to be tried (unless
 * that is done), and tries it; see campaign/run.ts.
 */
import { bundle } from './bundle.mjs'
import { build, environment, install, run } from './environment.mjs'

const asked = process.argv.slice(2)
install()
const env = environment()
if (!asked.includes('--built')) build(env)
for (const program of ['cli/worker.ts', 'cli/keeper.ts', 'standins/start.ts']) await bundle(program)
run('node', ['scripts/run.mjs', 'campaign/run.ts', ...asked.filter((word) => word !== '--built')], env)
