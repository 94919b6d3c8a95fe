import { demoOrders } from '../../../demo/orders'
import { buyBatch } from '@/usecases/dispatch/buyBatch'
import { pinDecision } from '@/usecases/desk/pinDecision'
import { planBatch } from '@/usecases/dispatch/planBatch'
import { requestImport } from '@/usecases/intake/importOrders'
import { deskColumns, deskNames, selectDesk, showDesk, spreadDesk, type DeskFilter } from '@/usecases/desk/showDesk'
import { showBatch, showBatches } from '@/usecases/dispatch/showBatches'
import { showIntake, showImportProblems } from '@/usecases/intake/showIntake'
import { showLedger } from '@/usecases/ledger/showLedger'
import { showLine } from '@/usecases/shared/showLine'
import { showTracking } from '@/usecases/tracking/showTracking'
import { requestVoid } from '@/usecases/dispatch/voidLabel'
import { parse } from 'csv-parse/sync'
import { readSheet } from '@/adapters'
import { actingAs, deskPage, type OrderRow } from '@/data'
import { exportDesk } from '@/usecases/desk/exportDesk'
import { removeView, saveView, showViews } from '@/usecases/desk/views'
import { makeRig, soundOrders, type Rig } from './rig'

/* What the views read, held against the same asked of plain lists of rows. */

let rig: Rig
let rows: OrderRow[]
let tags: Map<number, string[]>

beforeAll(async () => {
  rig = await makeRig()
  const mixed = [...demoOrders('large', 21, '2026-11-20')].slice(0, 300)
  await rig.stockShop([
    ...mixed,
    ...soundOrders(12).map((order, i) => ({ ...order, id: `sound-${i}`, number: `SO-${i}` })),
  ])
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  const [first] = await rig.orders()
  expect(await pinDecision(rig.gharry, first!.id, 'priority', 'urgent')).toMatchObject({ ok: true })
  await rig.workAll()
  rows = await rig.orders()
  tags = new Map(rows.map(({ id }) => [id, []]))
  for (const { orderId, tag } of (await rig.gharry.db('order_tags')) as { orderId: number; tag: string }[])
    tags.get(orderId)!.push(tag)
}, 60_000)
afterAll(() => rig.close())

const among = (values: readonly string[] | undefined, value: string | null): boolean =>
  !values || values.length === 0 || (value !== null && values.includes(value))
const found = (words: string | undefined, row: OrderRow): boolean =>
  (words ?? '')
    .toLowerCase()
    .split(/\s+/)
    .filter(Boolean)
    .every((word) =>
      word.length < 3
        ? row.number.toLowerCase().startsWith(word)
        : [row.number, row.buyer, row.email, row.city, row.tags].some((text) => text.toLowerCase().includes(word)),
    )
const plain = (filter: DeskFilter): OrderRow[] =>
  rows.filter(
    (row) =>
      among(filter.states, row.state) &&
      among(filter.channels, row.channelId) &&
      among(filter.countries, row.country) &&
      among(filter.services, row.service) &&
      among(filter.locations, row.location) &&
      (!filter.tags || filter.tags.length === 0 || tags.get(row.id)!.some((tag) => filter.tags!.includes(tag))) &&
      (!filter.late || (row.daysLate ?? 0) > 0) &&
      (!filter.pinned || Boolean(row.pinned)) &&
      (!filter.flagged || row.flag !== null) &&
      (!filter.reasons || (row.state === 'attention' && filter.reasons.includes(row.reason ?? ''))) &&
      found(filter.search, row),
  )

