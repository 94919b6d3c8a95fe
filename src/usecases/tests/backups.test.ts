import { spawn, type ChildProcess } from 'node:child_process'
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import fastify from 'fastify'
import pino from 'pino'
import { balanceOf, openDatabase } from '@/data'
import { beforeMigrating } from '@/usecases/backups/beforeMigrating'
import { restoredBooks, restoreMark } from '@/usecases/shared/restoredBooks'
import { compareWithCarriers } from '@/usecases/backups/afterRestore'
import { topUp } from '@/usecases/ledger/balances'
import { readBackupState } from '@/usecases/backups/backupState'
import { type BackupHouse, backupHouse } from '@/usecases/backups/house'
import { inspectHere as inspect } from '@/usecases/backups/inspectCopy'
import { backupKeeper, type Keeper } from '@/usecases/backups/keepBackups'
import { keptBackups, nameOfMoment } from '@/usecases/backups/kept'
import { keysToOpen } from '@/usecases/backups/keys'
import { makeBackup } from '@/usecases/backups/oneBackup'
import { chosenBackup, finishRestore, problemOf, restoreBooks, storedBackups } from '@/usecases/backups/restore'
import { buyBatch } from '@/usecases/dispatch/buyBatch'
import { planBatch } from '@/usecases/dispatch/planBatch'
import { forgetBuyer } from '@/usecases/privacy/buyers'
import { type Application, openApplication } from '@/usecases/shared/application'
import { requestImport } from '@/usecases/intake/importOrders'
import { startBuying, workBySchedule, workOnce } from '@/usecases/worker/work'
import { sftpServer } from '../../../standins/sftpServer'
import { end } from './processes'
import { buyReady, makeRig, soundOrders, type Rig } from './rig'

let rig: Rig
let folder: string
let house: BackupHouse & { place: NonNullable<BackupHouse['place']> }
const keepers: Keeper[] = []
beforeEach(async () => {
  rig = await makeRig()
  folder = mkdtempSync(join(tmpdir(), 'gharry-backups-'))
  house = placedAt(join(folder, 'place'))
})
afterEach(async () => {
  for (const keeper of keepers.splice(0)) await keeper.end().catch(() => undefined)
  await rig.close()
  rmSync(folder, { recursive: true, force: true })
})

const placedAt = (place: string, more: Record<string, string> = {}): typeof house => {
  const made = backupHouse({
    GHARRY_DATA: rig.env.GHARRY_DATA,
    GHARRY_BACKUPS: place,
    GHARRY_BACKUP_SECONDS: '0.2',
    ...more,
  })
  if (!made.place) throw new Error('no place')
  return { ...made, place: made.place }
}
const keep = (): Keeper => {
  const keeper = backupKeeper(house, { now: () => new Date(), log: pino({ level: 'silent' }), inspect })
  keepers.push(keeper)
  return keeper
}
const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms))
/** Until all that is written by now is in the place, or the keeper says why it is not. */
async function caughtUp(keeper: Keeper): Promise<void> {
  const since = Date.now()
  await keeper.look()
  await keeper.copied()
  for (let looks = 0; looks < 200; looks++) {
    await pause(210)
    await keeper.look()
    const { problem, waiting, until } = readBackupState(house.dataDir)!
    if (problem !== null || (waiting === 0 && until !== null && Date.parse(until) > since)) return
  }
}
const importAll = async (count: number, from = 0): Promise<void> => {
  await rig.stockShop(soundOrders(from + count).slice(from))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
}
const open = async (where = house) => storedBackups(where, where.place, keysToOpen(where), () => undefined)
/** A data folder of another machine: the key came along, nothing else. */
function elsewhere(): typeof house {
  const data = join(folder, 'elsewhere')
  mkdirSync(data)
  writeFileSync(join(data, 'backup.key'), readFileSync(join(house.dataDir, 'backup.key')))
  return { ...backupHouse({ GHARRY_DATA: data }), place: house.place }
}
const restored = async (to: typeof house, at?: Date) =>
  restoreBooks(to, {
    ...{ place: to.place, keys: keysToOpen(to), inspect, say: () => undefined, ...(at ? { at } : {}) },
    chosen: chosenBackup(await open(to), at ? { at } : {}),
  })
