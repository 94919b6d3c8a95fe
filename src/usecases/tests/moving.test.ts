import { spawn } from 'node:child_process'
import { createHash } from 'node:crypto'
import { copyFileSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { checkChain, type Database, noteProcess, openDatabase, tablesToMove } from '@/data'
import { countByHand } from '../dispatch/stock/showStock'
import { requestVoid } from '../dispatch/voidLabel'
import { showDesk } from '../desk/showDesk'
import { requestImport } from '../intake/importOrders'
import { type Move, moveBooks, type MoveReport } from '../moving/moveBooks'
import { type Application, openApplication } from '../shared/application'
import { workOnce } from '../worker/work'
import { freshPostgres, type FreshPostgres } from './freshPostgres'
import { buyReady, makeRig, orderTo, soundOrders, type Rig } from './rig'

/*
 * From the books of the rig to others: from a file to a file; where the tests run on PostgreSQL, from there to a file, and
 * from that file to PostgreSQL.
 */
let rig: Rig
let folder: string
let opened: Database[]
let postgres: FreshPostgres | null
beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'gharry-moving-'))
  opened = []
  rig = await makeRig()
  postgres = await freshPostgres()
})
afterEach(async () => {
  await Promise.all(opened.map((db) => db.destroy()))
  await rig.close()
  await postgres?.drop()
  rmSync(folder, { recursive: true, force: true })
})

async function open(books: string): Promise<Database> {
  const db = await openDatabase(books)
  opened.push(db)
  return db
}
const moving = (from: Database, to: Database, more: Partial<Move> = {}): Promise<MoveReport> =>
  moveBooks({
    ...{
      from,
      to,
      fresh: false,
      now: new Date(),
      say: () => undefined,
      goesOn: () => true,
      files: () => Promise.resolve(0),
    },
    ...more,
  })
const fileThere = (): string => join(folder, 'there', 'gharry.db')

/** Books with something in most rooms. */
async function busy(): Promise<void> {
  await buyReady(rig, soundOrders(30))
  const [first] = await rig.labels()
  await requestVoid(rig.gharry, first!.id)
  await countByHand(rig.gharry, {
    location: 'ghent',
    sku: 'TLS-TWEEZ',
    onHand: 12,
    note: 'Ünïcode, ’quoted’ and \u{1F4E6}',
  })
  await rig.workAll()
  await rig.note()
}

const digest = (rows: unknown): string => createHash('sha1').update(JSON.stringify(rows)).digest('hex')

/** What each table holds, in words that do not depend on the database. */
async function contents(db: Database): Promise<ReadonlyMap<string, string>> {
  const found = new Map<string, string>()
  for (const { name, key, columns } of await tablesToMove(db)) {
    if (name === 'order_search') continue
    const rows = (await db(name).orderByRaw(
      key[0] === 'rowid' || key[0] === 'ctid' ? columns.map((one) => one.name).join(', ') : key.join(', '),
    )) as object[]
    found.set(name, digest(rows.map((row) => Object.entries(row).sort(([a], [b]) => (a < b ? -1 : 1)))))
  }
  return found
}

test('everything is there, word for word, and the work goes on with it', async () => {
  await busy()
  const from = rig.gharry.db
  const to = await open(fileThere())
  const report = await moving(from, to)
  expect(report).toMatchObject({ done: true, trails: 30 })
  expect(report.audit).toBeGreaterThan(0)
  expect(await contents(to)).toEqual(await contents(from))

  const books = postgres ? postgres.address : fileThere()
  if (postgres) {
    const third = await open(postgres.address)
    await moving(to, third)
    expect(await contents(third)).toEqual(await contents(from))
  }
  // As the command says.
  copyFileSync(join(rig.gharry.settings.dataDir, 'key'), join(folder, 'there', 'key'))
  const env = { ...rig.env, GHARRY_DATABASE: postgres ? books : undefined, GHARRY_DATA: join(folder, 'there') }
  const there: Application = { ...(await openApplication(env)), now: rig.gharry.now, readOnly: () => null }
  const desk = (gharry: Application, search: string) =>
    showDesk(gharry, { search } as Parameters<typeof showDesk>[1], [], 0, 50)
  for (const search of ['', 'zzz', (await rig.orders())[3]!.number])
    expect(await desk(there, search)).toEqual(await desk(rig.gharry, search))

  await rig.stockShop([orderTo('BE', {}, 'AFTER-1')])
  await requestImport(there, 'mossgill-shop')
  const { workLong } = await import('../worker/work')
  while (await workLong(there)) while (await workOnce(there));
  const [last] = (await there.db('orders').orderBy('id', 'desc').limit(1)) as { id: number; remoteId: string }[]
  expect(last).toMatchObject({ id: 31, remoteId: 'AFTER-1' })
  await countByHand(there, { location: 'ghent', sku: 'TLS-TWEEZ', onHand: 11, note: '' })
  expect((await checkChain(there.db)).wrong).toBeNull()
  await there.close()
})

