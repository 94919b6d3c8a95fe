import { execFileSync } from 'node:child_process'
import { pathToFileURL } from 'node:url'

/** Makes programs of this tree as they are now into files; gives where they are. (What makes them is not loaded here.) */
function built(programs: readonly string[]): string[] {
  const making = `import('./scripts/bundle.mjs').then(async ({ bundle }) => {
    for (const program of ${JSON.stringify(programs)}) console.log(await bundle(program))
  })`
  return execFileSync('node', ['-e', making], { encoding: 'utf8' }).trim().split('\n')
}

/** The worker's program, which begins threads. */
export const workerScript = (): URL => pathToFileURL(built(['cli/worker.ts'])[0]!)

/** Makes programs once for all times that the tests of a file start them. */
export function buildOnce(...programs: string[]): void {
  built(programs)
  process.env.GHARRY_BUILT = '1'
}
