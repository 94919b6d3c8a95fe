import { createWriteStream } from 'node:fs'
import { mkdir, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { writeRulebook } from '@/core/rulebook'
import { editionInForce, newestWorld, pageOfOrders } from '@/data'
import type { Gharry } from './gharry'

/** Writes the edition in force, the world and all orders as files that the command line reads. Null before there is an edition. */
export async function exportFiles(gharry: Gharry, folder: string): Promise<{ files: string[]; orders: number } | null> {
  const edition = await editionInForce(gharry.db, gharry.now().toISOString())
  const world = await newestWorld(gharry.db)
  if (!edition || !world) return null
  await mkdir(folder, { recursive: true })
  const files = ['rulebook.yaml', 'world.json', 'orders.jsonl'].map((name) => join(folder, name))
  await writeFile(files[0]!, writeRulebook(edition.rulebook))
  await writeFile(files[1]!, `${JSON.stringify(world.world, null, 1)}\n`)
  const stream = createWriteStream(files[2]!)
  let orders = 0
  for (let after = 0; ;) {
    const page = await pageOfOrders(gharry.db, ['attention', 'held', 'ready', 'buying', 'labelled', 'dispatched', 'delivered'], after, 1000)
    if (page.length === 0) break
    for (const { order } of page) if (!stream.write(`${JSON.stringify(order)}\n`)) await new Promise<void>((resolve) => void stream.once('drain', () => resolve()))
    orders += page.length
    after = page[page.length - 1]!.id
  }
  await new Promise<void>((resolve) => void stream.end(() => resolve()))
  return { files, orders }
}
