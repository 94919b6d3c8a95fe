import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { buffer } from 'node:stream/consumers'
import type { WaveRule } from '@/core/waves'
import { demoRulebook } from '../../../demo/rulebook'
import { demoWorld } from '../../../demo/world'
import { ordersById } from '@/data'
import { scanItems } from '../dispatch/bench/checkParcel'
import { openParcel } from '../dispatch/bench/openParcel'
import { buyBatch } from '../dispatch/buyBatch'
import { printPickSheet } from '../dispatch/pickSheet'
import { planBatch } from '../dispatch/planBatch'
import { shareOf } from '../dispatch/printBatch'
import { showBatches } from '../dispatch/showBatches'
import { saveWaves, showDay } from '../dispatch/waves'
import { pinDecision } from '../desk/pinDecision'
import { requestImport } from '../intake/importOrders'
import { makeRig, soundOrders, type Rig } from './rig'

/* A day's waves: what is ready gathers as it leaves, becomes a batch with a name, and is picked by a list with bars. */
let rig: Rig
afterEach(() => rig.close())

async function begin(count: number): Promise<void> {
  rig = await makeRig({
    rulebook: demoRulebook,
    world: {
      ...demoWorld,
      items: demoWorld.items.map((card, i) => ({ ...card, places: { '': `A-${i + 1}`, ghent: `G-${i + 1}` } })),
    },
  })
  await rig.stockShop(soundOrders(count))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
}
const rule = (more: Partial<WaveRule>): WaveRule => ({
  ...{ id: 'one', name: 'One', locations: [], carriers: [], priorities: [], singles: 0, most: 100 },
  ...more,
})

test('what is ready gathers into waves by rule, and every ready order is in one of them', async () => {
  await begin(20)
  const orders = await rig.orders()
  const ready = orders.filter(({ state }) => state === 'ready')
  await pinDecision(rig.gharry, ready[0]!.id, 'priority', 'urgent')
  expect(
    await saveWaves(rig.gharry, {
      version: 0,
      rules: [rule({ name: 'Urgent', priorities: ['urgent'] }), rule({ id: 'two', name: 'Small', most: 3 })],
    }),
  ).toMatchObject({ ok: true, version: 1 })
  const day = await showDay(rig.gharry)
  expect(day.waves.flatMap((wave) => wave.orders).sort()).toEqual(ready.map(({ id }) => id).sort())
  expect(day.waves.find(({ name }) => name === 'Urgent')?.orders).toEqual([ready[0]!.id])
  expect(day.waves.filter(({ name }) => name === 'Small').every((wave) => wave.orders.length <= 3)).toBe(true)
  // Before the cut-offs of the next day stand the same orders, counted by the database.
  const counted = day.cutOffs.reduce((sum, work) => sum + work.ready, 0)
  expect(counted).toBeGreaterThan(0)
  expect(counted).toBeLessThanOrEqual(ready.length)

  for (const [rules, why] of [
    [[rule({ name: ' ' })], /needs a name/],
    [[rule({ most: 0 })], /at least 1/],
    [[rule({}), rule({})], /same identifier/],
    [[{ odd: true }], /Wave 1/],
  ] as const)
    expect(await saveWaves(rig.gharry, { version: 1, rules })).toMatchObject({
      ok: false,
      sentence: expect.stringMatching(why) as string,
    })
  expect(await saveWaves(rig.gharry, { version: 0, rules: [] })).toMatchObject({ ok: false, code: 'world-changed' })
})

test('single pieces of one SKU are a wave of their own', async () => {
  await begin(24)
  await saveWaves(rig.gharry, { version: 0, rules: [rule({ name: 'Singles', singles: 2 })] })
  const { waves } = await showDay(rig.gharry)
  const singles = waves.filter(({ single }) => single !== '')
  expect(singles.length).toBeGreaterThan(0)
  for (const wave of singles)
    for (const { order } of await ordersById(rig.gharry.db, wave.orders)) {
      expect(order.items.map(({ sku }) => sku)).toEqual([wave.single])
      expect(order.items[0]!.quantity).toBe(1)
    }
})

test('a wave is bought as a batch with its name; its pick list can be read by eye and by scanner, and its totes open at the bench', async () => {
  await begin(12)
  const [wave] = (await showDay(rig.gharry)).waves
  const plan = await planBatch(rig.gharry, wave!.orders)
  const leavesBy = new Date(wave!.cutOff!).toISOString()
  const answer = await buyBatch(
    rig.gharry,
    plan.labels.map(({ order }) => order),
    plan.total,
    '',
    { name: 'Morning', leavesBy },
  )
  if (!answer.ok) throw new Error(answer.sentence)
  await rig.workAll()
  expect((await showBatches(rig.gharry)).batches[0]).toMatchObject({ name: 'Morning', leavesBy })

  const file = await printPickSheet(rig.gharry, answer.batch)
  const folder = mkdtempSync(join(tmpdir(), 'gharry-picks-'))
  const path = join(folder, 'picks.pdf')
  writeFileSync(path, await buffer(file!.content))
  execFileSync('qpdf', ['--check', path])
  const text = execFileSync('pdftotext', ['-layout', path, '-'], { encoding: 'utf8' })
  const labels = await rig.labels()
  const stored = new Map(
    (
      await ordersById(
        rig.gharry.db,
        labels.map(({ orderId }) => orderId),
      )
    ).map(({ id, order }) => [id, order]),
  )
  const totals = new Map<string, number>()
  for (const { orderId } of labels)
    for (const { sku, quantity } of stored.get(orderId)!.items) totals.set(sku, (totals.get(sku) ?? 0) + quantity)
  expect(text).toContain('Morning')
  for (const total of totals.values()) expect(text).toMatch(new RegExp(`[AG]-\\d+\\s+${total}\\b`))
  execFileSync('pdftoppm', ['-r', '300', '-png', path, join(folder, 'page')])
  const read = execFileSync('sh', ['-c', `zbarimg -q --raw ${join(folder, 'page')}*.png`], { encoding: 'utf8' }).split(
    '\n',
  )
  for (const sku of totals.keys()) expect(read).toContain(sku)
  for (const { position } of labels) expect(read).toContain(`T${answer.batch}-${position + 1}`)
  rmSync(folder, { recursive: true })

  const tote = await openParcel(rig.gharry, { bench: 'Bench 1', code: `t${answer.batch}-1`, take: false })
  if (!tote.ok) throw new Error(tote.sentence)
  expect(tote.view.order).toBe(labels.find(({ position }) => position === 0)!.orderId)
  for (const { sku, quantity } of tote.view.parcel.lines)
    await scanItems(rig.gharry, {
      check: tote.view.check,
      scans: [{ key: `key of ${sku}`, code: sku, typed: quantity, at: leavesBy }],
    })
  const before = (await showDay(rig.gharry)).cutOffs.reduce((sum, { packed }) => sum + packed, 0)
  expect(before).toBe(1)
  expect(await openParcel(rig.gharry, { bench: 'Bench 1', code: `T${answer.batch}-999`, take: false })).toMatchObject({
    ok: false,
    sentence: expect.stringMatching(/no tote 999/) as string,
  })
})

test('the benches that share a batch print all of it, each label once', () => {
  for (const [count, benches] of [
    [10, 3],
    [2, 5],
    [0, 2],
    [7, 1],
  ] as const) {
    const labels = Array.from({ length: count }, (_, i) => i)
    const shares = Array.from({ length: benches }, (_, i) => shareOf(labels, { bench: i + 1, benches }))
    expect(shares.flat()).toEqual(labels)
  }
})
