import { csvFile } from '@/adapters'
import { accounts, accountSums, addWorld } from '@/data'
import { buyBatch } from '@/usecases/dispatch/buyBatch'
import { requestImport } from '@/usecases/intake/importOrders'
import { setCeiling, setMark, showMoney, topUp, topUpByMark } from '@/usecases/ledger/balances'
import { lookAtInvoice, takeInvoice } from '@/usecases/ledger/invoices'
import { planBatch } from '@/usecases/dispatch/planBatch'
import { sellersDay } from '@/usecases/shared/sellersDay'
import { requestVoid } from '@/usecases/dispatch/voidLabel'
import { demoWorld } from '../../../demo/world'
import { makeRig, soundOrders, type Rig } from './rig'

let rig: Rig
afterEach(() => rig.close())

async function begin(count: number): Promise<number[]> {
  rig = await makeRig()
  await rig.stockShop(soundOrders(count))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  return (await rig.orders()).map(({ id }) => id)
}
async function buyAll(ids: readonly number[]): Promise<void> {
  const plan = await planBatch(rig.gharry, ids)
  expect(await buyBatch(rig.gharry, ids, plan.total)).toMatchObject({ ok: true })
  await rig.workAll()
}
const sum = async (carrier: string, account: string): Promise<number> =>
  (await accountSums(rig.gharry.db)).find((row) => row.carrier === carrier && row.account === account)?.amount ?? 0
/** In double entry all accounts together are always nothing. */
async function balanced(): Promise<void> {
  const sums = await accountSums(rig.gharry.db)
  expect(sums.every(({ account }) => accounts.includes(account))).toBe(true)
  expect(sums.reduce((total, { amount }) => total + amount, 0)).toBe(0)
}

test('a label takes from the balance, a void is due back until the invoice grants it, and the books always balance', async () => {
  const ids = await begin(4)
  expect(await topUp(rig.gharry, 'heron', 100_000, 'key-of-a-top-up')).toMatchObject({ ok: true, balance: 100_000 })
  expect(await topUp(rig.gharry, 'heron', 100_000, 'key-of-a-top-up')).toMatchObject({ ok: true, balance: 100_000 })
  await buyAll(ids)
  const labels = (await rig.labels()).filter(({ carrier }) => carrier === 'heron')
  const charged = labels.reduce((total, label) => total + label.charged!, 0)
  expect(await sum('heron', 'balance')).toBe(100_000 - charged)
  const [voided] = labels
  await requestVoid(rig.gharry, voided!.id)
  await rig.workAll()
  expect(await sum('heron', 'refunds due')).toBe(voided!.charged)
  await balanced()
  const file = csvFile(
    ['tracking number', 'amount'],
    [{ 'tracking number': voided!.trackingNumber!, amount: (-voided!.charged! / 100).toFixed(2) }],
  )
  expect(await takeInvoice(rig.gharry, 'heron', 'R-1', file)).toMatchObject({ ok: true, corrections: 0 })
  expect(await sum('heron', 'refunds due')).toBe(0)
  await balanced()
})