const refused = (work: () => unknown): Promise<string> =>
  Promise.resolve()
    .then(work)
    .then(() => 'nothing was refused', problemOf)
const ordersIn = async (data: string): Promise<number> => {
  const db = await openDatabase(join(data, 'gharry.db'))
  const [{ n }] = (await db('orders').count({ n: '*' })) as [{ n: number }]
  await db.destroy()
  return Number(n)
}

test('a machine is lost: on another one the books are as they were last, with the keys of the credentials', async () => {
  await importAll(30)
  const keeper = keep()
  await caughtUp(keeper)
  await importAll(25, 30)
  await caughtUp(keeper)
  const there = elsewhere()
  const done = await restored(there)
  expect(done.tables.orders).toBe(55)
  expect(done.before).toBeNull()
  expect(readFileSync(join(there.dataDir, 'key'))).toEqual(readFileSync(join(house.dataDir, 'key')))
  expect(existsSync(join(there.dataDir, 'restoring'))).toBe(false)
  const again = await openApplication({ ...rig.env, GHARRY_DATA: there.dataDir })
  // Credentials open, and every order has its decision.
  const row = (await again.db('connections').where({ id: 'mossgill-shop' }).first()) as { secrets: string }
  expect(again.vault.open(row.secrets, 'mossgill-shop')).toContain('s')
  expect(await again.db('decisions').count({ n: '*' })).toEqual([{ n: 55 }])
  await again.close()
  // Nothing of a buyer is readable in the place.
  const buyer = soundOrders(1)[0]!.customer.name
  for (const file of readdirSync(join(folder, 'place'), { recursive: true, withFileTypes: true }))
    if (file.isFile()) expect(readFileSync(join(file.parentPath, file.name)).includes(buyer)).toBe(false)
})

test('as they were at a moment, between copies too', async () => {
  await importAll(10)
  const keeper = keep()
  await caughtUp(keeper)
  await importAll(10, 10)
  await caughtUp(keeper)
  const between = new Date()
  await importAll(10, 20)
  await caughtUp(keeper)
  expect((await restored(elsewhere(), between)).tables.orders).toBe(20)
  rmSync(join(folder, 'elsewhere'), { recursive: true })
  // A copy by hand is newer, but what was written goes on with the older one: that reaches further.
  await pause(1100)
  const made = new Date()
  const backup = nameOfMoment(made)
  await makeBackup(house, { backup, place: house.place, made })
  await importAll(10, 30)
  await caughtUp(keeper)
  expect((await restored(elsewhere())).tables.orders).toBe(40)
  expect(await refused(() => restored(house, new Date('2020-01-01')))).toMatch(
    /No backup reaches back to then: the oldest one is of 20/,
  )
})

test('a keeper that ends goes on where it stood; one that cannot makes a new copy', async () => {
  await importAll(5)
  const first = keep()
  await caughtUp(first)
  await first.end()
  keepers.length = 0
  await importAll(5, 5)
  const second = keep()
  await caughtUp(second)
  expect((await open()).length).toBe(1)
  expect((await restored(elsewhere())).tables.orders).toBe(10)
  rmSync(join(folder, 'elsewhere'), { recursive: true })
  await second.end()
  keepers.length = 0
  // Somebody else moved what was written into the books meanwhile.
  await importAll(5, 10)
  await rig.gharry.db.raw('PRAGMA wal_checkpoint(RESTART)')
  await importAll(5, 15)
  await pause(1100)
  const third = keep()
  await caughtUp(third)
  await caughtUp(third)
  expect((await open()).length).toBe(2)
  expect((await restored(elsewhere())).tables.orders).toBe(20)
})

