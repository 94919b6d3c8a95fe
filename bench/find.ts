import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { analyse, findOrders, findParcels, openDatabase } from '@/data'
import { summary, type Times, timed } from './desk'

const first = [
  'ada',
  'noor',
  'tomasz',
  'claire',
  'milan',
  'zoe',
  'pau',
  'freya',
  'hanna',
  'lucja',
  'femke',
  'bram',
  'ines',
]
const last = [
  'kruger',
  'de smet',
  'wisniewska',
  'zielinski',
  'thwaite',
  'rossi',
  'de groot',
  'janssens',
  'lindqvist',
  'maes',
]
const cities = ['gent', 'utrecht', 'hannover', 'lille', 'poznan', 'leeds', 'antwerpen', 'lyon', 'bern', 'oslo', 'malmo']
const skus = ['anubias-nana', 'co2-cart', 'sub-20kg', 'lamp-60', 'tank-60', 'tweezers-27', 'test-strips']
const picked = (list: readonly string[], by: string): string =>
  `CASE (${by}) % ${list.length} ${list.map((word, i) => `WHEN ${i} THEN '${word}'`).join(' ')} END`

/**
 * What the box asks of the books, over so many orders with a parcel each; milliseconds at the server for each kind of
 * words.
 */
export async function benchFind(orders: number): Promise<Readonly<Record<string, Times>>> {
  const folder = mkdtempSync(join(tmpdir(), 'gharry-find-'))
  const db = await openDatabase(join(folder, 'gharry.db'))
  await db.raw('PRAGMA foreign_keys = OFF')
  await db.raw('PRAGMA synchronous = OFF')
  const at = "'2026-11-28T10:00:00.000Z'"
  const numbers = `WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < ${orders})`
  const buyer = `${picked(first, 'i * 7')} || ' ' || ${picked(last, 'i / 3')} || (i % 977)`
  const email = `'buyer' || i || '@post.example'`
  await db.transaction(async (trx) => {
    await trx.raw(
      `${numbers} INSERT INTO orders (id, channel_id, remote_id, number, state, rank, placed_at, promised_by, buyer, email, country, city, wording, quantity, fact_hash, imported_at)
       SELECT i, 'shop', 'r' || i, 'MG-' || (100000 + i), 'delivered', 5, ${at}, '', ${buyer}, ${email}, 'BE', ${picked(cities, 'i')}, '', 1, '', ${at} FROM n`,
    )
    await trx.raw(
      `${numbers} INSERT INTO order_search (rowid, body)
       SELECT i, 'mg-' || (100000 + i) || ' ' || ${buyer} || ' ' || ${email} || ' ' || ${picked(cities, 'i')} || ' ' || ${picked(skus, 'i * 3')} || ' 00555' || (i % 10000) FROM n`,
    )
    await trx.raw(
      `${numbers} INSERT INTO labels (id, order_id, position, key, token, state, carrier, service, zone, location, request, quoted, made_at, next_at)
       SELECT i, i, 0, 'k' || i, 't' || i, 'bought', 'heron', 'heron-road', 'R1', 'ghent', '{}', 500, ${at}, ${at} FROM n`,
    )
    await trx.raw(
      `${numbers} INSERT INTO label_parcels (label_id, position, preset, weight, size, contents, tracking_number)
       SELECT i, 1, 'box', 1000, '[]', '[]', '00354900' || (1000000000 + i) FROM n`,
    )
  })
  await analyse(db)
  const asked: Readonly<Record<string, (k: number) => string>> = {
    'a number': (k) => `MG-${100_000 + ((k * 7919) % orders)}`,
    'the beginning of a number': (k) => `MG-${1 + (k % 9)}`,
    'a buyer': (k) => `${first[k % first.length]} ${last[k % last.length]}`,
    'a part of a name': (k) => last[k % last.length]!.slice(0, 4),
    'an e-mail': (k) => `buyer${(k * 104_729) % orders}@post`,
    'a place and an item': (k) => `${cities[k % cities.length]} ${skus[k % skus.length]}`,
    'nothing that is there': (k) => `xyzzy${k}`,
  }
  const times: Record<string, Times> = {}
  for (const [what, words] of Object.entries(asked)) {
    const took: number[] = []
    for (let k = 0; k < 40; k++) took.push(await timed(() => findOrders(db, words(k), 6)))
    times[what] = summary(took)
  }
  const took: number[] = []
  for (let k = 0; k < 40; k++)
    took.push(
      await timed(() => findParcels(db, `00354900${1_000_000_000 + ((k * 7919) % orders)}`.slice(0, 12 + (k % 7)), 6)),
    )
  times['a tracking number'] = summary(took)
  await db.destroy()
  rmSync(folder, { recursive: true })
  return times
}