test('stopped after each step, it goes on where it was; half of it is no books', async () => {
  await busy()
  const to = await open(fileThere())
  let steps = 0
  for (let done = false; !done; steps++) {
    let left = 1
    done = (await moving(rig.gharry.db, to, { goesOn: () => left-- > 0 })).done
    if (steps === 10)
      await expect(
        openApplication({ ...rig.env, GHARRY_DATABASE: undefined, GHARRY_DATA: join(folder, 'there') }),
      ).rejects.toThrow('The move into these books is not finished')
  }
  expect(steps).toBeGreaterThan(40)
  expect(await contents(to)).toEqual(await contents(rig.gharry.db))
})

test('it is done when its files are there too; asked once more, it says so', async () => {
  await busy()
  const to = await open(fileThere())
  // The first file is in the other books already, where those keep their files.
  const halfway = async (): Promise<number> => {
    await to('stored_files').insert({ name: 'files/a', key: 'k', bytes: 1, madeAt: new Date().toISOString() })
    throw new Error('killed')
  }
  await expect(moving(rig.gharry.db, to, { files: halfway })).rejects.toThrow('killed')
  await expect(
    openApplication({ ...rig.env, GHARRY_DATABASE: undefined, GHARRY_DATA: join(folder, 'there') }),
  ).rejects.toThrow('The move into these books is not finished')
  const files = jest.fn(() => Promise.resolve(3))
  const report = await moving(rig.gharry.db, to, { files })
  expect(report).toMatchObject({ done: true, already: false, files: 3, trails: 30 })
  expect(report.audit).toBeGreaterThan(0)
  expect(await moving(rig.gharry.db, to, { files })).toMatchObject({ done: true, already: true })
  expect(files).toHaveBeenCalledTimes(1)
  await countByHand(rig.gharry, { location: 'ghent', sku: 'TLS-TWEEZ', onHand: 7, note: '' })
  await expect(moving(rig.gharry.db, to)).rejects.toThrow('moved there already, and have changed here since')
})

test('killed again and again, the command goes on and ends with all of it', async () => {
  await rig.stockShop(soundOrders(1500))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  await rig.note()
  await rig.gharry.db('processes').delete()
  const target = postgres ? postgres.address : fileThere()
  let said = ''
  const run = (killAfter: number): Promise<number | null> =>
    new Promise((resolve) => {
      const child = spawn('node', ['scripts/run.mjs', 'cli/gharry.ts', 'move', '--to', target], {
        cwd: join(__dirname, '../../..'),
        env: { ...process.env, ...rig.env },
        stdio: ['ignore', 'pipe', 'pipe'],
      })
      said = ''
      for (const stream of [child.stdout, child.stderr]) stream.on('data', (text) => (said += String(text)))
      const timer = setTimeout(() => child.kill('SIGKILL'), killAfter)
      child.once('exit', (status) => {
        clearTimeout(timer)
        resolve(status)
      })
    })
  let kills = 0
  // Longer each time, and faster so: on a slow machine the program takes seconds to begin.
  for (let killAfter = 800; (await run(killAfter)) !== 0; killAfter = Math.max(killAfter + 250, killAfter * 1.2)) {
    kills++
    if (kills > 60) throw new Error(`it never ended: ${said}`)
  }
  expect(kills).toBeGreaterThan(0)
  expect(await contents(await open(target))).toEqual(await contents(rig.gharry.db))
}, 300_000)

test('what would lose something is refused with what to do', async () => {
  await busy()
  const from = rig.gharry.db
  const to = await open(fileThere())
  const now = new Date()
  await noteProcess(from, {
    ...{ id: 'worker here 1', kind: 'worker', version: '0', startedAt: now.toISOString(), seenAt: now.toISOString() },
    ...{ readOnly: null, slow: [] },
  })
  await expect(moving(from, to)).rejects.toThrow('Gharry runs with these books (worker here 1): stop it first')
  await from('processes').delete()

  while ((await to('audit').first()) === undefined)
    expect((await moving(from, to, { goesOn: () => false })).done).toBe(false)
  await countByHand(rig.gharry, { location: 'ghent', sku: 'TLS-TWEEZ', onHand: 3, note: '' })
  await expect(moving(from, to)).rejects.toThrow('The books changed since the move began: begin it anew with --fresh')
  await expect(moving(from, await open(fileThere()), { fresh: true })).rejects.toThrow('take the file away')
  rmSync(join(folder, 'there'), { recursive: true })
  expect(await moving(from, await open(fileThere()))).toMatchObject({ done: true })

  // Somebody else's hand at the other place, in the middle of it.
  const second = await open(join(folder, 'second', 'gharry.db'))
  const half = async (): Promise<boolean> =>
    (await second('moving').where({ name: 'orders', done: 1 }).first()) !== undefined
  while (!(await half())) expect((await moving(from, second, { goesOn: () => false })).done).toBe(false)
  await second('orders').where({ id: 7 }).update({ city: 'Somewhere else altogether' })
  await expect(moving(from, second)).rejects.toThrow(/^orders is not the same at the other place \(city: sum/)
  await expect(moving(from, second)).rejects.toThrow(/^orders is not the same/)
  const third = await open(join(folder, 'third', 'gharry.db'))
  await third('people').insert({ name: 'X', email: 'x@mossgill.example', role: 'owner', madeAt: now.toISOString() })
  await expect(moving(from, third)).rejects.toThrow('There are books at the other place already')
}, 120_000)