test('a place that is away misses nothing, and it is said', async () => {
  const keeper = keep()
  await caughtUp(keeper)
  // A file where its folder was: as a disk that is not mounted.
  const place = join(folder, 'place')
  const aside = join(folder, 'aside')
  renameSync(place, aside)
  writeFileSync(place, '')
  await importAll(7)
  await caughtUp(keeper)
  expect(readBackupState(house.dataDir)).toMatchObject({
    problem: expect.stringMatching(/disk mounted|cannot be used/) as string,
  })
  expect(readBackupState(house.dataDir)!.waiting).toBeGreaterThan(0)
  rmSync(place)
  renameSync(aside, place)
  await caughtUp(keeper)
  expect(readBackupState(house.dataDir)).toMatchObject({ problem: null, waiting: 0 })
  expect((await restored(elsewhere())).tables.orders).toBe(7)
})

describe('what cannot be restored is said, and nothing is changed', () => {
  const room = (): string => join(folder, 'place', readdirSync(join(folder, 'place'))[0]!)
  const flip = (at: number) => (bytes: Buffer) => {
    const copy = Buffer.from(bytes)
    copy[at < 0 ? copy.length + at : at]! ^= 1
    return copy
  }
  beforeEach(async () => {
    await importAll(12)
    const keeper = keep()
    await caughtUp(keeper)
    await importAll(3, 12)
    await caughtUp(keeper)
    await importAll(3, 15)
    await caughtUp(keeper)
    await keeper.end()
    keepers.length = 0
  })

  test('parts that were changed, cut, taken away or exchanged', async () => {
    const cases: readonly [string, RegExp, (bytes: Buffer) => Buffer | null, RegExp][] = [
      ['books that were changed', /^books/, flip(2000), /books.sealed was changed, cut or exchanged/],
      ['books that were cut', /^books/, (bytes) => bytes.subarray(0, -5), /was changed, cut or exchanged/],
      ['a log that was changed', /^log-0000001/, flip(-1), /log-0000001.*was changed, cut or exchanged/],
      [
        'a part of the log that is missing',
        /^log-0000001/,
        () => null,
        /Part 1 of what was written after the copy is missing: it can be restored until/,
      ],
      ['a file that is none', /^file-0001/, () => Buffer.from('nothing'), /is no part of a backup/],
      [
        'another part in its place',
        /^log-0000001/,
        () =>
          readFileSync(
            join(
              room(),
              readdirSync(room()).find((name) => name.startsWith('log-0000002'))!,
            ),
          ),
        /was changed, cut or exchanged/,
      ],
    ]
    const there = elsewhere()
    for (const [what, find, change, sentence] of cases) {
      const file = join(
        room(),
        readdirSync(room()).find((name) => find.test(name))!,
      )
      const whole = readFileSync(file)
      const next = change(whole)
      if (next) writeFileSync(file, next)
      else rmSync(file)
      expect([what, await refused(() => restored(there))]).toEqual([what, expect.stringMatching(sentence) as string])
      expect(existsSync(there.books)).toBe(false)
      writeFileSync(file, whole)
    }
    expect((await restored(there)).tables.orders).toBe(18)
  })

  test('the key is another one, or lost: it is said which one is wanted', async () => {
    const there = elsewhere()
    writeFileSync(join(there.dataDir, 'backup.key'), Buffer.alloc(32, 9).toString('base64'))
    const odd: string[] = []
    expect(await storedBackups(there, there.place, keysToOpen(there), (one) => odd.push(one))).toEqual([])
    expect(odd[0]).toMatch(/is sealed with the backup key [0-9a-f]{8}, which is not here/)
    rmSync(join(there.dataDir, 'backup.key'))
    expect(await refused(() => keysToOpen(there))).toMatch(/The backup key is not in this data folder/)
    expect(existsSync(join(there.dataDir, 'backup.key'))).toBe(false)
  })

  test('Gharry runs on the data folder', async () => {
    expect(await refused(() => restored(house))).toMatch(/Gharry runs on this data folder: stop it first/)
    expect(await rig.orders()).toHaveLength(18)
  })

  test('a backup of a newer Gharry', async () => {
    const [chosen] = await open()
    const newer = { ...chosen!, note: { ...chosen!.note, migration: '999-later' } }
    const there = elsewhere()
    expect(
      await refused(() =>
        restoreBooks(there, {
          place: there.place,
          chosen: newer,
          keys: keysToOpen(there),
          inspect,
          say: () => undefined,
        }),
      ),
    ).toMatch(/newer Gharry/)
  })

  test('a restore that is cut off at its last step is gone on with, and nobody opens half of it', async () => {
    await rig.gharry.db.destroy()
    const rows = 18
    // The machine stops right after the plan of the last step was written.
    const before = join(house.dataDir, 'before-restore-x')
    mkdirSync(join(house.dataDir, 'restoring'))
    const done = elsewhere()
    await restored(done)
    for (const name of ['gharry.db', 'key'])
      writeFileSync(join(house.dataDir, 'restoring', name), readFileSync(join(done.dataDir, name)))
    writeFileSync(join(house.dataDir, restoreMark), JSON.stringify({ before }))
    mkdirSync(before)
    renameSync(house.books, join(before, 'gharry.db'))
    await expect(openApplication(rig.env)).rejects.toThrow(/A restore was cut off at its last step/)
    expect(finishRestore(house)).toBe(before)
    expect(await ordersIn(house.dataDir)).toBe(rows)
    expect(statSync(join(before, 'gharry.db')).size).toBeGreaterThan(0)
    expect(finishRestore(house)).toBeNull()
  })
})

