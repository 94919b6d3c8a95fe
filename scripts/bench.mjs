/* npm run bench [-- all | intake | desk | papers | page]: prints each figure; docs/performance.md keeps them. */
import { environment, install, build, run } from './environment.mjs'

install()
const env = { ...environment(), GHARRY_LOG: 'silent' }
build(env)
run('node', ['--expose-gc', '--import', 'tsx', 'bench/run.ts', ...process.argv.slice(2)], env)
