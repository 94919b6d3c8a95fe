/*
 * npm run campaign -- [--rounds N] [--seed S] [--keep]: builds what is to be tried, and tries it; see campaign/run.ts.
 */
import { build, environment, install, run } from './environment.mjs'

install()
const env = environment()
build(env)
run('node', ['scripts/run.mjs', 'campaign/run.ts', ...process.argv.slice(2)], env)
