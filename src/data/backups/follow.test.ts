import { spawn } from 'node:child_process'
import { copyFileSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import BetterSqlite3 from 'better-sqlite3'
import { followBooks } from './follow'
import { applyPages, pagesToBytes } from './replay'
import { noWal, readWal, WalBroken } from './walFile'
import { framesThatCount } from './walIndex'

let folder: string
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'gharry-follow-'))
})
afterEach(() => rmSync(folder, { recursive: true, force: true }))

/**
 * Writes by itself, in a process of its own, and moves the log into the file now and then, as all do. It goes on until
 * it is told that enough was seen, however busy the machine is.
 */
const writer = (file: string, seed: number, checkpoint: number, enough: string): string => `
  const { existsSync } = require('node:fs')
  const db = new (require('better-sqlite3'))(${JSON.stringify(file)}, { timeout: 20000 })
  db.pragma('journal_mode = WAL'); db.pragma('synchronous = NORMAL'); db.pragma('wal_autocheckpoint = ${checkpoint}')
  let seed = ${seed}
  const random = (n) => (seed = (seed * 1103515245 + 12345) % 2147483648) % n
  const add = db.prepare('INSERT INTO t (who, text) VALUES (?, ?)'), drop = db.prepare('DELETE FROM t WHERE id % 7 = ?'), change = db.prepare('UPDATE t SET text = ? WHERE id % 11 = ?')
  const given = Date.now() + 200000
  let n = 0
  while (!existsSync(${JSON.stringify(enough)}) && Date.now() < given) {
    db.transaction(() => {
      for (let i = 0; i < 1 + random(40); i++) add.run(${seed}, 'x'.repeat(random(3000)))
      if (random(20) === 0) drop.run(random(7))
      if (random(10) === 0) change.run('y'.repeat(random(2000)), random(11))
      n++
    }).immediate()
    // A transaction that is taken back leaves its pages in the log.
    if (random(15) === 0) try { db.transaction(() => { change.run('z'.repeat(2500), 3); throw 0 }).immediate() } catch {}
    if (random(50) === 0) Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, random(60))
  }
  db.close()
  console.log(n)`

const run = (code: string): Promise<number> =>
  new Promise((resolve, reject) => {
    const child = spawn(process.execPath, ['-e', code], { stdio: ['ignore', 'pipe', 'inherit'] })
    let said = ''
    child.stdout.on('data', (data: Buffer) => (said += data.toString()))
    child.on('close', (code) => (code === 0 ? resolve(Number(said)) : reject(new Error(`ended with ${code}`))))
  })

const made = (file: string): BetterSqlite3.Database => {
  const db = new BetterSqlite3(file)
  db.pragma('journal_mode = WAL')
  db.exec('CREATE TABLE IF NOT EXISTS t (id INTEGER PRIMARY KEY, who INTEGER, text TEXT)')
  db.exec('CREATE INDEX IF NOT EXISTS t_text ON t (text)')
  return db
}
// A transaction adds 40 rows at most: these are more than 20 of them, besides the first 500 rows.
const manyRows = 500 + 21 * 40
const all = (db: BetterSqlite3.Database): unknown[] => db.prepare('SELECT * FROM t ORDER BY id').all()

test.each([10, 200, 8000])(
  'a copy and what was written since are the books, with three writers, and logs begun anew every %i pages',
  async (checkpoint) => {
    const [file, copy, enough] = [join(folder, 'books.db'), join(folder, 'copy.db'), join(folder, 'enough')]
    const db = made(file)
    for (let i = 0; i < 500; i++) db.prepare('INSERT INTO t (who, text) VALUES (0, ?)').run('a'.repeat(2000))
    const writers = Promise.all([1, 2, 3].map((seed) => run(writer(file, seed, checkpoint, enough))))
    const newest = db.prepare('SELECT MAX(id) AS id FROM t')
    const lastId = (): number => (newest.get() as { id: number }).id
    let going = true
    void writers.finally(() => (going = false))
    await new Promise((resolve) => setTimeout(resolve, 300))
    const following = followBooks(file)
    const written: Buffer[] = []
    const copied = following.copyTo(copy)
    const salts = new Set<number | undefined>()
    let [rounds, shortened] = [0, 0]
    while (going) {
      await new Promise((resolve) => setTimeout(resolve, 7 + (rounds % 5) * 9))
      const pages = following.next()
      if (pages) written.push(pagesToBytes(pages))
      if (rounds++ % 4 === 3) {
        following.shorten((pages) => written.push(pagesToBytes(pages)))
        shortened++
      }
      salts.add(following.place().salts?.[1])
      if (rounds > 20 && salts.size > 1 && lastId() > manyRows) writeFileSync(enough, '')
    }
    await copied
    const last = following.next()
    if (last) written.push(pagesToBytes(last))
    expect(following.next()).toBeNull()
    following.end()
    expect((await writers).reduce((a, b) => a + b)).toBeGreaterThan(20)
    expect(shortened).toBeGreaterThan(1)
    expect(salts.size).toBeGreaterThan(1)
    for (const bytes of written) applyPages(copy, bytes)
    const again = new BetterSqlite3(copy)
    expect(again.pragma('integrity_check')).toEqual([{ integrity_check: 'ok' }])
    expect(all(again)).toEqual(all(db))
    again.close()
    db.close()
  },
)

test('it goes on where it stood, and says so when it cannot', () => {
  const [file, copy] = [join(folder, 'books.db'), join(folder, 'copy.db')]
  const db = made(file)
  db.pragma('wal_autocheckpoint = 0')
  const add = db.prepare('INSERT INTO t (who, text) VALUES (0, ?)')
  add.run('one')
  const first = followBooks(file)
  copyFileSync(file, copy)
  const place = first.place()
  first.end()
  add.run('two')
  const second = followBooks(file, place)
  expect(second.next()!.pages.size).toBeGreaterThan(0)
  const later = second.place()
  second.end()
  // Somebody else moves the log into the file, and begins it anew: what was in it may be missing.
  add.run('three')
  db.pragma('wal_checkpoint(RESTART)')
  add.run('four')
  expect(() => followBooks(file, later)).toThrow(WalBroken)
  db.close()
})

test('a commit that stands in the log and does not count is not read; what does not go on from what was read is said', () => {
  const file = join(folder, 'books.db')
  const db = made(file)
  db.pragma('wal_autocheckpoint = 0')
  const add = db.prepare('INSERT INTO t (who, text) VALUES (0, ?)')
  add.run('one')
  const counting = framesThatCount(file)
  const first = readWal(file, noWal, counting)
  add.run('two')
  expect(framesThatCount(file)).toBeGreaterThan(counting)
  // As when its writer died before the index said so.
  expect(readWal(file, noWal, counting)).toEqual(first)
  expect(readWal(file, first.place, counting).written).toBeNull()
  expect(readWal(file, first.place, framesThatCount(file)).written!.pages.size).toBeGreaterThan(0)
  // As when the next one was written over it after it was read.
  const never = { ...first.place, checksum: [1, 2] as const }
  expect(() => readWal(file, never, framesThatCount(file))).toThrow(WalBroken)
  db.close()
})

test('pages that are cut short are not written into a copy', () => {
  const file = join(folder, 'books.db')
  writeFileSync(file, Buffer.alloc(1024))
  const bytes = pagesToBytes({ pageSize: 512, fileAtPages: 2, pages: new Map([[1, Buffer.alloc(512, 7)]]) })
  expect(() => applyPages(file, bytes.subarray(0, -1))).toThrow(/cut short/)
  applyPages(file, bytes)
})
