import { buffer } from 'node:stream/consumers'
import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { demoWorld } from '../../../demo/world'
import { demoRulebook } from '../../../demo/rulebook'
import { findAtCounter, handOut, settleLate } from '../dispatch/counter/handOut'
import { shelveOrder } from '../dispatch/counter/shelve'
import { showCounter } from '../dispatch/counter/showCounter'
import { showManifests } from '../dispatch/door/showManifests'
import { printBatch, printLabel, usualProfile } from '../dispatch/printBatch'
import { saveConnection } from '../intake/connections'
import { fetchWording, withCounter, withCounterRules } from '../../../demo/counter'
import { buyReady, isPrinted, makeRig, type Rig, soundOrders } from './rig'

const signature = [[100, 100, 300, 200, 500, 90]]
const at = { location: 'ghent' }
let rig: Rig
beforeEach(async () => {
  rig = await makeRig({ world: withCounter(demoWorld), rulebook: withCounterRules(demoRulebook) })
  const input = {
    role: 'carrier',
    kind: 'counter',
    name: 'Counter',
    carrier: 'counter',
    settings: {},
    on: true,
  } as const
  expect(await saveConnection(rig.gharry, null, input)).toMatchObject({ ok: true })
})
afterEach(() => rig.close())

/** Two orders that are fetched, and two that are sent; all bought. Gives the fetched ones. */
async function bought() {
  const [a, b, c, d] = soundOrders(4)
  const batch = await buyReady(rig, [
    { ...a!, shipping_method: fetchWording },
    { ...b!, shipping_method: fetchWording },
    c!,
    d!,
  ])
  const labels = (await rig.labels()).filter(({ carrier }) => carrier === 'counter')
  const orders = await rig.orders()
  return { batch, fetched: labels.map((label) => ({ label, order: orders.find(({ id }) => id === label.orderId)! })) }
}
const shelf = async (number: string, place: string) => {
  const answer = await shelveOrder(rig.gharry, { ...at, code: number, place })
  if (!answer.ok) throw new Error(answer.sentence)
  return answer
}

test('what is fetched is taken only when it is named, costs nothing, stands for no lorry and has a slip without a label', async () => {
  const { batch, fetched } = await bought()
  expect(fetched).toHaveLength(2)
  expect(fetched.map(({ label }) => [label.charged, label.state])).toEqual([
    [0, 'bought'],
    [0, 'bought'],
  ])
  expect(new Set((await rig.labels()).map(({ carrier }) => carrier)).size).toBeGreaterThan(1)
  expect((await showManifests(rig.gharry)).doors.map(({ carrier }) => carrier)).not.toContain('counter')
  const folder = mkdtempSync(join(tmpdir(), 'gharry-counter-'))
  const pages = async (work: ReturnType<typeof printLabel>): Promise<number> => {
    const path = join(folder, 'paper.pdf')
    writeFileSync(path, await buffer(isPrinted(await work).content))
    return Number(/Pages:\s+(\d+)/.exec(execFileSync('pdfinfo', [path]).toString())![1])
  }
  expect(await pages(printLabel(rig.gharry, fetched[0]!.label.id))).toBe(1)
  expect(await pages(printLabel(rig.gharry, fetched[0]!.label.id, { ...usualProfile, parts: 'labels' }))).toBe(1)
  expect(await pages(printBatch(rig.gharry, batch))).toBe(2 + 2 * 2)
  rmSync(folder, { recursive: true })
})

