import { execFile } from 'node:child_process'
import { existsSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { promisify } from 'node:util'
import {
  addEvents,
  noteOldFile,
  type OldFile,
  takeOut,
  orderRow,
  removePin,
  setPin,
  updateFacts,
  ordersById,
} from '@/data'
import { showHealth } from '@/usecases/health/showHealth'
import { showOrder } from '@/usecases/desk/showOrder'
import { requestImport } from '@/usecases/intake/importOrders'
import { moveOut, oldBefore } from '@/usecases/oldMonths/moveOut'
import { ordersNumbered } from '@/usecases/oldMonths/showOld'
import { forgetThese } from '@/usecases/privacy/forget'
import { workPastDays } from '@/usecases/rules/pastDays'
import { compareTrails, runTrial, showTrialRun, startTrial } from '@/usecases/rules/runTrial'
import type { Application } from '@/usecases/shared/application'
import { OldFileProblem, readOldFile } from '@/usecases/shared/oldOrders'
import { workOneJob } from '@/usecases/worker/work'
import { buyReady, makeRig, soundOrders, type Rig } from './rig'

let rig: Rig
/** Gharry where no backup is waited for. */
let gharry: Application
const dayMs = 86_400_000
const always = (): Promise<boolean> => Promise.resolve(true)

beforeEach(async () => {
  rig = await makeRig()
  // Half of them are of 200 days ago, in two months; the others of the last days.
  await rig.stockShop(
    soundOrders(24).map((order, i) => ({
      ...order,
      shipping_method: 'Standard',
      placed_at: new Date(Date.now() - (i < 12 ? 200 + 3 * i : 3) * dayMs).toISOString(),
    })),
  )
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  gharry = { ...rig.gharry, settings: { ...rig.gharry.settings, keepsBackups: false } }
})
afterEach(() => rig.close())

const oldIds = async (): Promise<number[]> =>
  (await rig.orders())
    .filter(({ placedAt }) => placedAt < new Date(Date.now() - 100 * dayMs).toISOString())
    .map(({ id }) => id)

/** The old ones are over, and name nobody. */
async function over(): Promise<number[]> {
  const ids = await oldIds()
  await rig.gharry.db('orders').whereIn('id', ids).update({ state: 'delivered' })
  await forgetThese(rig.gharry, ids, { author: 'Gharry', why: 'days' })
  return ids
}

async function tried(): Promise<unknown> {
  const { db } = gharry
  const [from, until] = [new Date(Date.now() - 300 * dayMs), new Date()].map((at) => at.toISOString().slice(0, 10)) as [
    string,
    string,
  ]
  const started = await startTrial(gharry, { from, until, channels: [], everyNth: 1, asOf: '' })
  if (!started.ok) throw new Error(started.sentence)
  await runTrial(gharry, (await db('jobs').where({ id: started.id }).first()) as never)
  await db('jobs').where({ id: started.id }).update({ state: 'done' })
  const { summary, flow } = (await showTrialRun(gharry, started.id))!.result!
  return { summary, flow }
}

const longTables = async (ids: readonly number[]): Promise<number[]> =>
  Promise.all(
    ['order_facts', 'decisions', 'order_log'].map(
      async (table) => (await rig.gharry.db(table).whereIn('order_id', ids)).length,
    ),
  )

test('old months leave the books; orders, trails and trials are read as before', async () => {
  const ids = await over()
  await rig.gharry.db('orders').where({ id: ids[0]! }).update({ state: 'cancelled' })
  const before = await Promise.all(ids.map((id) => showOrder(gharry, id)))
  const trial = await tried()
  const compared = await compareTrails(gharry, ids[3]!, null)
  const moved = await moveOut(gharry, 2, always, 5)
  // Two months or three, as the days lie: never two in a file.
  expect(moved).toMatchObject({ waiting: 0, named: 0 })
  expect(moved.written).toBeGreaterThanOrEqual(3)
  expect(moved.takenOut).toBe(moved.written)
  // Health says what is in files.
  const { old } = await showHealth(gharry)
  expect(old.reduce((sum, { orders }) => sum + orders, 0)).toBe(ids.length)
  expect(old.every(({ month, bytes }) => /^\d{4}-\d{2}$/.test(month) && bytes > 0)).toBe(true)
  expect(await longTables(ids)).toEqual([0, 0, 0])
  const files = (await gharry.db('old_files').orderBy('id')) as { month: string; name: string; orders: number }[]
  expect(files.reduce((sum, { orders }) => sum + orders, 0)).toBe(ids.length)
  for (const { name, month } of files) expect(name).toMatch(new RegExp(`^old/${month}-`))
  const withoutFile = <T extends { row: object } | null>(view: T): T =>
    view && { ...view, row: { ...view.row, oldFile: null } }
  const after = await Promise.all(ids.map((id) => showOrder(gharry, id)))
  expect(after.map(withoutFile)).toEqual(before.map(withoutFile))
  expect((await ordersNumbered(gharry, before[5]!.row.number)).map(({ row }) => row.id)).toEqual([ids[5]])
  expect(await compareTrails(gharry, ids[3]!, null)).toEqual(compared)
  expect(await tried()).toEqual(trial)
  // What is kept as columns can be made anew, from the files.
  await gharry.db('past_days').update({ form: 0 })
  await workPastDays(gharry, (await gharry.db('jobs').orderBy('id').first()) as never)
  expect(await tried()).toEqual(trial)
  expect(await moveOut(gharry, 2, always)).toMatchObject({ written: 0, takenOut: 0 })
})

test('the command line moves them, and prints an order of one; a file that is gone or changed is said', async () => {
  const ids = await over()
  const number = (await orderRow(rig.gharry.db, ids[4]!))!.number
  const run = (...words: string[]): Promise<{ stdout: string; stderr: string; code?: number }> =>
    promisify(execFile)('node', ['scripts/run.mjs', 'cli/gharry.ts', ...words], {
      cwd: join(__dirname, '../../..'),
      env: { ...process.env, ...rig.env, GHARRY_BACKUPS: 'none' },
    }).catch((error: { stdout: string; stderr: string; code: number }) => error)
  expect((await run('old-months')).stderr).toContain('--keep 13')
  const done = await run('old-months', '--keep', '2')
  expect(done.stdout).toMatch(/files were written/)
  expect(done.stdout).toMatch(/: \d+ orders in files of/)
  expect(await longTables(ids)).toEqual([0, 0, 0])
  const printed = JSON.parse((await run('order', number)).stdout) as { row: { id: number }; trail: unknown[] }
  expect(printed.row.id).toBe(ids[4])
  expect(printed.trail.length).toBeGreaterThan(5)
  expect(await run('order', 'X-1')).toMatchObject({ code: 3, stderr: 'There is no order X-1.\n' })
  const folder = join(rig.env.GHARRY_DATA!, 'old')
  if (!existsSync(folder)) return
  for (const name of readdirSync(folder)) {
    const content = readFileSync(join(folder, name))
    content[content.length - 9]! ^= 1
    writeFileSync(join(folder, name), content)
  }
  expect((await run('order', number)).stderr).toMatch(/is not as it was written: bring it back from a backup/)
  rmSync(folder, { recursive: true })
  expect((await run('order', number)).stderr).toMatch(/is not where files are kept: bring it back there/)
  await expect(showOrder(rig.gharry, ids[4]!)).rejects.toThrow(OldFileProblem)
}, 60_000)

test('what still names somebody stays, and so does what a backup does not have yet', async () => {
  expect(await moveOut(gharry, 2, always)).toEqual({ written: 0, takenOut: 0, waiting: 0, named: 12 })
  const ids = await over()
  const backed: Application = {
    ...gharry,
    settings: { ...gharry.settings, keepsBackups: true, keepsFilesOutside: false },
  }
  const moved = await moveOut(backed, 2, always)
  expect(moved).toMatchObject({ takenOut: 0, waiting: moved.written, named: 0 })
  expect((await longTables(ids))[0]).toBe(12)
  const state = { at: new Date().toISOString(), place: 'p', key: 'k', until: null, waiting: 0, problem: null }
  const newest = { name: 'n', made: '2099-01-01T00:00:00.000Z', bytes: 1, seconds: 1 }
  writeFileSync(join(gharry.settings.dataDir, 'backup-state.json'), JSON.stringify({ ...state, newest }))
  expect(await moveOut(backed, 2, always)).toMatchObject({ written: 0, takenOut: moved.written, waiting: 0 })
  expect(await longTables(ids)).toEqual([0, 0, 0])
})

test('what changes between writing and taking out stays in the books, and what comes later is told with the rest', async () => {
  const { db } = gharry
  const ids = await over()
  const backed: Application = {
    ...gharry,
    settings: { ...gharry.settings, keepsBackups: true, keepsFilesOutside: false },
  }
  await moveOut(backed, 2, always)
  const change = async (id: number): Promise<void> => {
    const [stored] = await ordersById(db, [id])
    const { order } = stored ?? { order: (await showOrder(gharry, id))!.order }
    await db.transaction((trx) => updateFacts(trx, id, { ...order, wording: 'Changed' }, 'h'))
  }
  await change(ids[2]!)
  await moveOut(gharry, 2, always, 1)
  expect((await longTables(ids))[0]).toBe(1)
  expect((await showOrder(gharry, ids[2]!))!.order.wording).toBe('Changed')
  // The channel changes one that is gone: the books say what is new.
  const trail = (await showOrder(gharry, ids[6]!))!.trail
  await change(ids[6]!)
  await db('order_log').insert({ orderId: ids[6], at: '2026-01-01T00:00:00Z', author: 'Ilse', sentence: 'Later.' })
  const later = (await showOrder(gharry, ids[6]!))!
  expect(later.order.wording).toBe('Changed')
  expect(later.trail).toEqual(trail)
  expect(later.log.at(-1)).toMatchObject({ sentence: 'Later.' })
  // Pinned by hand, it is noted as changed; trials keep what was packed.
  const trial = await tried()
  await setPin(db, ids[7]!, 'signature', false, 'Ilse', '')
  await removePin(db, ids[7]!, 'signature')
  expect(await tried()).toEqual(trial)
})

test('news of parcels come along, each once', async () => {
  const { db } = gharry
  const ids = await oldIds()
  await rig.gharry.db('orders').whereNot({ id: ids[0]! }).update({ state: 'delivered' })
  await buyReady(rig, [])
  const [label] = await rig.labels()
  const news = (remoteId: string, at: string): Parameters<typeof addEvents>[1][number] => ({
    labelId: label!.id,
    position: 0,
    remoteId,
    at,
    status: 'collected',
    place: 'Gent',
    text: '',
  })
  await addEvents(db, [news('n-1', '2026-01-01T00:00:00Z'), news('n-2', '2026-01-02T00:00:00Z')])
  await over()
  const before = (await showOrder(gharry, ids[0]!))!.events.map(({ remoteId }) => remoteId)
  expect(before.slice(-2)).toEqual(['n-1', 'n-2'])
  await moveOut(gharry, 2, always)
  expect(await db('tracking_events')).toEqual([])
  await addEvents(db, [news('n-2', '2026-01-02T00:00:00Z'), news('n-3', '2026-01-03T00:00:00Z')])
  expect((await showOrder(gharry, ids[0]!))!.events.map(({ remoteId }) => remoteId)).toEqual([...before, 'n-3'])
})

test('two who move them at once lose nothing', async () => {
  const { db } = gharry
  const ids = await over()
  const before = await Promise.all(ids.map(async (id) => (await showOrder(gharry, id))!.trail))
  const backed: Application = {
    ...gharry,
    settings: { ...gharry.settings, keepsBackups: true, keepsFilesOutside: false },
  }
  await moveOut(backed, 2, always)
  const files = (await db('old_files').orderBy('id')) as OldFile[]
  const lines = await Promise.all(files.map((file) => readOldFile(gharry, file)))
  // Each had read what is to be taken out before the other one did it; and one has written a file of the same orders.
  const { id: _id, takenOutAt: _takenOutAt, ...again } = files[0]!
  await db.transaction((trx) =>
    noteOldFile(
      trx,
      { ...again, name: 'old/again.gz' },
      lines[0]!.map(({ id }) => id),
    ),
  )
  const all = (await db('old_files').orderBy('id')) as OldFile[]
  for (const file of [...all, ...all])
    await db.transaction((trx) =>
      takeOut(trx, file, lines[files.findIndex(({ id }) => id === file.id)] ?? lines[0]!, ''),
    )
  expect(await longTables(ids)).toEqual([0, 0, 0])
  expect(await Promise.all(ids.map(async (id) => (await showOrder(gharry, id))!.trail))).toEqual(before)
  expect(((await db('old_files').orderBy('id')) as OldFile[]).map(({ orders }) => orders)).toEqual([
    ...files.map(({ orders }) => orders),
    0,
  ])
})

test('the worker moves them once a day, where months are set', async () => {
  const { askOldMonths } = await import('../oldMonths/moveOut')
  const ids = await over()
  await askOldMonths(rig.gharry)
  expect(await workOneJob(rig.gharry, false)).toBe(false)
  const set: Application = { ...gharry, settings: { ...gharry.settings, monthsInBooks: 2 } }
  await askOldMonths(set)
  await askOldMonths(set)
  expect(await workOneJob(set, false)).toBe(true)
  expect(await workOneJob(set, false)).toBe(false)
  expect(await longTables(ids)).toEqual([0, 0, 0])
  expect(oldBefore(new Date('2026-01-31T23:00:00Z'), 13)).toBe('2024-12-01')
})
