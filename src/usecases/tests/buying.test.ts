import { removeConnection, saveConnection, showConnections } from '@/usecases/intake/connections'
import { buyBatch } from '@/usecases/dispatch/buyBatch'
import { dispatchBatch } from '@/usecases/dispatch/dispatchLabels'
import { followParcels } from '@/usecases/tracking/followParcels'
import { retryWork } from '@/usecases/intake/changeChannel'
import { requestImport } from '@/usecases/intake/importOrders'
import { planBatch } from '@/usecases/dispatch/planBatch'
import { pinDecision } from '@/usecases/desk/pinDecision'
import { showLedger } from '@/usecases/ledger/showLedger'
import { findByOrder, trackByLink } from '@/usecases/tracking/trackParcel'
import { changeWorld, currentWorld } from '@/usecases/shared/changeWorld'
import { requestVoid } from '@/usecases/dispatch/voidLabel'
import { askCarriersSince, compareWithCarriers } from '@/usecases/backups/afterRestore'
import { restoredBooks } from '@/usecases/shared/restoredBooks'
import { waitsForCarriers } from '@/usecases/worker/wentBack'
import { buyByItself, buyingDone, startBuying } from '@/usecases/worker/work'
import { demoRulebook } from '../../../demo/rulebook'
import { makeRig, soundOrders, type Rig } from './rig'

let rig: Rig
afterEach(() => rig.close())

async function begin(count: number, more: Parameters<typeof makeRig>[0] = {}): Promise<number[]> {
  rig = await makeRig(more)
  await rig.stockShop(soundOrders(count))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  return (await rig.orders()).map((order) => order.id)
}

async function buyAll(ids: readonly number[]): Promise<number> {
  const plan = await planBatch(rig.gharry, ids)
  const answer = await buyBatch(
    rig.gharry,
    plan.labels.map((label) => label.order),
    plan.total,
  )
  if (!answer.ok) throw new Error(answer.sentence)
  return answer.batch
}

test('the whole way: bought once, charged as quoted, told once, mailed once, tracked to delivery', async () => {
  const ids = await begin(12)
  const plan = await planBatch(rig.gharry, ids)
  await buyAll(ids)
  await rig.workAll()
  const labels = await rig.labels()
  expect(labels.map((label) => label.state)).toEqual(new Array<string>(12).fill('bought'))
  // The carriers price by their own reading of the tariff; it must be what was quoted.
  expect(labels.map((label) => label.charged)).toEqual(labels.map((label) => label.quoted))
  expect((await showLedger(rig.gharry, {})).spend).toBe(plan.total)
  const shop = await rig.shopOrders()
  expect(shop.every((order) => order.status === 'fulfilled' && order.fulfilments.length === 1)).toBe(true)
  expect(shop.map((order) => order.fulfilments[0]!.tracking_number).sort()).toEqual(
    labels.map((label) => label.trackingNumber).sort(),
  )
  const mails = await rig.mails()
  expect(mails).toHaveLength(12)
  expect(
    mails.every(
      (mail) =>
        mail.copies === 1 &&
        mail.text.includes('http://gharry.example/track/') &&
        mail.html.includes('<a href="http://gharry.example/track/'),
    ),
  ).toBe(true)

  for (let day = 0; day < 4; day++) await rig.nextDay()
  await followParcels(rig.gharry, 'heron')
  await followParcels(rig.gharry, 'corvid')
  expect((await rig.orders()).every((order) => order.state === 'delivered')).toBe(true)
  const view = await trackByLink(rig.gharry, labels[0]!.token)
  expect(view!.parcels).toMatchObject([{ status: 'delivered', number: labels[0]!.trackingNumber }])
  expect(view!.parcels[0]!.events.length).toBeGreaterThan(2)
})

