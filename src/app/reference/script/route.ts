import { readFile } from 'node:fs/promises'
import { createRequire } from 'node:module'
import { dirname, join } from 'node:path'

/** The program that shows the description of the open interface, from the packages of this Gharry. */
export async function GET(): Promise<Response> {
  const required = createRequire(join(process.cwd(), 'package.json'))
  const file = join(dirname(required.resolve('rapidoc/package.json')), 'dist', 'rapidoc-min.js')
  return new Response(new Uint8Array(await readFile(file)), {
    headers: { 'content-type': 'text/javascript', 'cache-control': 'public, max-age=86400' },
  })
}
