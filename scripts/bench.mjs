/* npm run bench [-- all | rules | rulebook | quotes | packing | addresses | intake | trial | desk | papers | page]: prints each figure; docs/performance.md keeps them. */
import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { build, environment, install, root, run } from './environment.mjs'

install()
if (!existsSync(join(root, 'bench', 'node_modules'))) run('npm', ['ci', '--prefix', 'bench', '--no-audit', '--no-fund'])
const env = { ...environment(), GHARRY_LOG: 'silent' }
build(env)
run('node', ['--expose-gc', '--import', 'tsx', 'bench/run.ts', ...process.argv.slice(2)], env)
