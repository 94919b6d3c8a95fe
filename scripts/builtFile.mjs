import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'

const root = join(dirname(fileURLToPath(import.meta.url)), '..')

/** Where the bundle of a program is: `cli/worker.ts` becomes `.built/cli-worker.mjs`. */
export const builtFile = (program) => join(root, '.built', `${program.replace(/\.ts$/, '').replaceAll('/', '-')}.mjs`)
