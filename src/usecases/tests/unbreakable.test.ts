import { createServer } from 'node:http'
import { readdirSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { z } from 'zod'
import { callJson } from '@/adapters'
import { demoItems } from '../../../demo/items'
import type { ShopOrder } from '../../../standins/channels/shop'
import {
  addJob,
  addTopUp,
  eventsOf,
  keepLease,
  LeaseLost,
  newestJob,
  unsettledTopUp,
  postsOfOrder,
  takeDue,
  writeLog,
  type ImportRow,
  type LabelRow,
  type PostRow,
} from '@/data'
import { buyBatch } from '@/usecases/dispatch/buyBatch'
import { retryAll, retryWork } from '@/usecases/intake/changeChannel'
import { changeWorld } from '@/usecases/shared/changeWorld'
import { publishDraft, saveDraft, showRulebook } from '@/usecases/rules/editRulebook'
import { followParcels, takeNews } from '@/usecases/tracking/followParcels'
import { openApplication, type Application } from '@/usecases/shared/application'
import { receiveFile, requestFileImport } from '@/usecases/intake/importFile'
import { importOrders, requestImport } from '@/usecases/intake/importOrders'
import { setMark, showMoney, topUp, topUpByMark } from '@/usecases/ledger/balances'
import { lookAtInvoice, takeInvoice, takeInvoiceBack } from '@/usecases/ledger/invoices'
import { pinDecision } from '@/usecases/desk/pinDecision'
import { planBatch } from '@/usecases/dispatch/planBatch'
import { openPrint, printLabel } from '@/usecases/dispatch/printBatch'
import { rulebookInForce } from '@/usecases/shared/rulebookInForce'
import { addressBehind, findByOrder, trackByLink } from '@/usecases/tracking/trackParcel'
import { deliverPost } from '@/usecases/tracking/deliverMessages'
import { requestVoid } from '@/usecases/dispatch/voidLabel'
import { workBySchedule, workOnce } from '@/usecases/worker/work'
import { demoRulebook } from '../../../demo/rulebook'
import { isPrinted, makeRig, soundOrders, type Rig } from './rig'

/* What a campaign of kills and faults found, and what a few bytes could break: each case failed before. */

let rig: Rig
afterEach(() => rig.close())

async function begin(orders: number | readonly ShopOrder[]): Promise<number[]> {
  rig = await makeRig()
  await rig.stockShop(typeof orders === 'number' ? soundOrders(orders) : orders)
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  return (await rig.orders()).map(({ id }) => id)
}
async function buy(ids: readonly number[]): Promise<void> {
  const plan = await planBatch(rig.gharry, ids)
  expect(
    await buyBatch(
      rig.gharry,
      plan.labels.map(({ order }) => order),
      plan.total,
    ),
  ).toMatchObject({ ok: true })
}
const fulfilments = async (id: string): Promise<readonly string[]> =>
  (await rig.shopOrders())
    .find((order) => order.id === id)!
    .fulfilments.filter(({ withdrawn }) => !withdrawn)
    .map(({ tracking_number }) => tracking_number)
const letter = (): ShopOrder => ({
  ...soundOrders(1)[0]!,
  shipping_method: 'Free',
  total_items: '6.90',
  lines: [
    {
      ...soundOrders(1)[0]!.lines[0]!,
      sku: 'TLS-TWEEZ',
      weight_grams: 60,
      size_mm: [...demoItems.find(({ sku }) => sku === 'TLS-TWEEZ')!.size],
      tags: ['letter'],
      un_number: '',
      quantity: 1,
      price: '6.90',
    },
  ],
})

describe('two processes and one file', () => {
  test('changes that read before they write succeed while another process writes, and nothing is held up meanwhile', async () => {
    const ids = await begin(8)
    const other = await openApplication(rig.env)
    let longest = 0
    let last = performance.now()
    const ticking = setInterval(() => {
      longest = Math.max(longest, performance.now() - last)
      last = performance.now()
    }, 5)
    try {
      // The other one writes in transactions of 150 ms, again and again, as an import does.
      let writing = true
      const busy = (async () => {
        while (writing)
          await other.db.transaction(async (trx) => {
            await writeLog(trx, [{ order: ids[0]!, at: '', author: 'x', sentence: 'x' }])
            await new Promise((resolve) => setTimeout(resolve, 150))
          })
      })()
      const answers = await Promise.all(
        ids.flatMap((id) => [
          pinDecision(rig.gharry, id, 'notice', false),
          pinDecision(rig.gharry, id, 'priority', 'urgent'),
        ]),
      )
      writing = false
      await busy
      expect(answers.every(({ ok }) => ok)).toBe(true)
      expect(longest).toBeLessThan(1000)
    } finally {
      clearInterval(ticking)
      await other.close()
    }
  })
  test('who has lost a lease writes nothing', async () => {
    await begin(1)
    const { db, now } = rig.gharry
    await requestImport(rig.gharry, 'mossgill-shop')
    const [mine] = await takeDue<ImportRow>(db, 'imports', { states: ['queued', 'running'] }, now(), 1, 2)
    rig.put(1)
    const [theirs] = await takeDue<ImportRow>(db, 'imports', { states: ['queued', 'running'] }, now(), 1, 2)
    expect(theirs!.id).toBe(mine!.id)
    await expect(
      db.transaction(async (trx) => {
        await writeLog(trx, [{ order: 1, at: '', author: 'late', sentence: 'late' }])
        await keepLease(trx, 'imports', mine!, now(), 2)
      }),
    ).rejects.toThrow(LeaseLost)
    expect(await db('order_log').where({ author: 'late' })).toEqual([])
    await expect(importOrders(rig.gharry, mine!)).rejects.toThrow(LeaseLost)
  })
  test('the data folder and what is in it are for their owner alone', async () => {
    await begin(1)
    const { dataDir } = rig.gharry.settings
    expect(statSync(dataDir).mode & 0o777).toBe(0o700)
    for (const name of readdirSync(dataDir).filter((file) => file.startsWith('gharry.db')))
      expect([name, statSync(join(dataDir, name)).mode & 0o077]).toEqual([name, 0])
  })
})

describe('voids, posts and news', () => {
  test('a void that the carrier refuses takes nothing back: the channel knows the parcel, the customer is told', async () => {
    const [id] = await begin([letter()])
    await buy([id!])
    expect((await rig.labels())[0]!.service).toBe('corvid-letter')
    while ((await rig.labels())[0]!.state === 'queued') await workOnce(rig.gharry)
    expect(await requestVoid(rig.gharry, 1)).toMatchObject({ ok: true })
    await rig.workAll()
    const [label] = await rig.labels()
    expect(label).toMatchObject({
      state: 'bought',
      problem: expect.stringContaining('Letters are not taken back') as string,
    })
    expect((await rig.orders())[0]!.state).toBe('labelled')
    expect(await fulfilments((await rig.orders())[0]!.remoteId)).toEqual([label!.trackingNumber])
    expect((await rig.mails()).map(({ text }) => text.includes(label!.trackingNumber!))).toEqual([true])
    expect((await postsOfOrder(rig.gharry.db, id!)).map(({ kind, state }) => `${kind} ${state}`)).toEqual([
      'fulfil sent',
    ])
  })
  test('a post whose worker died after it had left is taken back when its label is voided, whoever held it since', async () => {
    const [id] = await begin(1)
    await buy([id!])
    await rig.workAll()
    expect(await fulfilments((await rig.orders())[0]!.remoteId)).toHaveLength(1)
    // The shop has it, and the worker died before it had written that down: this is what it leaves.
    await rig.gharry.db('posts').update({
      state: 'queued',
      attempts: 0,
      sentAt: null,
      leaseOwner: 'a worker that died',
      leaseUntil: rig.gharry.now().toISOString(),
    })
    rig.put(1)
    await requestVoid(rig.gharry, 1)
    // The next worker looks at it while the carrier has not answered yet, and hands it back.
    const { db, now } = rig.gharry
    for (const post of await takeDue<PostRow>(db, 'posts', { states: ['queued'] }, now(), 1, 2))
      await deliverPost(rig.gharry, post)
    await rig.workAll()
    expect((await rig.labels())[0]!.state).toBe('voided')
    expect(await fulfilments((await rig.orders())[0]!.remoteId)).toEqual([])
  })
  test('void, then buy again, while the shop fails: its posts keep their order', async () => {
    const [id] = await begin(1)
    await buy([id!])
    await rig.workAll()
    await rig.faults('shop', { serverError: 1 })
    await requestVoid(rig.gharry, 1)
    for (let round = 0; round < 6; round++) {
      await workOnce(rig.gharry)
      rig.put(1)
    }
    await buy([id!])
    for (let round = 0; round < 6; round++) {
      await workOnce(rig.gharry)
      rig.put(1)
    }
    await rig.faults('shop', { serverError: 0 })
    await rig.workAll()
    const [, second] = await rig.labels()
    expect(await fulfilments((await rig.orders())[0]!.remoteId)).toEqual([second!.trackingNumber])
    expect((await postsOfOrder(rig.gharry.db, id!)).map(({ kind, state }) => `${kind} ${state}`)).toEqual([
      'fulfil sent',
      'withdraw sent',
      'fulfil sent',
    ])
  })
  test('news that comes before the purchase is written is kept, and not skipped', async () => {
    const [id] = await begin(1)
    await buy([id!])
    const [label] = await rig.labels()
    await (await rig.gharry.carrier(label!.carrier))!.buy(JSON.parse(label!.request) as never, label!.key)
    for (let day = 0; day < 5; day++) await rig.nextDay()
    expect(await followParcels(rig.gharry, label!.carrier)).toBeGreaterThan(2)
    expect((await rig.orders())[0]!.state).toBe('buying')
    await rig.workAll()
    await followParcels(rig.gharry, label!.carrier)
    expect((await rig.orders())[0]!.state).toBe('delivered')
    expect((await eventsOf(rig.gharry.db, label!.id)).length).toBeGreaterThan(2)
    expect(await rig.gharry.db('early_events')).toEqual([])
  })
  test('news in the wrong order never unmakes a delivery', async () => {
    const [id] = await begin(1)
    await buy([id!])
    await rig.workAll()
    const [label] = await rig.labels()
    const at = (hour: number): string => new Date(Date.parse('2026-11-27T00:00:00Z') + hour * 3_600_000).toISOString()
    const news = (n: number, hour: number, status: 'in transit' | 'delivered' | 'collected' | 'returned') => ({
      id: `n${n}`,
      trackingNumber: label!.trackingNumber!,
      at: at(hour),
      status,
      place: '',
      text: '',
    })
    const take = (...events: ReturnType<typeof news>[]) =>
      rig.gharry.db.transaction((trx) => takeNews(rig.gharry, trx, label!.carrier, events))
    // A same-day parcel: "in transit" is dated after "delivered".
    await take(news(1, 9, 'collected'), news(2, 11, 'in transit'), news(3, 10, 'delivered'))
    expect([
      (await rig.labels())[0]!.status,
      (await rig.orders())[0]!.state,
      (await rig.labels())[0]!.deliveredAt,
    ]).toEqual(['delivered', 'delivered', at(10)])
    await take(news(4, 20, 'in transit'))
    await take(news(5, 1, 'collected'))
    expect((await rig.orders())[0]!.state).toBe('delivered')
    await take(news(6, 40, 'returned'))
    expect((await rig.labels())[0]!.status).toBe('returned')
  })
  test('a change upstream after the purchase stays flagged through the echo of our own despatch, and one that comes with it is seen', async () => {
    const ids = await begin(2)
    await buy(ids)
    await rig.workAll()
    const [first, second] = await rig.shopOrders().then((orders) => [...orders].sort((a, b) => (a.id < b.id ? -1 : 1)))
    const later = (minutes: number): string => new Date(rig.gharry.now().getTime() + minutes * 60_000).toISOString()
    const moved = { ...first!.ship_to, street: ['Nieuwe Kaai 77'] }
    await rig.stockShop([{ ...first!, status: 'open', ship_to: moved, changed_at: later(1) }])
    await requestImport(rig.gharry, 'mossgill-shop')
    await rig.workAll()
    const flags = async () => (await rig.orders()).map(({ flag }) => flag?.slice(0, 22) ?? null)
    expect((await flags()).filter(Boolean)).toEqual(['Changed in the channel'])
    await rig.stockShop([
      { ...first!, status: 'fulfilled', ship_to: moved, changed_at: later(2) },
      {
        ...second!,
        status: 'fulfilled',
        ship_to: { ...second!.ship_to, street: ['Oude Kaai 3'] },
        changed_at: later(2),
      },
    ])
    await requestImport(rig.gharry, 'mossgill-shop')
    await rig.workAll()
    expect((await flags()).filter(Boolean)).toHaveLength(2)
  })
  test('after an outage of an hour the first success releases all that waits, and nothing was given up', async () => {
    const ids = await begin(6)
    await rig.faults('shop', { serverError: 1 })
    await buy(ids)
    for (let minute = 0; minute < 80; minute++) {
      await workOnce(rig.gharry)
      rig.put(1)
    }
    const posts = (): Promise<PostRow[]> => rig.gharry.db('posts').orderBy('id')
    expect((await posts()).map(({ state }) => state)).toEqual(ids.map(() => 'queued'))
    expect((await posts()).every(({ attempts }) => attempts > 12)).toBe(true)
    // Nobody is due for a while but one.
    await rig.gharry.db('posts').update({ nextAt: new Date(rig.gharry.now().getTime() + 3_600_000).toISOString() })
    await rig.gharry.db('posts').where({ id: 1 }).update({ nextAt: rig.gharry.now().toISOString() })
    await rig.faults('shop', { serverError: 0 })
    // After so many failures the shop is left alone for a moment: it is asked until it answers.
    const shop = await rig.gharry.channel('mossgill-shop')
    while (!(await shop.fetchOrders('')).ok) await new Promise((resolve) => setImmediate(resolve))
    await workOnce(rig.gharry)
    await workOnce(rig.gharry)
    expect((await posts()).map(({ state }) => state)).toEqual(ids.map(() => 'sent'))
    await rig.gharry.db('posts').update({ state: 'failed' })
    expect(await retryAll(rig.gharry, 'posts')).toEqual({ ok: true, again: ids.length })
    await rig.workAll()
    expect((await posts()).every(({ state, problem }) => state === 'sent' && problem === null)).toBe(true)
  })
  test.each(['one', 'all'])('what failed and is tried again, %s of it, has a day of patience anew', async (which) => {
    const ids = await begin(2)
    await rig.faults('shop', { serverError: 1 })
    await buy(ids)
    const posts = (): Promise<PostRow[]> => rig.gharry.db('posts').orderBy('id')
    for (let hour = 0; hour < 40 && (await posts())[0]?.state !== 'failed'; hour++) {
      await workOnce(rig.gharry)
      rig.put(60)
    }
    expect((await posts())[0]!.state).toBe('failed')
    expect(await (which === 'one' ? retryWork(rig.gharry, 'posts', 1) : retryAll(rig.gharry, 'posts'))).toMatchObject({
      ok: true,
    })
    for (let hour = 0; hour < 20; hour++) {
      await workOnce(rig.gharry)
      rig.put(60)
    }
    expect((await posts())[0]!.state).toBe('queued')
  })
})

describe('money', () => {
  const heron = async () => (await showMoney(rig.gharry)).carriers.find(({ carrier }) => carrier === 'heron')!
  const sent = async (): Promise<number[]> => {
    const [url] = rig.carrierUrls.values()
    return ((await (await fetch(`${url}/admin/balance`)).json()) as { minor: number }[]).map(({ minor }) => minor)
  }
  test('a top-up whose answer is lost is asked for again under its key, and another one waits for it', async () => {
    await begin(0)
    await rig.faults('heron', { timeOutAfterWork: 1 })
    expect(await topUp(rig.gharry, 'heron', 5000, 'key-0001')).toMatchObject({ ok: false, code: 'not-known' })
    // The dialog is opened once more, and has a new key.
    expect(await topUp(rig.gharry, 'heron', 5000, 'key-0002')).toMatchObject({ ok: false, code: 'under-way' })
    expect(await topUp(rig.gharry, 'heron', 9000, 'key-0001')).toMatchObject({ ok: false, code: 'other-intent' })
    await rig.faults('heron', { timeOutAfterWork: 0 })
    await topUpByMark(rig.gharry)
    expect([await sent(), (await heron()).balance, (await heron()).problem]).toEqual([[5000], 5000, null])
    expect(await topUp(rig.gharry, 'heron', 5000, 'key-0001')).toMatchObject({ ok: true, balance: 5000 })
    expect(await sent()).toEqual([5000])
  })
  test('a process that dies between writing and asking has lost nothing: the intent is asked for after the restart', async () => {
    await begin(0)
    await addTopUp(rig.gharry.db, {
      key: 'key-killed',
      carrier: 'heron',
      amount: 7000,
      author: 'x',
      askedAt: rig.gharry.now().toISOString(),
      day: '2026-11-27',
    })
    await topUpByMark(rig.gharry)
    expect([await sent(), (await heron()).balance, await unsettledTopUp(rig.gharry.db)]).toEqual([[7000], 7000, []])
  })
  test('a mark tops up three times a day at most, and a top-up by hand moves no key', async () => {
    await begin(0)
    await setMark(rig.gharry, 'heron', 100_000, 500)
    for (let i = 0; i < 6; i++) await topUpByMark(rig.gharry)
    expect(await sent()).toHaveLength(3)
    expect((await heron()).problem).toContain('3 times today')
    expect(await topUp(rig.gharry, 'heron', 900, 'key-hand')).toMatchObject({ ok: true })
    expect((await sent()).reduce((sum, minor) => sum + minor, 0)).toBe((await heron()).balance)
    expect(await topUp(rig.gharry, 'heron', 10 ** 12, 'key-huge')).toMatchObject({ ok: false, code: 'bad-amount' })
  })
  test('an invoice of huge lines is refused; one that was taken by mistake is taken back to the cent', async () => {
    await begin(1)
    const huge = `tracking number,amount\n${Array.from({ length: 1100 }, (_, i) => `H${100_000 + i},${'9'.repeat(13)}.00`).join('\n')}\n`
    const looked = await lookAtInvoice(rig.gharry, 'heron', Buffer.from(huge))
    expect(looked).toMatchObject({ ok: true, lines: 0 })
    expect(await takeInvoice(rig.gharry, 'heron', 'I-1', Buffer.from(huge))).toMatchObject({ ok: false })
    const before = (await heron()).balance
    expect(
      await takeInvoice(rig.gharry, 'heron', 'I-2', Buffer.from('tracking number,amount\nH1234567,12.50\n')),
    ).toMatchObject({ ok: true, corrections: 1 })
    expect((await heron()).balance).toBe(before - 1250)
    const { id } = (await showMoney(rig.gharry)).invoices[0]!
    expect(await takeInvoiceBack(rig.gharry, id)).toMatchObject({ ok: true, bookings: 1 })
    expect(await takeInvoiceBack(rig.gharry, id)).toMatchObject({ ok: false, code: 'taken-back' })
    expect((await heron()).balance).toBe(before)
    expect(
      await takeInvoice(rig.gharry, 'heron', 'I-2', Buffer.from('tracking number,amount\nH1234567,12.50\n')),
    ).toMatchObject({ ok: true })
  })
  test('one failing step of the schedule does not stop the others', async () => {
    const ids = await begin(1)
    await buy(ids)
    await rig.workAll()
    await setMark(rig.gharry, 'heron', 100, 500)
    // A carrier account that nobody can read: its step throws every time.
    await rig.gharry.db('carrier_accounts').insert({ carrier: 'corvid', mark: 1, topUpBy: 10 ** 15 })
    for (let day = 0; day < 5; day++) await rig.nextDay()
    await workBySchedule(rig.gharry)
    expect((await rig.orders())[0]!.state).toBe('delivered')
  })
})

describe('what has moved between looking and doing', () => {
  test.each<[string, (id: number) => Promise<unknown>, string]>([
    [
      'the facts of the order',
      async (id) =>
        rig.gharry
          .db('order_facts')
          .where({ orderId: id })
          .first('facts')
          .then((row: { facts: string }) =>
            rig.gharry
              .db('order_facts')
              .where({ orderId: id })
              .update({ facts: row.facts.replace(/"lines":\["[^"]*"/, '"lines":["Elsewhere 9"') }),
          ),
      'order-moved',
    ],
    [
      'a hand pin',
      (id) =>
        rig.gharry.db('hand_pins').insert({ orderId: id, decision: 'notice', value: 'false', author: 'x', madeAt: '' }),
      'order-moved',
    ],
    ['the world', () => changeWorld(rig.gharry, null, '', (world) => ({ ...world, customsUnion: [] })), 'rules-moved'],
  ])('%s', async (_what, change, code) => {
    const [id] = await begin(1)
    const plan = await planBatch(rig.gharry, [id!])
    // The change comes while the batch is being planned once more, as it is bought.
    const gharry: Application = {
      ...rig.gharry,
      db: new Proxy(rig.gharry.db, {
        get: (db, name) =>
          name === 'transaction'
            ? async (work: never) => {
                await change(id!)
                return db.transaction(work)
              }
            : (Reflect.get(db, name) as unknown),
        apply: (db, self, args) => Reflect.apply(db, self, args) as unknown,
      }),
    }
    expect(await buyBatch(gharry, [id!], plan.total)).toMatchObject({ ok: false, code })
    expect(await rig.labels()).toEqual([])
  })
  test('a revision that is published four times at once makes one edition', async () => {
    await begin(0)
    const { draft, revision } = await showRulebook(rig.gharry)
    const saved = await saveDraft(rig.gharry, { ...draft, name: 'Anew' }, revision)
    if (!saved.ok) throw new Error(saved.sentence)
    const answers = await Promise.all([1, 2, 3, 4].map(() => publishDraft(rig.gharry, saved.revision, 'note')))
    expect(answers.filter(({ ok }) => ok)).toHaveLength(1)
    expect(answers.find(({ ok }) => !ok)).toMatchObject({ code: 'published-before' })
    expect(await rig.gharry.db('editions')).toHaveLength(2)
  })
  test('a clock that goes back an hour stops nothing, and what is published in it is in force', async () => {
    const ids = await begin(2)
    await workOnce(rig.gharry)
    rig.put(-60)
    await buy(ids)
    await workOnce(rig.gharry)
    expect((await rig.labels()).map(({ state }) => state)).toEqual(['bought', 'bought'])
    const saved = await saveDraft(
      rig.gharry,
      { ...demoRulebook, name: 'In the past' },
      (await showRulebook(rig.gharry)).revision,
    )
    if (!saved.ok) throw new Error(saved.sentence)
    expect(await publishDraft(rig.gharry, saved.revision, 'note')).toMatchObject({ ok: true, edition: 2 })
    expect((await rulebookInForce(rig.gharry))!.edition).toBe(2)
    rig.put(60)
    expect((await rulebookInForce(rig.gharry))!.edition).toBe(2)
  })
  test('of edits of lists one after the other, and of trials, only the newest waits', async () => {
    await begin(1)
    for (let i = 0; i < 5; i++)
      await changeWorld(rig.gharry, null, 'test', (world) => ({ ...world, customsUnion: world.customsUnion.slice(i) }))
    expect(await rig.gharry.db('jobs').where({ kind: 'route again', state: 'queued' })).toHaveLength(1)
    for (const key of ['a', 'b', 'c']) await addJob(rig.gharry.db, 'trial', key, {}, rig.gharry.now().toISOString())
    expect(
      (await rig.gharry.db('jobs').where({ kind: 'trial' }).orderBy('id')).map(
        ({ key, state }: { key: string; state: string }) => `${key} ${state}`,
      ),
    ).toEqual(['a cancelled', 'b cancelled', 'c queued'])
    expect((await newestJob(rig.gharry.db, 'trial'))!.key).toBe('c')
  })
})

describe('files, papers and the outside', () => {
  test('an upload that breaks off leaves no file; one that is imported does not stay', async () => {
    await begin(0)
    const files = () => rig.gharry.files.list('files')
    await expect(
      receiveFile(
        rig.gharry,
        (async function* () {
          yield Buffer.from('order,sku\n')
          throw new Error('gone')
        })(),
      ),
    ).rejects.toThrow('gone')
    expect(await files()).toEqual([])
    const received = await receiveFile(
      rig.gharry,
      (async function* () {
        yield Buffer.from('order,sku,qty,name,street,city,country\nF-1,TLS-TWEEZ,1,Ann,Kouter 1,Gent,BE\n')
      })(),
    )
    if (!received.ok) throw new Error(received.sentence)
    expect(await files()).toHaveLength(1)
    await requestFileImport(rig.gharry, {
      channel: 'trade-desk',
      file: received.file,
      fileName: 'f',
      mapping: received.preview.mapping,
    })
    await rig.workAll()
    expect([await files(), (await rig.orders()).length]).toEqual([[], 1])
  })
  test('a worker that is to stop ends an import at the next page, and whoever starts next goes on there', async () => {
    rig = await makeRig()
    await rig.stockShop(soundOrders(1200))
    await requestImport(rig.gharry, 'mossgill-shop')
    const [row] = await takeDue<ImportRow>(rig.gharry.db, 'imports', { states: ['queued'] }, rig.gharry.now(), 1, 30)
    await importOrders({ ...rig.gharry, stopping: () => true }, row!)
    const part = (await rig.orders()).length
    expect(part).toBeGreaterThan(0)
    expect(part).toBeLessThan(1200)
    const [{ state, leaseUntil }] = (await rig.gharry.db('imports')) as [{ state: string; leaseUntil: string | null }]
    expect([state, leaseUntil]).toEqual(['running', null])
    await rig.workAll()
    expect(await rig.orders()).toHaveLength(1200)
  }, 60_000)
  test('a label is marked as printed when its file is there; one without papers prints nothing', async () => {
    const ids = await begin(2)
    await buy(ids)
    await rig.workAll()
    const file = isPrinted(await printLabel(rig.gharry, 1))
    expect([
      (await rig.gharry.files.list('prints')).map(({ name }) => name).includes(`prints/${file.name}`),
      file.pages > 0,
      (await openPrint(rig.gharry, file.name))?.type,
    ]).toEqual([true, true, 'application/pdf'])
    expect([
      await openPrint(rig.gharry, '../gharry.db'),
      await openPrint(rig.gharry, `${'0'.repeat(8)}-0000-0000-0000-${'0'.repeat(12)}.pdf`),
    ]).toEqual([null, null])
    await rig.gharry.db('labels').where({ id: 2 }).update({ request: '{}' })
    expect(await printLabel(rig.gharry, 2)).toBeNull()
    expect((await rig.labels()).map(({ printedAt }: LabelRow) => printedAt !== null)).toEqual([true, false])
  })
  test('an answer without an end is cut off at its limit, packed or not', async () => {
    await begin(0)
    const bomb = gzipSync(Buffer.alloc(300_000_000))
    const server = createServer((request, response) => {
      if (request.url === '/gzip')
        return response.writeHead(200, { 'content-type': 'application/json', 'content-encoding': 'gzip' }).end(bomb)
      response.writeHead(200)
      const pour = (): void => {
        while (response.write(Buffer.alloc(65_536, 'x')));
        response.once('drain', pour)
      }
      pour()
    })
    await new Promise<void>((resolve) => void server.listen(0, '127.0.0.1', resolve))
    const url = `http://127.0.0.1:${(server.address() as { port: number }).port}`
    const before = process.memoryUsage().rss
    for (const path of ['/gzip', '/endless'])
      expect(
        await callJson(
          rig.gharry.outside,
          { method: 'GET', url: `${url}${path}`, headers: {}, mostBytes: 1_000_000 },
          z.unknown(),
        ),
      ).toMatchObject({
        ok: false,
        kind: 'garbled answer',
        sentence: expect.stringContaining('larger than 1 MB') as string,
      })
    expect(process.memoryUsage().rss - before).toBeLessThan(200_000_000)
    server.closeAllConnections()
    await new Promise((resolve) => server.close(resolve))
  })
  test.each([
    'a@x.example, b@y.example',
    'group: a@x.example, b@y.example;',
    'Ann <a@x.example>',
    `${'a'.repeat(260)}@x.example`,
    'a@x',
    'a@x.example\r\nBcc: b@y.example',
  ])('a mail to “%s” goes to nobody', async (to) => {
    await begin(0)
    expect(
      await rig.gharry.mail.send({
        from: { name: 'A', address: 'a@b.example' },
        to,
        subject: 's',
        text: 't',
        html: 'h',
        key: 'k',
      }),
    ).toMatchObject({
      ok: false,
      kind: 'refused',
    })
    expect(await rig.mails()).toEqual([])
  })
  test('tracking links end some weeks after the delivery; the form is limited by address, by order, and in all', async () => {
    const ids = await begin(1)
    await buy(ids)
    await rig.workAll()
    for (let day = 0; day < 5; day++) await rig.nextDay()
    const [label] = await rig.labels()
    await followParcels(rig.gharry, label!.carrier)
    expect(await trackByLink(rig.gharry, label!.token)).not.toBeNull()
    const [order] = await rig.orders()
    for (let i = 0; i < 10; i++)
      expect(await findByOrder(rig.gharry, order!.number, `wrong${i}@post.example`, `10.0.0.${i}`)).toMatchObject({
        code: 'not-found',
      })
    expect(await findByOrder(rig.gharry, order!.number, order!.email, '10.0.9.9')).toMatchObject({
      code: 'too-many-tries',
    })
    rig.put(60 * 24 * 50)
    expect(await trackByLink(rig.gharry, label!.token)).toBeNull()
    expect([
      addressBehind('6.6.6.6, 7.7.7.7', 0),
      addressBehind('6.6.6.6, 7.7.7.7', 1),
      addressBehind('6.6.6.6, 7.7.7.7', 2),
      addressBehind(null, 1),
    ]).toEqual(['', '7.7.7.7', '6.6.6.6', ''])
  })
  test('what the log says of an error holds no values of the books', async () => {
    await begin(1)
    const error = await rig.gharry
      .db('orders')
      .insert({ number: 'secret-number', email: 'ann@post.example' })
      .catch((caught: unknown) => caught as Error)
    expect(String(error)).not.toContain('secret-number')
    expect(String(error)).not.toContain('ann@post.example')
  })
  test('pins of amounts below nothing are refused', async () => {
    const [id] = await begin(1)
    for (const [decision, value] of [
      ['ceiling', { minor: -100, currency: 'EUR' }],
      ['insurance', { cover: 'amount', amount: { minor: -1, currency: 'EUR' } }],
    ] as const)
      expect(await pinDecision(rig.gharry, id!, decision, value)).toMatchObject({ ok: false, code: 'bad-value' })
  })
})
