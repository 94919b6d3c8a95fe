import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import {
  analyse,
  boardCount,
  type BoardFilter,
  boardNeedCounts,
  boardNeeds,
  boardPage,
  type BoardSort,
  boardSorts,
  boardSpread,
  openDatabase,
} from '@/data'
import { summary, type Times, timed } from './desk'

const carriers = ['heron', 'corvid', 'northlight', 'skua', 'bramble', 'dray']
const statuses = ['announced', 'collected', 'in transit', 'in transit', 'in transit', 'out for delivery']
const rare = ['held at customs', 'delivery failed', 'returned', 'waiting to be fetched', 'lost']
const countries = ['BE', 'NL', 'DE', 'FR', 'PL', 'ES', 'IT', 'GB', 'CH', 'US']
const now = '2026-11-28T12:00:00.000Z'
const day = (back: number): string => new Date(Date.parse(now) - back * 86_400_000).toISOString()

/**
 * Times of the board with so many parcels on their way, milliseconds at the server: its first page with the count over
 * every filter and sort, the buttons of what needs a person, and one distribution. The parcels are made up, of all
 * carriers and states.
 */
export async function benchBoard(parcels: number): Promise<{ page: Times; needs: Times; spread: Times }> {
  const folder = mkdtempSync(join(tmpdir(), 'gharry-board-'))
  const db = await openDatabase(join(folder, 'gharry.db'))
  await db.raw('PRAGMA foreign_keys = OFF')
  for (let from = 0; from < parcels; from += 20_000)
    await db.transaction(async (trx) => {
      const to = Math.min(parcels, from + 20_000)
      for (let i = from; i < to; i += 60)
        await trx('board').insert(Array.from({ length: Math.min(60, to - i) }, (_, k) => rowOf(i + k)))
    })
  await analyse(db)
  const filters: BoardFilter[] = [
    ...[{}, { carriers: ['heron'] }, { countries: ['DE', 'FR'] }, { statuses: ['in transit'] }],
    ...[{ locations: ['poznan'], carriers: ['corvid'] }, { search: '00354900012' }, { search: 'MG-12' }],
    ...boardNeeds.map((need) => ({ need })),
  ]
  const sorts: BoardSort[] = boardSorts.flatMap((column) => [
    { column, down: false },
    { column, down: true },
  ])
  const page: number[] = []
  for (const filter of filters)
    for (const sort of sorts)
      page.push(
        await timed(async () => {
          const total = await boardCount(db, filter, now)
          return boardPage(db, filter, sort, now, { total, offset: 0, most: 100 })
        }),
      )
  const needs: number[] = []
  for (const filter of filters.slice(0, 5)) needs.push(await timed(() => boardNeedCounts(db, filter, now)))
  const spread: number[] = []
  for (const filter of filters.slice(0, 5))
    for (const column of ['status', 'carrier', 'service', 'location', 'country'] as const)
      spread.push(await timed(() => boardSpread(db, filter, column, now)))
  await db.destroy()
  rmSync(folder, { recursive: true })
  return { page: summary(page), needs: summary(needs), spread: summary(spread) }
}

function rowOf(i: number): object {
  const carrier = carriers[(i * 7) % carriers.length]!
  const status = i % 97 === 0 ? rare[(i / 97) % rare.length]! : statuses[(i * 13) % statuses.length]!
  const age = (i * 31) % 12
  return {
    ...{ labelId: i + 1, position: 1, orderId: i + 1, number: `MG-${100_000 + i}`, carrier, status },
    trackingNumber: `0035490001${String(i).padStart(9, '0')}0`,
    ...{ service: `${carrier}-${i % 3}`, zone: `Z${i % 5}`, location: ['ghent', 'poznan', 'leeds'][i % 3] },
    ...{ country: countries[(i * 3) % countries.length], statusAt: day(age / 4), boughtAt: day(age) },
    shipOn: day(age).slice(0, 10),
    due: day(age - 9 - (i % 4)).slice(0, 10),
    silentFrom: status === 'announced' || status === 'returned' ? null : day(age / 4 - 2.6),
  }
}
