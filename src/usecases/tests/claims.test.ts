import { parse } from 'csv-parse/sync'
import { demoWorld } from '../../../demo/world'
import { accountSums, claimsIn, ledgerTotals } from '@/data'
import { buyBatch } from '../dispatch/buyBatch'
import { planBatch } from '../dispatch/planBatch'
import { pinDecision } from '../desk/pinDecision'
import { requestImport } from '../intake/importOrders'
import { claimFile, findClaims, markClaimed, settleClaim, showClaims } from '../ledger/claims'
import { takeCustomerWords } from '../tracking/customerWords'
import { followParcels } from '../tracking/followParcels'
import { makeRig, soundOrders, type Rig } from './rig'

/* What carriers owe: found by itself, claimed in a file, booked when it is granted. */
let rig: Rig
afterEach(() => rig.close())

async function begin(count: number): Promise<number[]> {
  rig = await makeRig({ world: demoWorld })
  await rig.stockShop(soundOrders(count).map((order) => ({ ...order, payment: 'card' })))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  const ids = (await rig.orders()).map(({ id }) => id)
  for (const id of ids)
    await pinDecision(rig.gharry, id, 'picks', [{ by: 'service', service: 'northlight-day' }, { by: 'cheapest' }])
  const plan = await planBatch(rig.gharry, ids)
  await buyBatch(rig.gharry, ids, plan.total)
  await rig.workAll()
  return ids
}

async function deliver(days: number): Promise<void> {
  for (const label of await rig.labels()) {
    const at = new Date(Date.parse(`${label.arrivesOn}T12:00:00Z`) + days * 86_400_000).toISOString()
    await rig.ask(label.carrier, '/admin/events', {
      ...{ trackingNumber: label.trackingNumber, status: 'delivered', at, astray: true },
    })
    await followParcels(rig.gharry, label.carrier)
  }
  rig.put(60 * 24 * (days + 4))
}

test('late against a guaranteed day: found once, in the carrier’s file, booked as granted; both books agree', async () => {
  const ids = await begin(3)
  await deliver(2)
  const labels = (await rig.labels()).filter(({ service }) => service === 'northlight-day')
  expect(labels.length).toBeGreaterThan(0)
  expect(await findClaims(rig.gharry)).toBe(labels.length)
  expect(await findClaims(rig.gharry)).toBe(0)
  const view = await showClaims(rig.gharry, false)
  expect(view.claims.map(({ kind, amount }) => [kind, amount]).sort()).toEqual(
    labels.map(({ charged }) => ['late', charged]).sort(),
  )
  const rows: Record<string, string>[] = parse((await claimFile(rig.gharry, 'northlight', 'csv'))!, {
    columns: true,
    bom: true,
  })
  expect(rows.map((row) => row['tracking number']).sort()).toEqual(
    labels.map(({ trackingNumber }) => trackingNumber).sort(),
  )
  expect(rows.reduce((sum, row) => sum + Math.round(Number(row.amount) * 100), 0)).toBe(
    labels.reduce((sum, { charged }) => sum + charged!, 0),
  )
  expect((await claimFile(rig.gharry, 'northlight', 'xlsx'))!.subarray(0, 2).toString()).toBe('PK')
  expect(
    await markClaimed(
      rig.gharry,
      view.claims.map(({ id }) => id),
    ),
  ).toMatchObject({ claimed: labels.length })
  expect(await claimFile(rig.gharry, 'northlight', 'csv')).toBeNull()

  const before = await accountSums(rig.gharry.db)
  const spent = (await ledgerTotals(rig.gharry.db)).spend
  const [first] = await claimsIn(rig.gharry.db, ['claimed'], undefined, 10)
  expect(await settleClaim(rig.gharry, first!.id, first!.amount + 1, '')).toMatchObject({
    ok: false,
    code: 'bad-value',
  })
  expect(await settleClaim(rig.gharry, first!.id, first!.amount - 1, 'Credit note 7')).toMatchObject({ ok: true })
  // Twice is once.
  expect(await settleClaim(rig.gharry, first!.id, first!.amount - 1, 'Credit note 7')).toMatchObject({
    ok: false,
    code: 'taken',
  })
  const sums = await accountSums(rig.gharry.db)
  const at = (list: typeof sums, account: string): number =>
    list.find((row) => row.carrier === 'northlight' && row.account === account)?.amount ?? 0
  expect(at(sums, 'balance') - at(before, 'balance')).toBe(first!.amount - 1)
  expect(at(sums, 'shipping') - at(before, 'shipping')).toBe(1 - first!.amount)
  expect(sums.reduce((sum, { amount }) => sum + amount, 0)).toBe(0)
  expect((await ledgerTotals(rig.gharry.db)).spend - spent).toBe(1 - first!.amount)
  expect(ids.length).toBe(3)
})

test('lost, as the carrier says; damaged, as the customer reports; what nobody claims in time is let go', async () => {
  await begin(2)
  const [one, two] = (await rig.labels()).filter(({ service }) => service === 'northlight-day')
  expect(two).toBeDefined()
  const happens = async (number: string, status: string): Promise<void> => {
    await rig.ask('northlight', '/admin/events', { trackingNumber: number, status, astray: true })
    await followParcels(rig.gharry, 'northlight')
  }
  await happens(one!.trackingNumber!, 'lost')
  await happens(two!.trackingNumber!, 'delivered')
  const report = { kind: 'report' as const, about: 'damaged', text: 'The glass is broken', day: '' }
  expect(await takeCustomerWords(rig.gharry, two!.token, report)).toMatchObject({ ok: true })
  expect(await findClaims(rig.gharry)).toBe(2)
  const kinds = (await showClaims(rig.gharry, false)).claims.map(({ kind, labelId }) => [kind, labelId])
  expect(kinds.sort()).toEqual(
    [
      ['lost', one!.id],
      ['damaged', two!.id],
    ].sort(),
  )
  rig.put(60 * 24 * 8)
  await findClaims(rig.gharry)
  expect(await showClaims(rig.gharry, true)).toMatchObject({ claims: [{ kind: 'damaged', state: 'let go' }] })
})
