import { emptyRulebook } from '@/core/rulebook/language'
import { addEdition, addImport, addInvoice, book } from '@/data'
import { showIntake } from '../intake/showIntake'
import { showMoney } from '../ledger/balances'
import { showEditions, showRulebook } from '../rules/editRulebook'
import { makeRig, type Rig } from './rig'

/* Lists that grow for years: whoever goes on from page to page sees each entry once, the newest first, to the first. */

const at = '2026-11-20T08:00:00.000Z'
let rig: Rig
beforeAll(async () => {
  rig = await makeRig({ unconnected: true })
})
afterAll(() => rig.close())

/** Goes from page to page as *Next* does, and gives what was seen. */
async function everyPage<T>(
  show: (skip: number) => Promise<{ rows: readonly T[]; pageSize: number; total: number }>,
): Promise<T[]> {
  const seen: T[] = []
  for (;;) {
    const { rows, pageSize, total } = await show(seen.length)
    expect(rows).toHaveLength(Math.min(pageSize, total - seen.length))
    seen.push(...rows)
    if (seen.length >= total) return seen
  }
}
/** From the newest, by number, to the first. */
const falling = (from: number): number[] => Array.from({ length: from }, (_, i) => from - i)

test('imports, and what is under way is known on every page', async () => {
  const { db } = rig.gharry
  for (let n = 0; n < 70; n++) await addImport(db, { channelId: 'mossgill-shop', kind: 'fetch' }, at)
  await db('imports').where('id', '>', 1).update({ state: 'done' })
  const ids = await everyPage(async (skip) => {
    const { imports, pageSize, total, busy, channels } = await showIntake(rig.gharry, skip)
    expect([busy, channels.find(({ id }) => id === 'mossgill-shop')?.fetching]).toEqual([true, true])
    return { rows: imports.map(({ id }) => id), pageSize, total }
  })
  expect(ids).toEqual(falling(70))
  await db('imports').update({ state: 'done' })
  expect(await showIntake(rig.gharry)).toMatchObject({ busy: false, channels: [{ fetching: false }, {}] })
})

test('bookings and invoices, each with its own place', async () => {
  const { db } = rig.gharry
  const booking = { at, day: '2026-11-20', kind: 'purchase', carrier: 'heron', amount: 100 } as const
  await book(
    db,
    Array.from({ length: 230 }, (_, n) => ({
      ...booking,
      ...{ key: `b${n + 1}`, debit: 'shipping', credit: 'balance', labelId: null, author: 'test', note: '' },
    })),
  )
  const invoice = { carrier: 'heron', takenAt: at, author: 'test', billed: 1, expected: 1 }
  for (let n = 1; n <= 120; n++) await addInvoice(db, { ...invoice, number: `H-${n}` }, [])
  const keys = await everyPage(async (bookings) => {
    const view = await showMoney(rig.gharry, { bookings })
    expect(view.invoices[0]!.number).toBe('H-120')
    return { rows: view.bookings.map(({ key }) => key), pageSize: view.pageSizes.bookings, total: view.totals.bookings }
  })
  expect(keys).toEqual(falling(230).map((n) => `b${n}`))
  const numbers = await everyPage(async (invoices) => {
    const view = await showMoney(rig.gharry, { invoices })
    return {
      rows: view.invoices.map(({ number }) => number),
      pageSize: view.pageSizes.invoices,
      total: view.totals.invoices,
    }
  })
  expect(numbers).toEqual(falling(120).map((n) => `H-${n}`))
})

test('editions; what comes into force next is found however many came after it', async () => {
  const { db } = rig.gharry
  const later = new Date(rig.gharry.now().getTime() + 86_400_000).toISOString()
  const next = await addEdition(db, emptyRulebook, 'tomorrow', 'test', rig.gharry.now().toISOString(), later)
  for (let n = 0; n < 120; n++) await addEdition(db, emptyRulebook, `note ${n}`, 'test', at, at)
  const numbers = await everyPage(async (skip) => {
    const { editions, ...rest } = await showEditions(rig.gharry, skip)
    return { rows: editions.map(({ number }) => number), ...rest }
  })
  expect(numbers).toEqual(falling(next + 120))
  const { next: coming, editions } = await showRulebook(rig.gharry)
  expect(coming).toEqual({
    ...{ number: next, note: 'tomorrow', author: 'test', inForceAt: later, withdrawnAt: null },
    publishedAt: expect.any(String) as string,
  })
  expect(editions).toBe(next + 120)
})
