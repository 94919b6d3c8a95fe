/*
 * npm run bench [-- all | rules | findings | rulebook | quotes | packing | addresses | intake | trial | desk | papers
 * | page | typing | messages | arrivals | telling | board | find | buying
 * | floor | benches | deciding | growth]: prints each figure, all when none is named; docs/performance.md keeps them.
 */
import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { build, environment, install, root, run } from './environment.mjs'
import { littleGarbage } from './processes.mjs'

install()
if (!existsSync(join(root, 'bench', 'node_modules')))
  // Not every registry has the packages for other platforms, which `npm ci` asks for.
  run('npm', ['install', '--prefix', 'bench', '--no-audit', '--no-fund', '--no-save'])
const env = { ...environment(), GHARRY_LOG: 'silent' }
build(env)
run('node', [littleGarbage, '--expose-gc', 'scripts/run.mjs', 'bench/run.ts', ...process.argv.slice(2)], env)