test('before the form of the books is changed a copy of them is made; without room for it they stay as they are', async () => {
  await importAll(3)
  // As an earlier Gharry left them.
  const { newest } = (await rig.gharry.db('knex_migrations').max({ newest: 'name' }).first()) as { newest: string }
  await rig.gharry.db('knex_migrations').where({ name: newest }).delete()
  const local = backupHouse({ GHARRY_DATA: rig.env.GHARRY_DATA })
  await Promise.all([beforeMigrating(local, new Date()), beforeMigrating(local, new Date())])
  const [copy, ...more] = await storedBackups(local, local.local, keysToOpen(local), () => undefined)
  expect(more).toEqual([])
  expect(copy).toMatchObject({
    name: expect.stringMatching(/^before-after-\d{3}-/) as string,
    note: { tables: { orders: 3 } },
  })
  rmSync(join(local.dataDir, 'backups'), { recursive: true })
  writeFileSync(join(local.dataDir, 'backups'), 'no folder')
  await expect(beforeMigrating(local, new Date(Date.now() + 3_600_000))).rejects.toThrow(
    /folder of the backups|missing/,
  )
})

const worked = async (gharry: Application): Promise<void> => {
  for (let i = 0; i < 30; i++) {
    await workOnce(gharry)
    await pause(20)
  }
}

test('what was bought after the backup is found again at the carriers, and nothing is bought twice', async () => {
  await importAll(40)
  const keeper = keep()
  await caughtUp(keeper)
  await keeper.end()
  keepers.length = 0
  await buyReady(rig, soundOrders(40))
  await rig.workAll()
  const paid = (await rig.carrierLabels()).map(({ trackingNumber, key }) => ({ trackingNumber, key }))
  expect(paid.length).toBeGreaterThan(20)
  expect(await topUp(rig.gharry, 'heron', 5000, 'top-up-key-1')).toMatchObject({ ok: true })
  const balance = await balanceOf(rig.gharry.db, 'heron')
  // The machine is lost.
  const there = elsewhere()
  await restored(there)
  const ahead = rig.gharry.now().getTime() - Date.now()
  await rig.gharry.db.destroy()
  for (const name of ['gharry.db', 'gharry.db-wal', 'gharry.db-shm']) rmSync(join(house.dataDir, name), { force: true })
  for (const name of ['gharry.db', 'restored.json'])
    writeFileSync(join(house.dataDir, name), readFileSync(join(there.dataDir, name)))
  const gharry = await openApplication(rig.env)
  const forward = { ...gharry, now: () => new Date(Date.now() + ahead), readOnly: () => null }
  Object.assign(rig, { gharry: forward })
  expect(await gharry.db('labels').count({ n: '*' })).toEqual([{ n: 0 }])
  await compareWithCarriers(forward)
  const waiting = await restoredBooks(forward)
  expect(waiting).toMatchObject({ done: true, open: [], taken: paid.length, toppedUp: 1 })
  await worked(forward)
  const known = (await gharry.db('labels').where({ state: 'bought' })) as { trackingNumber: string; key: string }[]
  expect(new Set(known.map(({ trackingNumber }) => trackingNumber))).toEqual(
    new Set(paid.map(({ trackingNumber }) => trackingNumber)),
  )
  expect(await rig.carrierLabels()).toHaveLength(paid.length)
  await workBySchedule(forward)
  expect(await rig.carrierLabels()).toHaveLength(paid.length)
  expect(await balanceOf(gharry.db, 'heron')).toBe(balance)
  const audited = (await gharry.db('audit').orderBy('seq', 'desc').first()) as { action: string; after: string }
  expect(audited.action).toContain('compared the books with the carriers')
  await gharry.close()
})

