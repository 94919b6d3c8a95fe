/* node scripts/run.mjs PROGRAM.ts [words …]: runs a TypeScript program of this tree, in this very process. */
import { pathToFileURL } from 'node:url'
import { bundle } from './bundle.mjs'

const [program] = process.argv.splice(2, 1)
process.setSourceMapsEnabled(true)
await import(pathToFileURL(await bundle(program)).href)
