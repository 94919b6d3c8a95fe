/*
 * npm run build: the application, the worker and the command line as plain JavaScript. What runs them in production
 * needs the packages of `dependencies` alone, and no bundler.
 */
import { bundle } from './bundle.mjs'
import { build, environment } from './environment.mjs'

build(environment())
for (const program of ['cli/worker.ts', 'cli/keeper.ts', 'cli/gharry.ts']) console.log(await bundle(program))