test('on the shelf its buyer is told once where and under which code; handed out, channel and customer know', async () => {
  const { fetched } = await bought()
  const [one] = fetched
  // Nothing is told when it is bought: nothing was sent.
  expect((await rig.mails()).filter(({ subject }) => subject.includes(one!.order.number))).toEqual([])
  expect((await showCounter(rig.gharry, 'ghent')).toShelve.map(({ number }) => number).sort()).toEqual(
    fetched.map(({ order }) => order.number).sort(),
  )
  expect(await shelveOrder(rig.gharry, { ...at, code: one!.order.number, place: ' ' })).toMatchObject({
    ok: false,
    code: 'incomplete',
  })
  // Its slip, and its parcel's number, say that it is to be shelved first.
  for (const words of [one!.order.number, one!.label.trackingNumber!])
    expect(await findAtCounter(rig.gharry, { ...at, words })).toMatchObject({
      ...{ ok: true, found: [], shelve: one!.order.number },
    })
  const { code } = await shelf(one!.order.number, 'A3')
  // On another shelf: the same code, and nobody is told again.
  expect(await shelf(one!.label.trackingNumber!, 'B1')).toMatchObject({ code, moved: true })
  await rig.workAll()
  const told = (await rig.mails()).filter(({ text }) => text.includes(code))
  expect(told).toHaveLength(1)
  expect(told[0]!.text).toContain('9000')
  expect((await rig.shopOrders()).find(({ number }) => number === one!.order.number)!.fulfilments ?? []).toEqual([])
  expect((await rig.orders()).find(({ id }) => id === one!.order.id)!.state).toBe('labelled')

  for (const words of [code.toLowerCase(), one!.order.number, one!.order.buyer.slice(0, 5)])
    expect(await findAtCounter(rig.gharry, { ...at, words })).toMatchObject({
      ok: true,
      found: [{ labelId: one!.label.id, place: 'B1' }],
    })
  expect(await findAtCounter(rig.gharry, { ...at, words: 'ZZZZZ' })).toMatchObject({ ok: false, code: 'not-found' })
  expect(await findAtCounter(rig.gharry, { ...at, words: '%%%' })).toMatchObject({ ok: false, code: 'not-found' })
  expect(await findAtCounter(rig.gharry, { ...at, words: 'a' })).toMatchObject({ ok: false, code: 'bad-value' })

  const label = one!.label.id
  // Cancelled meanwhile in the channel: it is not given away as well.
  const flagged = rig.gharry.db('orders').where({ id: one!.order.id })
  await flagged.clone().update({ flag: 'The buyer has cancelled it.' })
  expect(await handOut(rig.gharry, { label, to: 'Ada', signature })).toMatchObject({ ok: false, code: 'order-moved' })
  await flagged.clone().update({ flag: null })
  expect(await handOut(rig.gharry, { label, to: '', signature })).toMatchObject({ ok: false, code: 'incomplete' })
  expect(await handOut(rig.gharry, { label, to: 'Ada', signature: [] })).toMatchObject({
    ok: false,
    code: 'incomplete',
  })
  const twice = await Promise.all([1, 2].map(() => handOut(rig.gharry, { label, to: 'Ada', signature })))
  expect(twice.filter(({ ok }) => ok)).toHaveLength(1)
  await rig.workAll()
  expect((await rig.orders()).find(({ id }) => id === one!.order.id)!.state).toBe('delivered')
  const shop = (await rig.shopOrders()).find(({ number }) => number === one!.order.number)!
  expect(shop.fulfilments).toHaveLength(1)
  expect(await shelveOrder(rig.gharry, { ...at, code: one!.order.number, place: 'A1' })).toMatchObject({
    ok: false,
    code: 'on-its-way',
  })
  const view = await showCounter(rig.gharry, 'ghent')
  expect(view.handedOut).toMatchObject([{ handedTo: 'Ada', number: one!.order.number }])
})

test('what is not fetched here stays off the shelf, with the reason', async () => {
  const { fetched } = await bought()
  const sent = (await rig.labels()).find(({ carrier }) => carrier !== 'counter')!
  const refusal = (code: string, location = 'ghent') => shelveOrder(rig.gharry, { location, code, place: 'A1' })
  expect(await refusal(sent.trackingNumber!)).toMatchObject({
    ok: false,
    sentence: expect.stringContaining('goes to a lorry') as unknown,
  })
  expect(await refusal(fetched[0]!.order.number, 'poznan')).toMatchObject({
    ok: false,
    sentence: expect.stringContaining('fetched in Ghent') as unknown,
  })
  expect(await refusal('NOTHING')).toMatchObject({ ok: false, code: 'not-found' })
  expect(await refusal('https://track.example/abc')).toMatchObject({ ok: false, code: 'bad-value' })
})

test('what nobody fetches is asked about: reminded, kept, or put back and decided anew', async () => {
  const { fetched } = await bought()
  for (const [i, { order }] of fetched.entries()) await shelf(order.number, `A${i}`)
  await rig.workAll()
  expect((await showCounter(rig.gharry, 'ghent')).late).toBe(0)
  rig.put(8 * 24 * 60)
  expect((await showCounter(rig.gharry, 'ghent')).late).toBe(2)
  const [first, second] = fetched
  const mails = (await rig.mails()).length
  expect(await settleLate(rig.gharry, { label: first!.label.id, what: 'remind' })).toMatchObject({ ok: true })
  await rig.workAll()
  expect((await rig.mails()).length).toBe(mails + 1)
  expect((await showCounter(rig.gharry, 'ghent')).late).toBe(1)
  expect(await settleLate(rig.gharry, { label: second!.label.id, what: 'put back' })).toMatchObject({ ok: true })
  await rig.workAll()
  const view = await showCounter(rig.gharry, 'ghent')
  expect(view.onShelf.map(({ labelId }) => labelId)).toEqual([first!.label.id])
  expect((await rig.labels()).find(({ id }) => id === second!.label.id)!.state).toBe('voided')
  expect(await settleLate(rig.gharry, { label: second!.label.id, what: 'keep' })).toMatchObject({
    ok: false,
    code: 'not-found',
  })
  expect(await handOut(rig.gharry, { label: second!.label.id, to: 'Ada', signature })).toMatchObject({ ok: false })
})