test('with every fault switched on, nothing is bought twice and every channel is told once', async () => {
  const ids = await begin(60)
  for (const which of ['heron', 'corvid'] as const)
    await rig.faults(which, { timeOutAfterWork: 3, serverError: 5, tooManyCalls: 7, malformedBody: 4, twice: 2 })
  await rig.faults('shop', { timeOutAfterWork: 2, serverError: 5, malformedBody: 3 })
  await rig.faults('mail', { serverError: 4 })
  await buyAll(ids)
  await rig.workAll()
  const labels = await rig.labels()
  expect(labels.every((label) => label.state === 'bought')).toBe(true)
  const carrier = await rig.carrierLabels()
  expect(carrier).toHaveLength(60)
  expect(new Set(carrier.map((label) => label.trackingNumber))).toEqual(
    new Set(labels.map((label) => label.trackingNumber)),
  )
  expect((await rig.shopOrders()).every((order) => order.fulfilments.length === 1)).toBe(true)
  expect(await rig.mails()).toHaveLength(60)
}, 60_000)

test('voiding: the order returns, the refund is pending, a waiting notice is dropped, the channel hears of it', async () => {
  const ids = await begin(1)
  await buyAll(ids)
  const { workOnce } = await import('@/usecases/worker/work')
  for (let i = 0; i < 4; i++) await workOnce(rig.gharry)
  const [label] = await rig.labels()
  expect((await rig.shopOrders())[0]).toMatchObject({ status: 'fulfilled' })
  expect(await requestVoid(rig.gharry, label!.id)).toEqual({ ok: true })
  expect(await requestVoid(rig.gharry, label!.id)).toMatchObject({ ok: false, code: 'not-bought' })
  await rig.workAll()
  expect((await rig.labels())[0]).toMatchObject({ state: 'voided' })
  expect((await rig.orders())[0]).toMatchObject({ state: 'ready' })
  expect(await showLedger(rig.gharry, {})).toMatchObject({ spend: 0, pending: label!.charged })
  expect(await rig.mails()).toHaveLength(0)
  expect((await rig.shopOrders())[0]).toMatchObject({ status: 'open', fulfilments: [{ withdrawn: true }] })
  expect(await trackByLink(rig.gharry, label!.token)).toBeNull()
  // And it can be bought again, with a new label.
  await buyAll(ids)
  await rig.workAll()
  expect((await rig.carrierLabels()).map((entry) => entry.state).sort()).toEqual(['bought', 'voided'])
  expect((await rig.shopOrders())[0]!.fulfilments.filter((entry) => !entry.withdrawn)).toHaveLength(1)
})

test('a parcel that was collected cannot be voided', async () => {
  const ids = await begin(1)
  await buyAll(ids)
  await rig.workAll()
  await rig.nextDay()
  for (const carrier of ['heron', 'corvid']) await followParcels(rig.gharry, carrier)
  expect(await requestVoid(rig.gharry, (await rig.labels())[0]!.id)).toMatchObject({ ok: false, code: 'on-its-way' })
})

test('what cannot be bought says why; a changed total is asked about again; a refusal of the carrier comes back to the Desk', async () => {
  const ids = await begin(3)
  await pinDecision(rig.gharry, ids[0]!, 'hold', 'wait for the buyer')
  const plan = await planBatch(rig.gharry, ids)
  expect(plan.blocked).toMatchObject([{ order: ids[0], reason: 'It is held: wait for the buyer.' }])
  expect(await buyBatch(rig.gharry, ids, plan.total + 1)).toMatchObject({ ok: false, code: 'total-moved' })
  expect(await buyBatch(rig.gharry, [ids[0]!], 0)).toMatchObject({ ok: false, code: 'nothing-to-buy' })
  await buyAll(ids)
  expect(await buyBatch(rig.gharry, ids, plan.total)).toMatchObject({ ok: false })
  await rig.gharry
    .db('labels')
    .limit(1)
    .where({ orderId: ids[1] })
    .update({
      request: JSON.stringify({
        ...(JSON.parse((await rig.labels())[0]!.request) as object),
        parcels: [{ weight: 0, size: [1, 1, 1] }],
      }),
    })
  await rig.workAll()
  expect((await rig.orders()).map((order) => order.state)).toEqual(['held', 'attention', 'labelled'])
  expect((await rig.orders())[1]!.problem).toMatch(
    /^The carrier refused the label: parcels.0.weight must be more than 0 g/,
  )
})

