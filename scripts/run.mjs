/* node scripts/run.mjs PROGRAM.ts [words …]: runs a TypeScript program of this tree, in this very process. */
import { pathToFileURL } from 'node:url'
import { builtFile } from './builtFile.mjs'

const [program] = process.argv.splice(2, 1)
process.setSourceMapsEnabled(true)
await import(pathToFileURL(await upToDate()).href)

/**
 * Bundled anew, so that it is never out of date; where there is no bundler (in production), or where all is built
 * already (GHARRY_BUILT), as it was left.
 */
async function upToDate() {
  if (process.env.GHARRY_BUILT) return builtFile(program)
  const bundler = await import('./bundle.mjs').catch((error) => {
    if (error.code !== 'ERR_MODULE_NOT_FOUND') throw error
  })
  return bundler ? bundler.bundle(program) : builtFile(program)
}