const filters: readonly [string, DeskFilter][] = [
  ['everything', {}],
  ['two states', { states: ['ready', 'held'] }],
  ['exceptions', { states: ['attention'] }],
  ['countries', { countries: ['BE', 'NL'] }],
  ['a service', { services: ['heron-road'] }],
  ['a location', { locations: ['leeds'] }],
  ['a tag', { tags: ['live'] }],
  ['either of two tags', { tags: ['live', 'fragile'] }],
  ['late', { late: true }],
  ['pinned', { pinned: true }],
  ['flagged', { flagged: true }],
  ['a service, late', { services: ['heron-road'], late: true }],
  ['states, a country, a tag', { states: ['ready'], countries: ['BE', 'NL'], tags: ['live'] }],
  ['a reason', { reasons: ['Check the address', 'Unknown country'] }],
  ['empty lists', { states: [], countries: [], tags: [] }],
  ['a channel and a country', { channels: ['mossgill-shop'], countries: ['DE'] }],
  ['a channel without orders', { channels: ['trade-desk'] }],
  ['part of a number', { search: 'SO-1' }],
  ['two letters begin a number', { search: 'so' }],
  ['words together', { search: 'SO 1' }],
  ['what nobody is called', { search: 'xyzzyx' }],
  ['signs of the search language', { search: '"* OR %_' }],
]