test('a channel that is told at dispatch hears nothing before; changes upstream after buying are flagged', async () => {
  const ids = await begin(2)
  await rig.gharry.db('channels').where({ id: 'mossgill-shop' }).update({ tellWhen: 'dispatched' })
  const batch = await buyAll(ids)
  await rig.workAll()
  expect((await rig.shopOrders()).map((order) => order.status)).toEqual(['open', 'open'])
  const [first] = await rig.shopOrders()
  await fetch(`${rig.shopUrl}/admin/orders/${first!.id}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ status: 'cancelled' }),
  })
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  const flagged = (await rig.orders()).find((order) => order.remoteId === first!.id)!
  expect(flagged).toMatchObject({
    state: 'labelled',
    flag: expect.stringContaining('Cancelled in the channel after the label was bought') as string,
  })
  await requestVoid(rig.gharry, (await rig.labels()).find((label) => label.orderId === flagged.id)!.id)
  await rig.workAll()
  expect((await rig.orders()).find((order) => order.id === flagged.id)).toMatchObject({
    state: 'cancelled',
    flag: null,
  })
  expect(await dispatchBatch(rig.gharry, batch)).toEqual({ ok: true, dispatched: 1, unchecked: 0 })
  expect(await dispatchBatch(rig.gharry, batch)).toEqual({ ok: true, dispatched: 0, unchecked: 0 })
  await rig.workAll()
  expect((await rig.shopOrders()).map((order) => order.status).sort()).toEqual(['cancelled', 'fulfilled'])
})

test('a rule may have labels bought by themselves', async () => {
  await begin(3, {
    rulebook: {
      ...demoRulebook,
      rules: [
        ...demoRulebook.rules,
        {
          id: 'auto',
          stage: 'papers',
          name: 'By itself',
          on: true,
          when: { fact: 'order value', op: '≥', value: { minor: 0 as never, currency: 'EUR' } },
          then: [{ set: 'buyByItself', to: true }],
        },
      ],
    },
  })
  await buyByItself(rig.gharry)
  await buyByItself(rig.gharry)
  await rig.workAll()
  expect((await rig.orders()).map((order) => order.state)).toEqual(['labelled', 'labelled', 'labelled'])
})

test('the customers’ page shows one parcel to who knows number and e-mail, and soon shuts to guessing', async () => {
  const ids = await begin(2)
  await buyAll(ids)
  await rig.workAll()
  const [mine, other] = await rig.orders()
  const found = await findByOrder(rig.gharry, mine!.number, mine!.email.toUpperCase(), '10.0.0.1')
  expect(found).toMatchObject({ ok: true })
  expect(JSON.stringify(await trackByLink(rig.gharry, (found as unknown as { token: string }).token))).not.toContain(
    other!.number,
  )
  const unknown = await findByOrder(rig.gharry, 'nonsense', mine!.email, '10.0.0.2')
  expect(await findByOrder(rig.gharry, mine!.number, other!.email, '10.0.0.2')).toEqual(unknown)
  for (let i = 0; i < 8; i++) await findByOrder(rig.gharry, mine!.number, `guess${i}@x.example`, '10.0.0.2')
  expect(await findByOrder(rig.gharry, mine!.number, mine!.email, '10.0.0.2')).toMatchObject({
    ok: false,
    code: 'too-many-tries',
  })
  expect(await trackByLink(rig.gharry, 'x'.repeat(24))).toBeNull()
  expect(await trackByLink(rig.gharry, "' OR 1=1")).toBeNull()
})

test('a location buys with its own account, voids there, and its news is read there', async () => {
  rig = await makeRig()
  await rig.stockShop(soundOrders(2))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  const [ghent, poznan] = await rig.orders()
  await pinDecision(rig.gharry, poznan!.id, 'location', 'poznan')
  const { carrier } = (await planBatch(rig.gharry, [poznan!.id])).labels[0]!
  const others = (await showConnections(rig.gharry)).connections.filter(({ belongsTo }) => belongsTo === carrier)
  const second = await saveConnection(rig.gharry, null, {
    ...{ role: 'carrier', kind: 'json-labels', name: 'Poznań’s own', carrier, on: true, locations: ['poznan'] },
    settings: { address: rig.carrierUrls.get(carrier)!, token: 't' },
  })
  if (!second.ok) throw new Error(second.sentence)
  const plan = await planBatch(rig.gharry, [ghent!.id, poznan!.id])
  const accountOf = (order: number) => plan.labels.find((label) => label.order === order)
  expect(accountOf(poznan!.id)!.account).toBe(second.id)
  if (accountOf(ghent!.id)!.carrier === carrier) expect(accountOf(ghent!.id)!.account).toBe(others[0]!.id)
  expect(await buyBatch(rig.gharry, [ghent!.id, poznan!.id], plan.total)).toMatchObject({ ok: true })
  await rig.workAll()
  const label = (await rig.labels()).find(({ orderId }) => orderId === poznan!.id)!
  expect(label).toMatchObject({ state: 'bought', account: second.id })
  // As long as it can be voided there, the account stays.
  expect(await removeConnection(rig.gharry, second.id, 1)).toMatchObject({ ok: false, code: 'in-use' })
  // Each account has a cursor of its own.
  await rig.nextDay()
  expect(await followParcels(rig.gharry, carrier)).toBeGreaterThan(0)
  const cursors = (await rig.gharry.db('carrier_cursors').select('carrier')) as { carrier: string }[]
  expect(cursors.map((row) => row.carrier)).toEqual(expect.arrayContaining([second.id]))
  // An account of other places is not used here.
  const [first] = others
  await saveConnection(rig.gharry, first!.id, {
    ...{
      role: 'carrier',
      kind: 'json-labels',
      name: first!.name,
      on: true,
      locations: ['leeds'],
      version: first!.version,
    },
    settings: { address: rig.carrierUrls.get(carrier)!, token: '' },
  })
  await rig.stockShop(soundOrders(3).slice(2))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  const third = (await rig.orders())[2]!
  await pinDecision(rig.gharry, third.id, 'allowed', [carrier])
  const refused = await planBatch(rig.gharry, [third.id])
  expect(refused.blocked.map(({ reason }) => reason).join()).toMatch(/no account that this location uses/)
})

test('a number that cannot be its carrier’s is not told to the channel: the post says why, and goes when it is right', async () => {
  const ids = await begin(1)
  const { world } = await currentWorld(rig.gharry.db)
  await changeWorld(rig.gharry, null, '', () => ({
    ...world,
    carriers: world.carriers.map((carrier) => ({
      ...carrier,
      numbers: [{ form: 'ZZ########', check: 'none' as const }],
    })),
  }))
  await buyAll(ids)
  await rig.workAll()
  const post = async () =>
    (await rig.gharry.db('posts').first()) as { id: number; state: string; problem: string | null }
  expect(await post()).toMatchObject({
    state: 'failed',
    problem: expect.stringMatching(/has no form of .*Mossgill Shop is not told of it\.$/) as string,
  })
  expect((await rig.shopOrders())[0]!.fulfilments).toEqual([])
  await changeWorld(rig.gharry, null, '', () => world)
  expect(await retryWork(rig.gharry, 'posts', (await post()).id)).toMatchObject({ ok: true })
  await rig.workAll()
  expect((await rig.shopOrders())[0]!.fulfilments).toHaveLength(1)
})

test('a carrier that says nothing holds up no other', async () => {
  const ids = await begin(24)
  const carriers = (await planBatch(rig.gharry, ids)).labels.map(({ carrier }) => carrier)
  expect(new Set(carriers).size).toBeGreaterThan(1)
  const [silent] = carriers
  await rig.faults(silent!, { latencyMs: 20_000 })
  await buyAll(ids)
  await startBuying(rig.gharry)
  const others = async () => (await rig.labels()).filter(({ carrier }) => carrier !== silent)
  for (let i = 0; i < 500 && (await others()).some(({ state }) => state !== 'bought'); i++)
    await new Promise((resolve) => setTimeout(resolve, 20))
  expect((await others()).every(({ state }) => state === 'bought')).toBe(true)
  expect(
    (await rig.labels()).filter(({ carrier }) => carrier === silent).every(({ state }) => state === 'queued'),
  ).toBe(true)
  await rig.faults(silent!, { latencyMs: 0 })
  await buyingDone(rig.gharry)
  await rig.workAll()
  expect((await rig.labels()).every(({ state }) => state === 'bought')).toBe(true)
})

test('an account that takes so many labels a second is asked no faster', async () => {
  const ids = await begin(24)
  const { connections } = await showConnections(rig.gharry)
  for (const one of connections.filter(({ role }) => role === 'carrier')) {
    const { id, role, kind, name, on, settings, version } = one
    const saved = await saveConnection(rig.gharry, id, { role, kind, name, on, settings, version, perSecond: 4 })
    expect(saved).toMatchObject({ ok: true })
  }
  await buyAll(ids)
  await rig.workAll()
  const labels = await rig.labels()
  expect(labels.every(({ state }) => state === 'bought')).toBe(true)
  for (const carrier of new Set(labels.map((label) => label.carrier))) {
    const asked = (await rig.received(carrier)).filter(
      ({ method, url }) => method === 'POST' && /labels|shipments/.test(url),
    )
    const at = asked.map((call) => Date.parse((call as unknown as { at: string }).at)).sort((a, b) => a - b)
    expect(asked.length).toBe(labels.filter((label) => label.carrier === carrier).length)
    // A fifth within a second of the first of them would be one too many. A call may arrive later than it left, by as
    // much as a busy machine takes: without a limit all of them come within some hundredths.
    const late = 500
    for (let i = 4; i < at.length; i++) expect(at[i]! - at[i - 4]!).toBeGreaterThan(1000 - late)
    expect(at.at(-1)! - at[0]!).toBeGreaterThanOrEqual(1000 * Math.floor((at.length - 1) / 4) - late)
  }
})

test('a label that a worker has seen and the books have no more: nothing is bought until the carriers have said what they know', async () => {
  const ids = await begin(5)
  await buyAll(ids.slice(0, 4))
  expect(await waitsForCarriers(rig.gharry)).toBe(false)
  // As if another label had got its number, in books that were put back and worked with.
  const [{ id }] = (await rig.gharry.db('labels').max({ id: 'id' })) as [{ id: number }]
  await rig.gharry.db('labels').where({ id }).update({ madeAt: '2026-01-01T00:00:00.000Z' })
  expect(await startBuying(rig.gharry)).toBe(false)
  expect(await restoredBooks(rig.gharry)).toMatchObject({ done: false, open: [] })
  expect((await planBatch(rig.gharry, ids.slice(4))).blocked[0]!.reason).toMatch(/put back to an earlier moment/)
  await compareWithCarriers(rig.gharry)
  expect(await restoredBooks(rig.gharry)).toMatchObject({ done: true, taken: 0, open: [] })
  expect(await waitsForCarriers(rig.gharry)).toBe(false)
  await rig.workAll()
  expect(await rig.carrierLabels()).toHaveLength(4)
  // Said by a person, as where the workers have forgotten what they saw.
  await askCarriersSince(rig.gharry, new Date(Date.now() - 60_000).toISOString())
  expect(await waitsForCarriers(rig.gharry)).toBe(true)
  await compareWithCarriers(rig.gharry)
  expect(await restoredBooks(rig.gharry)).toMatchObject({ done: true, open: [] })
  expect(await waitsForCarriers(rig.gharry)).toBe(false)
})
