import type { Grams } from '@/core/units'
import { logOf, orderRow, pinsOf } from '@/data'
import { openApplication } from '../shared/application'
import { buyBatch } from '../dispatch/buyBatch'
import { planBatch } from '../dispatch/planBatch'
import { editMany, showEdits, undoEdit, workEdit } from '../desk/editMany'
import { previewEdit } from '../desk/previewEdit'
import { pinDecision } from '../desk/pinDecision'
import { showOrder } from '../desk/showOrder'
import { requestImport } from '../intake/importOrders'
import { makeRig, soundOrders, type Rig } from './rig'

/* Many orders are decided by hand at once: looked at first, and taken back in one go. */

let rig: Rig
afterEach(() => rig.close())
async function begin(count: number): Promise<number[]> {
  rig = await makeRig()
  await rig.stockShop(soundOrders(count))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  return (await rig.orders()).map(({ id }) => id)
}
const key = (): string => `key ${Math.random()}`
const urgent = { do: 'pin', decision: 'priority', value: 'urgent' } as const
const express = { do: 'pin', decision: 'picks', value: [{ by: 'service', service: 'northlight-day' }] } as const

test('what is shown before is what comes of it: services, costs, and which stay as they are', async () => {
  const ids = await begin(6)
  const plan = await planBatch(rig.gharry, [ids[0]!])
  await buyBatch(rig.gharry, [ids[0]!], plan.total)
  await rig.workAll()
  const before = await rig.orders()
  const seen = await previewEdit(rig.gharry, { orders: ids, edits: [express] })
  if (!seen.ok) throw new Error(seen.sentence)
  expect(await rig.orders()).toEqual(before)
  expect(seen.left).toEqual([{ why: 'It is labelled: its decisions stand.', count: 1, numbers: [before[0]!.number] }])
  expect(seen.summary.serviceChanges).toBe(5)
  const done = await editMany(rig.gharry, { key: key(), orders: ids, edits: [express] })
  expect(done).toMatchObject({ ok: true, changed: 5, left: [{ count: 1 }] })
  const after = await rig.orders()
  expect(after.map(({ service }) => service)).toEqual([before[0]!.service, ...Array<string>(5).fill('northlight-day')])
  // The money that was shown is the money that was decided: summed here from the books.
  const sum = (rows: typeof after): number => rows.reduce((total, { cost }) => total + (cost ?? 0), 0)
  expect(sum(after) - sum(before)).toBe(seen.summary.costDifference)
  expect((await logOf(rig.gharry.db, ids[1]!)).at(-1)!.sentence).toMatch(/^Decided by hand: service: /)
})

test('one undo puts everything back, but not what was decided otherwise since, nor what was bought', async () => {
  const ids = await begin(4)
  await pinDecision(rig.gharry, ids[0]!, 'priority', 'later')
  const before = await rig.orders()
  const done = await editMany(rig.gharry, {
    key: key(),
    orders: ids,
    edits: [urgent, { do: 'tag', add: ['look'], remove: [] }],
  })
  if (!done.ok) throw new Error(done.sentence)
  expect((await rig.orders()).map(({ priority, tags }) => [priority, tags.includes('look')])).toEqual(
    ids.map(() => [0, true]),
  )
  await pinDecision(rig.gharry, ids[1]!, 'priority', 'normal')
  const plan = await planBatch(rig.gharry, [ids[2]!])
  await buyBatch(rig.gharry, [ids[2]!], plan.total)
  await rig.workAll()
  const undone = await undoEdit(rig.gharry, done.edit)
  expect(undone).toMatchObject({ ok: true, changed: 2 })
  expect(undone.ok && undone.left.map(({ why, count }) => [why, count])).toEqual([
    ['Somebody has decided it otherwise since.', 1],
    ['It is labelled: its decisions stand.', 1],
  ])
  const after = await rig.orders()
  // The pin that was there before is there again.
  expect((await pinsOf(rig.gharry.db, [ids[0]!])).get(ids[0]!)).toEqual({ priority: 'later' })
  const plain = (row: (typeof after)[number]) => ({ ...row, changedAt: '' })
  expect([plain(after[0]!), plain(after[3]!)]).toEqual([plain(before[0]!), plain(before[3]!)])
  expect((await showEdits(rig.gharry)).edits[0]).toMatchObject({ state: 'undone', counts: { undone: 2, kept: 2 } })
  // Taken back twice is taken back once.
  expect(await undoEdit(rig.gharry, done.edit)).toMatchObject({ ok: true, changed: 2 })
})

test('the same intent twice is one edit; one that was cut off is gone on with by the worker', async () => {
  const ids = await begin(3)
  const once = key()
  const first = await editMany(rig.gharry, { key: once, orders: ids, edits: [urgent] })
  const again = await editMany(rig.gharry, { key: once, orders: ids, edits: [urgent] })
  expect(again).toEqual(first)
  // As a machine leaves it that dies before the first order.
  const { db } = rig.gharry
  const [cut] = (await db('edits')
    .insert({
      ...{ key: 'cut', state: 'under way', author: 'test', madeAt: rig.gharry.now().toISOString() },
      ...{ edits: JSON.stringify([{ do: 'tag', add: ['cut'], remove: [] }]), sentence: 'tags: with cut' },
    })
    .returning('id')) as { id: number }[]
  await db('edit_orders').insert(ids.map((orderId) => ({ editId: cut!.id, orderId, state: 'waiting' })))
  await Promise.all([workEdit(rig.gharry, cut!.id), workEdit(rig.gharry, cut!.id)])
  expect((await rig.orders()).every(({ tags }) => tags.includes('cut'))).toBe(true)
  const sentences = (await logOf(db, ids[0]!)).filter(({ sentence }) => sentence.includes('cut'))
  expect(sentences).toHaveLength(1)
})

