import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import fc from 'fast-check'
import { shopRawOrder } from '@/adapters'
import { addEdition, addWorld, deskColumns, deskCount, type DeskFilter, deskPage, type DeskSort } from '@/data'
import { storeOrders } from '../intake/storeOrders'
import { type Application, openApplication } from '../shared/application'
import { rulebookInForce } from '../shared/rulebookInForce'
import { connectDemo } from '../../../demo/connect'
import { demoItems } from '../../../demo/items'
import { demoOrders } from '../../../demo/orders'
import { demoRulebook } from '../../../demo/rulebook'
import { demoWorld } from '../../../demo/world'
import { freshPostgres } from './freshPostgres'

/* The same orders in both databases: whatever is asked of the Desk, both answer the same. */

const cluster = process.env.GHARRY_TEST_POSTGRES ?? ''
const folder = mkdtempSync(join(tmpdir(), 'gharry-engines-'))
const at = '2026-11-20T08:00:00.000Z'
let both: Application[] = []
let drop: () => Promise<void> = () => Promise.resolve()

beforeAll(async () => {
  if (cluster === '') return
  const postgres = (await freshPostgres())!
  drop = postgres.drop
  for (const GHARRY_DATABASE of [undefined, postgres.address]) {
    const env = { GHARRY_DATA: join(folder, GHARRY_DATABASE ? 'p' : 's'), GHARRY_LOG: 'silent', GHARRY_DATABASE }
    both.push({ ...(await openApplication(env)), now: () => new Date(at) })
  }
  for (const gharry of both) {
    await addWorld(gharry.db, { ...demoWorld, items: demoItems }, at)
    await addEdition(gharry.db, demoRulebook, '', 'test', at)
    const shop = { address: 'http://127.0.0.1:9', key: 'k', secret: 's' }
    await connectDemo(gharry, { shop, carriers: new Map(), token: 't' })
    const inForce = (await rulebookInForce(gharry))!
    const raw = [...demoOrders('large', 7, '2026-11-20')].slice(-600).map((order) => shopRawOrder(order)!)
    await gharry.db.transaction((trx) => storeOrders(trx, 'mossgill-shop', raw, inForce, new Date(at)))
    await gharry.db('orders').whereRaw('id % 7 = 0').update({ state: 'delivered' })
    await gharry.db('orders').whereRaw('id % 11 = 0').update({ pinned: true, flag: 'Ångström & co' })
  }
})
afterAll(async () => {
  for (const gharry of both) await gharry.close()
  both = []
  await drop()
  rmSync(folder, { recursive: true, force: true })
})

const some = <T>(...from: T[]): fc.Arbitrary<T[]> => fc.subarray(from, { maxLength: 3 })
/** At most two filters at once: of more, hardly an order is left. */
const filters: fc.Arbitrary<DeskFilter> = fc
  .uniqueArray(
    fc.oneof(
      fc.record({ states: some('ready' as const, 'attention' as const, 'held' as const, 'delivered' as const) }),
      fc.record({ countries: some('BE', 'NL', 'DE', 'GB', 'XX') }),
      fc.record({ services: some('heron-road', 'corvid-letter', 'northlight-express') }),
      fc.record({ tags: some('live', 'urgent', 'fragile') }),
      fc.constantFrom({ late: true }, { pinned: true }, { flagged: true }),
      fc
        .constantFrom('mg', 'MG-1', 'maes', 'ghent 9000', 'Brussel', 'é', "o'", '%', '_', 'example')
        .map((search) => ({ search })),
    ),
    { maxLength: 2, selector: (one) => Object.keys(one)[0] },
  )
  .map((list) => Object.assign({}, ...list) as DeskFilter)
const sorts: fc.Arbitrary<DeskSort[]> = fc.uniqueArray(
  fc.record({ column: fc.constantFrom(...deskColumns), down: fc.boolean() }),
  { minLength: 1, maxLength: 3, selector: ({ column }) => column },
)

const onBoth = cluster === '' ? test.skip : test
onBoth('random queries of the Desk give the same rows in the same order, and the same counts', async () => {
  const [sqlite, postgres] = both as [Application, Application]
  let seen = 0
  await fc.assert(
    fc.asyncProperty(filters, sorts, fc.nat(40), fc.constantFrom(undefined, 10), async (filter, by, offset, few) => {
      const [one, other] = await Promise.all(
        [sqlite, postgres].map(async ({ db }) => ({
          rows: await deskPage(db, filter, by, offset, 50, few),
          count: await deskCount(db, filter),
        })),
      )
      expect(other).toEqual(one)
      seen += one!.rows.length
    }),
    { numRuns: Number(process.env.RUNS ?? 150) },
  )
  expect(seen).toBeGreaterThan(500)
})

onBoth(
  'a list of PostgreSQL is walked along the index of its sort, from either end: it is not sorted whole',
  async () => {
    const { db } = both[1]!
    for (const column of deskColumns.filter((name) => name !== 'promisedBy' && name !== 'channelId'))
      for (const direction of ['asc', 'desc']) {
        const query = db('orders')
          .orderBy(`orders.${column}`, direction)
          .orderBy('orders.id', direction)
          .select('orders.id')
          .limit(100)
        const plan = await db.transaction(async (trx) => {
          // Of so few orders it would sort all, as that is as fast.
          await trx.raw('SET LOCAL enable_seqscan = off')
          const { rows } = (await trx.raw(`EXPLAIN ${query.toQuery()}`)) as {
            rows: { 'QUERY PLAN'?: string; queryPlan?: string }[]
          }
          return rows.map((row) => Object.values(row)[0]).join('\n')
        })
        expect([column, direction, plan]).toEqual([
          column,
          direction,
          expect.not.stringMatching(/(?<!Incremental )Sort +\(/),
        ])
        expect(plan).toContain('Index')
      }
  },
)