test('books that others put back, without a word to Gharry: nothing is bought until the carriers have answered', async () => {
  await importAll(10)
  const buy = async (ids: readonly number[]): Promise<void> => {
    const plan = await planBatch(rig.gharry, ids)
    expect(await buyBatch(rig.gharry, ids, plan.total)).toMatchObject({ ok: true, labels: ids.length })
  }
  const ids = (await rig.orders()).map(({ id }) => id)
  await buy(ids.slice(0, 4))
  await rig.workAll()
  const copy = join(folder, 'copied-by-hand.db')
  await rig.gharry.db.raw('VACUUM INTO ?', [copy])
  await buy(ids.slice(4, 9))
  await rig.workAll()
  expect(await rig.carrierLabels()).toHaveLength(9)
  const ahead = rig.gharry.now().getTime() - Date.now()
  await rig.gharry.db.destroy()
  for (const name of ['gharry.db-wal', 'gharry.db-shm']) rmSync(join(house.dataDir, name), { force: true })
  writeFileSync(house.books, readFileSync(copy))
  const gharry = await openApplication(rig.env)
  Object.assign(rig, {
    gharry: { ...gharry, now: () => new Date(Date.now() + ahead), readOnly: () => null },
  })
  // Before any worker looks, a batch is made: of orders that were bought, and of one that was not.
  await buy(ids.slice(6))
  expect(await startBuying(rig.gharry)).toBe(false)
  expect(await restoredBooks(rig.gharry)).toMatchObject({ done: false, backup: '' })
  const plan = await planBatch(rig.gharry, ids.slice(4, 6))
  expect(plan.blocked.map(({ reason }) => reason)).toEqual([
    expect.stringMatching(/put back to an earlier moment/),
    expect.stringMatching(/put back to an earlier moment/),
  ])
  await compareWithCarriers(rig.gharry)
  expect(await restoredBooks(rig.gharry)).toMatchObject({ done: true, taken: 5, open: [] })
  await worked(rig.gharry)
  const known = (await rig.gharry.db('labels').where({ state: 'bought' })) as { trackingNumber: string }[]
  const paid = await rig.carrierLabels()
  expect(paid).toHaveLength(10)
  expect(known.map(({ trackingNumber }) => trackingNumber).sort()).toEqual(
    paid.map((label) => label.trackingNumber).sort(),
  )
  await gharry.close()
})

test('what was forgotten does not come back with a backup from before, on another machine either', async () => {
  await importAll(3)
  await rig.gharry.db('orders').update({ state: 'delivered' })
  const keeper = keep()
  await caughtUp(keeper)
  const before = new Date()
  const [order] = await rig.orders()
  const gone = { who: order!.number, orders: [order!.id] }
  expect(await forgetBuyer(rig.gharry, gone)).toMatchObject({ ok: true })
  await caughtUp(keeper)
  const there = elsewhere()
  expect((await restored(there, before)).tables.orders).toBe(3)
  const again = await openApplication({ ...rig.env, GHARRY_DATA: there.dataDir })
  const buyers = async (): Promise<string[]> =>
    ((await again.db('orders').orderBy('id').select('buyer')) as { buyer: string }[]).map(({ buyer }) => buyer)
  expect(await buyers()).toContain(order!.buyer)
  await compareWithCarriers(again)
  expect(await buyers()).not.toContain(order!.buyer)
  expect(await restoredBooks(again)).toMatchObject({ forgotten: true })
  await again.close()
})

