/* Makes a TypeScript program of this tree one file that Node runs: `cli/worker.ts` becomes `.built/cli-worker.mjs`. */
import { mkdirSync, renameSync, writeFileSync } from 'node:fs'
import { basename, dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { build, stop } from 'esbuild'
import { builtFile } from './builtFile.mjs'

const root = join(dirname(fileURLToPath(import.meta.url)), '..')

/** Packages stay where they are; their JSON, which Node does not import by itself, comes along. */
const packagesOutside = {
  name: 'packages-outside',
  setup: ({ onResolve }) =>
    onResolve({ filter: /^(@[a-z]|[a-z])/ }, ({ kind, path }) =>
      kind === 'entry-point' || path.endsWith('.json') ? undefined : { path, external: true },
    ),
}

/** The path of the bundle. Made anew at each call: it takes a blink, and is never out of date. */
export async function bundle(program) {
  const built = builtFile(program)
  const { outputFiles } = await build({
    absWorkingDir: root,
    entryPoints: { [basename(built, '.mjs')]: program },
    outdir: dirname(built),
    outExtension: { '.js': '.mjs' },
    splitting: true,
    write: false,
    bundle: true,
    platform: 'node',
    target: 'node20',
    format: 'esm',
    sourcemap: 'linked',
    plugins: [packagesOutside],
    logLevel: 'warning',
  })
  await stop()
  mkdirSync(dirname(built), { recursive: true })
  // Several processes may start the same program at once: none sees half a file.
  for (const { path, contents } of outputFiles) {
    writeFileSync(`${path}.${process.pid}`, contents, { flush: true })
    renameSync(`${path}.${process.pid}`, path)
  }
  return built
}
