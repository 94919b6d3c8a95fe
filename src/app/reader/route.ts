import { readFile } from 'node:fs/promises'
import { join } from 'node:path'

/** The program that reads codes in pictures (WebAssembly), from the packages of this Gharry. */
export async function GET(): Promise<Response> {
  const file = join(process.cwd(), 'node_modules/zxing-wasm/dist/reader/zxing_reader.wasm')
  return new Response(new Uint8Array(await readFile(file)), {
    headers: { 'content-type': 'application/wasm', 'cache-control': 'public, max-age=86400' },
  })
}