test('a weight for all, and another one for each, from a column', async () => {
  const ids = await begin(3)
  const all = await editMany(rig.gharry, { key: key(), orders: ids, edits: [{ do: 'weigh', grams: 1500 as Grams }] })
  expect(all).toMatchObject({ ok: true, changed: 3 })
  const weights = async () => Promise.all(ids.map(async (id) => (await orderRow(rig.gharry.db, id))!.weight))
  const boxed = await weights()
  const each = await editMany(rig.gharry, {
    key: key(),
    orders: ids,
    edits: [{ do: 'each', of: 'weigh', values: [[ids[0]!, 1600] as const, [ids[1]!, 1400] as const] }],
  })
  expect(each).toMatchObject({ ok: true, changed: 2, left: [{ why: 'There was no value for it.', count: 1 }] })
  const next = await weights()
  expect(next[2]).toBe(boxed[2])
  expect([next[0]! - boxed[0]!, next[1]! - boxed[1]!]).toEqual([100, -100])
})

test('sent on a later day: ready all the same, with the arrival of that day, and the carrier is told it', async () => {
  const ids = await begin(2)
  const before = await rig.orders()
  // A Monday two weeks ahead.
  const monday = new Date(rig.gharry.now().getTime() + 14 * 86_400_000)
  monday.setUTCDate(monday.getUTCDate() + ((8 - monday.getUTCDay()) % 7))
  const day = monday.toISOString().slice(0, 10)
  const edits = [{ do: 'pin', decision: 'shipOn', value: { day } } as const]
  const seen = await previewEdit(rig.gharry, { orders: ids, edits })
  expect(seen).toMatchObject({ ok: true, lines: [`ship-on day: ${day}`], summary: { changed: 2 } })
  expect(await editMany(rig.gharry, { key: key(), orders: ids, edits })).toMatchObject({ changed: 2 })
  const after = await rig.orders()
  expect(after.map(({ state }) => state)).toEqual(['ready', 'ready'])
  after.forEach(({ arrivesOn }, i) => {
    expect(arrivesOn! > day).toBe(true)
    expect(before[i]!.arrivesOn! < day).toBe(true)
  })
  const plan = await planBatch(rig.gharry, ids)
  await buyBatch(rig.gharry, ids, plan.total)
  await rig.workAll()
  expect((await rig.carrierLabels()).map(({ shipOn }) => shipOn)).toEqual([day, day])
})

test('edited while an import runs in another process: both are whole', async () => {
  const ids = await begin(300)
  const other = await openApplication(rig.env)
  await rig.stockShop(soundOrders(700))
  await requestImport(rig.gharry, 'mossgill-shop')
  const [done] = await Promise.all([
    editMany(other, { key: key(), orders: ids, edits: [urgent, { do: 'weigh', grams: 1200 as Grams }] }),
    rig.workAll(),
  ])
  await other.close()
  expect(done).toMatchObject({ ok: true, changed: 300, left: [] })
  const after = await rig.orders()
  expect(after).toHaveLength(700)
  const edited = new Set(ids)
  expect(after.filter(({ priority }) => priority === 0).map(({ id }) => id)).toEqual(ids)
  expect(after.filter(({ id }) => edited.has(id)).every(({ pinned }) => Boolean(pinned))).toBe(true)
})

test('wrong input is said before anything is done', async () => {
  const ids = await begin(2)
  const refused = async (edits: Parameters<typeof previewEdit>[1]['edits'], orders = ids) => {
    const seen = await previewEdit(rig.gharry, { orders, edits })
    const done = await editMany(rig.gharry, { key: key(), orders, edits })
    expect(done).toEqual(seen)
    return seen.ok ? 'done' : seen.sentence
  }
  // A look without an edit is one that makes ready.
  expect(await previewEdit(rig.gharry, { orders: ids, edits: [] })).toMatchObject({
    ...{ ok: true, lines: [], changes: [], summary: { orders: 0 } },
  })
  expect(await editMany(rig.gharry, { key: key(), orders: ids, edits: [] })).toMatchObject({
    sentence: 'Say what is to be decided.',
  })
  expect(await refused([urgent], [])).toBe('Choose the orders first.')
  expect(
    await refused(
      [urgent],
      Array.from({ length: 5001 }, (_, i) => i),
    ),
  ).toBe('At most 5,000 orders are edited at once: choose fewer.')
  expect(await refused([{ do: 'weigh', grams: -5 as Grams }])).toBe(
    'The weight of an order is above 0 g and at most 1,000 kg.',
  )
  expect(await refused([{ do: 'weigh', grams: 1.5 as Grams }])).toMatch(/above 0 g/)
  expect(await refused([{ do: 'pin', decision: 'preset', value: 'gone' }])).toBe(
    'The package preset "gone" does not exist.',
  )
  expect(await refused([{ do: 'pin', decision: 'priority', value: 'soon' }])).toMatch(/^priority: /)
  expect(await refused([{ do: 'each', of: 'preset', values: [[ids[0]!, 'gone']] }])).toMatch(/does not exist/)
  expect(await refused([{ do: 'tag', add: [], remove: [] }])).toBe('Name at least one tag.')
  expect((await showEdits(rig.gharry)).edits).toEqual([])
  expect((await showOrder(rig.gharry, ids[0]!))!.pins).toEqual([])
})
