import { createWriteStream, existsSync } from 'node:fs'
import { mkdir, writeFile } from 'node:fs/promises'
import { dirname, join, resolve } from 'node:path'
import { finished } from 'node:stream/promises'
import { writeRulebook } from '@/core/rulebook/language'
import { editionInForce, newestWorld, pageOfOrders } from '@/data'
import type { Application } from './application'

/**
 * Writes the edition in force, the world and all orders as files that the command line reads. Null before there is an
 * edition.
 */
export async function exportFiles(
  gharry: Application,
  folder: string,
): Promise<{ files: string[]; orders: number } | null> {
  const edition = await editionInForce(gharry.db, gharry.now().toISOString())
  const world = await newestWorld(gharry.db)
  if (!edition || !world) return null
  await makeFolder(resolve(folder))
  const files = ['rulebook.yaml', 'world.json', 'orders.jsonl'].map((name) => join(folder, name))
  await writeFile(files[0]!, writeRulebook(edition.rulebook))
  await writeFile(files[1]!, `${JSON.stringify(world.world, null, 1)}\n`)
  const stream = createWriteStream(files[2]!)
  const whole = finished(stream)
  // Told when it is awaited below.
  whole.catch(() => undefined)
  let orders = 0
  for (let after = 0; ;) {
    const page = await pageOfOrders(
      gharry.db,
      ['attention', 'held', 'ready', 'buying', 'labelled', 'dispatched', 'delivered'],
      after,
      1000,
    )
    if (page.length === 0) break
    for (const { order } of page)
      if (!stream.write(`${JSON.stringify(order)}\n`))
        await Promise.race([whole, new Promise<void>((go) => void stream.once('drain', () => go()))])
    orders += page.length
    after = page[page.length - 1]!.id
  }
  stream.end()
  await whole
  return { files, orders }
}

/** One level at a time: where a file system refuses, making all levels at once can go on for ever. */
async function makeFolder(folder: string): Promise<void> {
  if (existsSync(folder)) return
  const parent = dirname(folder)
  if (parent !== folder) await makeFolder(parent)
  await mkdir(folder)
}