test('backups at an SFTP server: the same, and another host key is refused', async () => {
  const app = fastify()
  mkdirSync(join(folder, 'sftp'))
  const sftp = sftpServer(app, { folder: join(folder, 'sftp'), user: 'keeper', password: 'p w' }, [])
  mkdirSync(join(folder, 'sftp', 'files', 'gharry'), { recursive: true })
  const port = await sftp.listen(0)
  const fingerprint = /SHA256:\S+/.exec(sftp.place())![0]
  house = placedAt(`sftp://keeper@127.0.0.1:${port}/gharry`, {
    GHARRY_BACKUPS_PASSWORD: 'p w',
    GHARRY_BACKUPS_HOST_KEY: fingerprint,
  })
  await importAll(6)
  const keeper = keep()
  await caughtUp(keeper)
  await importAll(2, 6)
  await caughtUp(keeper)
  expect(readBackupState(house.dataDir)).toMatchObject({ problem: null, waiting: 0 })
  const there = elsewhere()
  expect((await restored(there)).tables.orders).toBe(8)
  const other = placedAt(`sftp://keeper@127.0.0.1:${port}/gharry`, {
    GHARRY_BACKUPS_HOST_KEY: `SHA256:${'A'.repeat(43)}`,
  })
  expect(await refused(() => other.place.list())).toMatch(/another host key/)
  await keeper.end()
  keepers.length = 0
  await app.close()
})

test('which backups are kept', () => {
  const now = new Date('2026-11-29T12:00:00Z')
  const names: string[] = []
  for (let hours = 0; hours < 24 * 500; hours += 12)
    names.push(nameOfMoment(new Date(now.getTime() - hours * 3_600_000)))
  const kept = [...keptBackups(names, now)].sort()
  const days = kept.map((name) =>
    Math.round(
      (now.getTime() - Date.parse(`${name.slice(0, 4)}-${name.slice(4, 6)}-${name.slice(6, 8)}`)) / 86_400_000,
    ),
  )
  expect(days.filter((day) => day <= 3).length).toBeGreaterThanOrEqual(6)
  expect(new Set(days.filter((day) => day > 3 && day <= 14)).size).toBeGreaterThanOrEqual(10)
  expect(kept.length).toBeLessThan(45)
  expect(Math.max(...days)).toBeGreaterThan(330)
  // Many in one day are all kept for three days.
  expect(keptBackups(names.slice(0, 6), now).size).toBe(6)
  expect(keptBackups(names.slice(600, 602), now).size).toBe(2)
})

describe('the keeper as a process', () => {
  let child: ChildProcess | null = null
  afterEach(() => child?.kill('SIGKILL'))
  const start = (): ChildProcess => {
    child = spawn('node', ['scripts/run.mjs', 'cli/keeper.ts'], {
      cwd: join(__dirname, '../../..'),
      env: { ...process.env, ...rig.env, GHARRY_BACKUPS: join(folder, 'place'), GHARRY_BACKUP_SECONDS: '0.5' },
      stdio: 'ignore',
    })
    return child
  }
  test('killed again and again while orders come in: what is in the place can be restored, and it catches up', async () => {
    start()
    for (let round = 0; round < 4; round++) {
      await importAll(40, round * 40)
      await pause(round % 2 ? 700 : 2500)
      await end(child!, 'SIGKILL')
      start()
    }
    for (let i = 0; i < 200; i++) {
      await pause(250)
      const state = readBackupState(house.dataDir)
      if (
        state?.newest &&
        state.waiting === 0 &&
        state.until !== null &&
        Date.parse(state.until) > Date.now() - 1500 &&
        i > 12
      )
        break
    }
    await end(child!, 'SIGTERM')
    expect((await restored(elsewhere())).tables.orders).toBe(160)
  })
})