describe('the Desk', () => {
  test.each(filters)('%s: the same orders, the same number', async (_, filter) => {
    const view = await showDesk(rig.gharry, filter, [], 0, 1000)
    const wanted = plain(filter)
    expect(view.rows.map(({ id }) => id).sort((a, b) => a - b)).toEqual(wanted.map(({ id }) => id))
    expect(view.total).toBe(wanted.length)
    expect(await selectDesk(rig.gharry, filter, [])).toEqual(view.rows.map(({ id }) => id))
    // Of very many orders the sort is walked, and not the filter: the same orders all the same.
    for (const sorts of [[], [{ column: 'cost' as const, down: true }], [{ column: 'country' as const, down: false }]])
      expect((await deskPage(rig.gharry.db, filter, sorts, 0, 1000, 0)).map(({ id }) => id)).toEqual(
        (await deskPage(rig.gharry.db, filter, sorts, 0, 1000)).map(({ id }) => id),
      )
  })

  test('a name, a town or an e-mail is found by any part of it', async () => {
    const { buyer, email, city } = rows.find((row) => row.email !== '' && row.city.length > 4)!
    for (const search of [buyer.slice(1, 6), email.slice(2, 9), city.slice(1, 5).toUpperCase()])
      expect(
        (await showDesk(rig.gharry, { search }, [], 0, 1000)).rows.map(({ id }) => id).sort((a, b) => a - b),
      ).toEqual(plain({ search: search.trim() }).map(({ id }) => id))
  })

  test.each(
    deskColumns.flatMap(
      (column) =>
        [
          [column, false],
          [column, true],
        ] as const,
    ),
  )('sorted by %s (down: %s), page after page without one twice', async (column, down) => {
    const pages: OrderRow[] = []
    for (let offset = 0; offset < rows.length; offset += 100)
      pages.push(...(await showDesk(rig.gharry, {}, [{ column, down }], offset, 100)).rows)
    expect(new Set(pages.map(({ id }) => id)).size).toBe(rows.length)
    const values = pages.map((row) => row[column as keyof OrderRow]).filter((value) => value !== null)
    const sorted = [...values].sort((a, b) => {
      if (a < b) return -1
      return a > b ? 1 : 0
    })
    expect(values).toEqual(down ? sorted.reverse() : sorted)
  })

  test('several sorts one after another; within equal ones the oldest first', async () => {
    const { rows: got } = await showDesk(
      rig.gharry,
      {},
      [
        { column: 'country', down: false },
        { column: 'value', down: true },
      ],
      0,
      1000,
    )
    const keys = got.map((row) => [row.country, -(row.value ?? -Infinity), row.placedAt] as const)
    for (let i = 1; i < keys.length; i++) {
      const [a, b] = [keys[i - 1]!, keys[i]!]
      const inOrder = a[0] < b[0] || (a[0] === b[0] && (a[1] < b[1] || (a[1] === b[1] && a[2] <= b[2])))
      expect(inOrder).toBe(true)
    }
  })

  test.each(filters)('how it spreads: %s', async (_, filter) => {
    const spread = await spreadDesk(rig.gharry, filter)
    const counted = (
      own: DeskFilter,
      valueOf: (row: OrderRow) => readonly (string | null)[],
    ): Record<string, number> => {
      const counts: Record<string, number> = {}
      for (const row of plain(own))
        for (const value of valueOf(row)) if (value !== null && value !== '') counts[value] = (counts[value] ?? 0) + 1
      return counts
    }
    const got = (facet: keyof typeof spread): Record<string, number> =>
      Object.fromEntries(spread[facet].map(({ value, count }) => [value, Number(count)]))
    // A facet's own filter is left out, so that one sees what else there is.
    expect(got('states')).toEqual(counted({ ...filter, states: [] }, (row) => [row.state]))
    expect(got('countries')).toEqual(counted({ ...filter, countries: [] }, (row) => [row.country]))
    expect(got('services')).toEqual(counted({ ...filter, services: [] }, (row) => [row.service]))
    expect(got('locations')).toEqual(counted({ ...filter, locations: [] }, (row) => [row.location]))
    expect(got('reasons')).toEqual(
      counted({ ...filter, states: ['attention'], reasons: undefined }, (row) => [row.reason]),
    )
    expect(got('tags')).toEqual(counted({ ...filter, tags: [] }, (row) => tags.get(row.id)!))
  })

  test('what is shown goes out as a file: the same orders in the same sequence, its columns, and no cell that computes', async () => {
    const evil = rows[3]!
    await rig.gharry.db('orders').where({ id: evil.id }).update({ buyer: '=1+1' })
    const filter = { countries: ['BE'] }
    const sorts = [{ column: 'cost' as const, down: true }]
    const shown = (await showDesk(rig.gharry, filter, sorts, 0, 1000)).rows
    const wanted = { filter: {}, sorts: [], columns: ['number', 'buyer'] }
    const csv = (await exportDesk(rig.gharry, 'csv', { filter, sorts, columns: ['cost', 'number', 'country'] }))!
    const lines = parse(csv, { bom: true, columns: true }) as Record<string, string>[]
    expect(Object.keys(lines[0]!)).toEqual(['label', 'order', 'country', 'town'])
    expect(lines.map(({ order }) => order)).toEqual(shown.map(({ number }) => number))
    expect(lines.map(({ label }) => label)).toEqual(
      shown.map(({ cost }) =>
        cost === null ? '' : `${Math.floor(cost / 100)}.${String(cost % 100).padStart(2, '0')}`,
      ),
    )
    const cells = parse((await exportDesk(rig.gharry, 'csv', wanted))!, { bom: true, columns: true }) as typeof lines
    expect(cells.find(({ order }) => order === evil.number)!.buyer).not.toMatch(/^=/)
    const sheet = (await exportDesk(rig.gharry, 'xlsx', wanted))!
    expect(await readSheet(sheet, ['order', 'buyer'], ['order'])).toMatchObject({
      ok: true,
      rows: { length: rows.length },
    })
    expect(await exportDesk(rig.gharry, 'csv', { ...wanted, filter: { search: 'xyzzyx' } })).toBeNull()
    await rig.gharry.db('orders').where({ id: evil.id }).update({ buyer: evil.buyer })
  })

  test('views are kept under a name, replaced, shared, and forgotten', async () => {
    const columns = { hidden: ['value'], order: ['number', 'state'], sizes: { number: 120 } }
    const view = { name: '  Late   ones ', shared: false, query: 'late=1&sort=-cost', columns }
    expect(await saveView(rig.gharry, view)).toEqual({ ok: true })
    expect(await saveView(rig.gharry, { ...view, name: 'Late ones', shared: true })).toEqual({ ok: true })
    const { views } = await showViews(rig.gharry)
    expect(views).toMatchObject([{ name: 'Late ones', shared: true, mine: true, query: view.query, columns }])
    const other = { id: 'person:99', name: 'Somebody else', role: 'lead', address: '', request: '' }
    await actingAs(other, async () => {
      expect((await showViews(rig.gharry)).views).toMatchObject([{ name: 'Late ones', mine: false }])
      expect(await removeView(rig.gharry, views[0]!.id)).toMatchObject({ ok: false, code: 'missing' })
    })
    expect(await saveView(rig.gharry, { ...view, name: ' ' })).toMatchObject({ sentence: 'Give the view a name.' })
    expect(await removeView(rig.gharry, views[0]!.id)).toEqual({ ok: true })
    expect((await showViews(rig.gharry)).views).toEqual([])
  })

  test('names for what rows hold as identifiers', async () => {
    const names = await deskNames(rig.gharry)
    for (const row of rows) {
      if (row.service) expect(names.services[row.service]).toBeTruthy()
      if (row.location) expect(names.locations[row.location]).toBeTruthy()
    }
    expect(names.channels).toEqual({ 'mossgill-shop': 'Mossgill Shop', 'trade-desk': 'Trade Desk' })
  })
})