test('an invoice is checked against what was charged: weights, surcharges, labels nobody bought; it is taken once', async () => {
  const ids = await begin(5)
  await buyAll(ids)
  const labels = (await rig.labels()).filter(({ carrier }) => carrier === 'heron')
  const [first, second] = labels
  const rows = labels.map((label, i) => ({
    'tracking number': label.trackingNumber!,
    amount: ((label.charged! + ([150, -20][i] ?? 0)) / 100).toFixed(2),
    weight: i === 0 ? '9.9 kg' : '',
    description: i === 1 ? 'rebate' : '',
  }))
  const file = csvFile(
    ['tracking number', 'amount', 'weight', 'description'],
    [...rows, { 'tracking number': '00354900019999999990', amount: '7.00', weight: '', description: '' }],
  )
  const look = await lookAtInvoice(rig.gharry, 'heron', file)
  if (!look.ok) throw new Error(look.sentence)
  expect(look.lines).toBe(labels.length + 1)
  expect(look.differing).toMatchObject([
    {
      trackingNumber: first!.trackingNumber,
      billed: first!.charged! + 150,
      what: expect.stringContaining('weighed 9.9 kg, declared') as string,
    },
    { trackingNumber: second!.trackingNumber, what: 'rebate' },
    { orderId: null, expected: null, what: 'we bought no label with this number' },
  ])
  const before = await sum('heron', 'balance')
  expect(await takeInvoice(rig.gharry, 'heron', 'H-2026-11', file)).toMatchObject({ ok: true, corrections: 3 })
  expect(await takeInvoice(rig.gharry, 'heron', 'H-2026-11', file)).toMatchObject({ ok: false, code: 'taken-before' })
  expect(await sum('heron', 'balance')).toBe(before - 150 + 20 - 700)
  await balanced()
  const view = await showMoney(rig.gharry)
  expect(view.corrections.reduce((total, { amount }) => total + amount, 0)).toBe(130)
  expect(view.corrections.every(({ rule }) => rule !== '')).toBe(true)
  expect(await lookAtInvoice(rig.gharry, 'heron', Buffer.from('tracking number,amount\n???,much\n'))).toMatchObject({
    ok: true,
    problems: [{ line: 2 }, { line: 2 }],
  })
  expect(await takeInvoice(rig.gharry, 'heron', 'X', Buffer.from('a,b\n'))).toMatchObject({
    ok: false,
    code: 'bad-file',
  })
})

test('below its mark a balance is topped up by itself, once for each fall, and told when it cannot be', async () => {
  await begin(1)
  expect(await setMark(rig.gharry, 'heron', 1000, null)).toMatchObject({ ok: false })
  await setMark(rig.gharry, 'heron', 1000, 5000)
  await rig.faults('heron', { timeOutAfterWork: 1 })
  await topUpByMark(rig.gharry)
  expect((await showMoney(rig.gharry)).carriers.find(({ carrier }) => carrier === 'heron')).toMatchObject({
    balance: 0,
    problem: expect.stringContaining('It is asked again automatically') as string,
  })
  await rig.faults('heron', { timeOutAfterWork: 0 })
  await topUpByMark(rig.gharry)
  await topUpByMark(rig.gharry)
  expect((await showMoney(rig.gharry)).carriers.find(({ carrier }) => carrier === 'heron')).toMatchObject({
    balance: 5000,
    problem: null,
  })
  const [heron] = rig.carrierUrls.values()
  expect(await (await fetch(`${heron}/admin/balance`)).json()).toMatchObject([{ minor: 5000 }])
})

test('above the day’s ceiling a batch needs a reason, which the order keeps', async () => {
  const ids = await begin(3)
  const plan = await planBatch(rig.gharry, ids)
  await setCeiling(rig.gharry, plan.total - 100)
  expect((await planBatch(rig.gharry, ids)).above).toBe(100)
  expect(await buyBatch(rig.gharry, ids, plan.total)).toMatchObject({
    ok: false,
    code: 'above-ceiling',
    sentence: expect.stringContaining('€1.00 above') as string,
  })
  expect(await buyBatch(rig.gharry, ids, plan.total, 'last day before the holidays')).toMatchObject({ ok: true })
  expect(await rig.gharry.db('order_log').where('sentence', 'like', '%last day before the holidays')).toHaveLength(3)
})

test.each([
  ['Europe/Brussels', '2026-11-20', '2026-11-20'],
  ['Pacific/Auckland', '2026-11-21', '2026-11-20'],
  ['America/New_York', '2026-11-20', '2026-11-19'],
])('the spending day is that of the first location: %s', async (timeZone, late, early) => {
  rig = await makeRig()
  await addWorld(
    rig.gharry.db,
    { ...demoWorld, locations: [{ ...demoWorld.locations[0]!, timeZone }, ...demoWorld.locations.slice(1)] },
    rig.gharry.now().toISOString(),
  )
  const dayAt = (now: string): Promise<string> => sellersDay({ now: () => new Date(now) }, rig.gharry.db)
  expect([await dayAt('2026-11-20T22:30:00Z'), await dayAt('2026-11-20T03:30:00Z')]).toEqual([late, early])
})