test('the line counts what waits at each stop; a batch, the posts and the ledger say the same as their rows', async () => {
  const count = (...states: OrderRow['state'][]): number => rows.filter(({ state }) => states.includes(state)).length
  expect(await showLine(rig.gharry)).toMatchObject({
    intake: { count: 0, stuck: 0 },
    desk: { count: count('attention', 'held', 'ready'), stuck: count('attention') },
    dispatch: { count: count('ready'), stuck: 0 },
    tracking: { count: 0, stuck: 0 },
    ledger: { count: 0, stuck: 0 },
  })

  const ids = rows.filter((row) => row.number.startsWith('SO-') && row.state === 'ready').map(({ id }) => id)
  const plan = await planBatch(rig.gharry, ids)
  const bought = await buyBatch(rig.gharry, ids, plan.total)
  if (!bought.ok) throw new Error(bought.sentence)
  expect((await showLine(rig.gharry)).dispatch.count).toBe(count('ready'))
  await rig.workAll()
  const labels = await rig.labels()
  const batch = (await showBatch(rig.gharry, bought.batch))!
  expect(batch.labels.map(({ orderId }) => orderId).sort((a, b) => a - b)).toEqual(ids)
  expect(
    batch.labels.every(({ state, numbers, charged }) => state === 'bought' && numbers.length > 0 && charged !== null),
  ).toBe(true)
  expect(await showBatches(rig.gharry)).toMatchObject({ batches: [{ id: bought.batch }], total: 1 })
  expect(await showBatches(rig.gharry, 1)).toMatchObject({ batches: [], total: 1 })
  expect(await showBatch(rig.gharry, 999)).toBeNull()
  expect((await showLine(rig.gharry)).tracking.count).toBe(ids.length)
  expect((await showTracking(rig.gharry, null)).posts.filter(({ state }) => state === 'sent')).toHaveLength(ids.length)
  expect((await showTracking(rig.gharry, 'failed')).posts).toEqual([])

  const spent = labels.reduce((sum, label) => sum + label.charged!, 0)
  const ledger = await showLedger(rig.gharry, {})
  expect(ledger).toMatchObject({ spend: spent, labels: labels.length })
  for (const by of [ledger.byCarrier, ledger.byService, ledger.byZone])
    expect(by.reduce((sum, row) => sum + Number(row.amount), 0)).toBe(spent)
  expect(ledger.byDay.reduce((sum, row) => sum + Number(row.amount), 0)).toBe(spent)
  expect(await showLedger(rig.gharry, { from: '2020-01-01', until: '2020-12-31' })).toMatchObject({
    spend: 0,
    labels: 0,
  })

  await requestVoid(rig.gharry, labels[0]!.id)
  await rig.workAll()
  expect((await showLine(rig.gharry)).ledger.count).toBe(1)
  expect((await showLedger(rig.gharry, {})).pending).toBeGreaterThan(0)
}, 60_000)

test('imports are listed with how they went; a failed one is stuck at Intake', async () => {
  await rig.faults('shop', { serverError: 1 })
  await requestImport(rig.gharry, 'mossgill-shop')
  // Most tries of the day are behind it.
  await rig.gharry.db('imports').update({ attempts: 1380 })
  await rig.workAll()
  await rig.faults('shop', { serverError: 0 })
  const { imports, channels } = await showIntake(rig.gharry)
  expect(channels.map(({ id }) => id)).toEqual(['mossgill-shop', 'trade-desk'])
  expect(imports[0]).toMatchObject({
    state: 'failed',
    problem: expect.stringContaining('Given up after a day of tries') as string,
  })
  await rig.note()
  // The import, and the connection that it was given up for.
  expect((await showLine(rig.gharry)).intake.stuck).toBe(2)
  expect(await showImportProblems(rig.gharry, 999)).toEqual([])
}, 60_000)
