import { demoWorld } from '../../../demo/world'
import { accountSums, type RefundRow } from '@/data'
import { lookAtInvoice, takeInvoice, takeInvoiceBack } from '../ledger/invoices'
import { askForRefunds, markAsked, refundFile, settleRefund, showRefunds } from '../ledger/refunds'
import { showLedger } from '../ledger/showLedger'
import { voidMany } from '../dispatch/voidMany'
import { buyReady, makeRig, type Rig, soundOrders } from './rig'

let rig: Rig
beforeEach(async () => {
  rig = await makeRig()
  await buyReady(rig, soundOrders(8))
})
afterEach(() => rig.close())

const heron = async () => (await rig.labels()).filter(({ carrier, state }) => carrier === 'heron' && state === 'bought')
const refunds = (): Promise<RefundRow[]> => rig.gharry.db('refunds').orderBy('label_id')
const sum = async (account: string, carrier = 'heron'): Promise<number> =>
  (await accountSums(rig.gharry.db)).find((one) => one.carrier === carrier && one.account === account)?.amount ?? 0
const spend = async (): Promise<number> => (await showLedger(rig.gharry, {})).spend
/** Voids some labels of Heron; gives them. */
async function voided(n: number) {
  const labels = (await heron()).slice(0, n)
  expect(
    await voidMany(
      rig.gharry,
      labels.map(({ id }) => id),
    ),
  ).toMatchObject({ ok: true, asked: n })
  await rig.workAll()
  return labels
}
/** Days go by, here and at the carriers. */
async function days(n: number): Promise<void> {
  rig.put(n * 24 * 60)
  for (const carrier of rig.carrierUrls.keys()) await rig.ask(carrier, '/admin/clock', { days: n })
}

test('a refund is pending until its day, is asked for then, and is booked once when it is granted', async () => {
  const [label] = await voided(1)
  expect(await refunds()).toMatchObject([{ labelId: label!.id, amount: label!.charged, state: 'pending', asked: 0 }])
  expect(await sum('refunds due')).toBe(label!.charged)
  await days(2)
  await askForRefunds(rig.gharry)
  expect(await refunds()).toMatchObject([{ state: 'pending', asked: 0 }])
  await days(13)
  const before = await sum('balance')
  await askForRefunds(rig.gharry)
  await askForRefunds(rig.gharry)
  expect(await refunds()).toMatchObject([{ state: 'granted', granted: label!.charged }])
  expect(await sum('refunds due')).toBe(0)
  expect((await sum('balance')) - before).toBe(label!.charged)
  expect((await showRefunds(rig.gharry, { settled: false })).refunds).toEqual([])
})

test('a carrier that is slower than promised is asked again, and one that does not answer is not written down as asked', async () => {
  await rig.close()
  const carriers = demoWorld.carriers.map((one) => (one.id === 'heron' ? { ...one, refundDays: 1 } : one))
  rig = await makeRig({ world: { ...demoWorld, carriers } })
  await buyReady(rig, soundOrders(3))
  await voided(1)
  await days(3)
  await rig.faults('heron', { serverError: 1 })
  await askForRefunds(rig.gharry)
  expect(await refunds()).toMatchObject([{ asked: 0 }])
  await rig.faults('heron', { serverError: 0 })
  await askForRefunds(rig.gharry)
  expect(await refunds()).toMatchObject([{ state: 'pending', asked: 1, note: 'Refunds take 7 days.' }])
  await askForRefunds(rig.gharry)
  expect(await refunds()).toMatchObject([{ asked: 1 }])
  await days(6)
  await askForRefunds(rig.gharry)
  expect(await refunds()).toMatchObject([{ state: 'granted' }])
})

test('what a carrier refuses is said, and waits for a person', async () => {
  const [label] = await voided(1)
  // The carrier has lost it meanwhile.
  await rig.gharry.db('labels').where({ id: label!.id }).update({ trackingNumber: '00354900010000099993' })
  await days(15)
  await askForRefunds(rig.gharry)
  expect(await refunds()).toMatchObject([
    { state: 'pending', asked: 1, note: 'There is no such label.', nextAsk: null },
  ])
})

test('a part that is granted is booked, the rest is spend; more than the label cost is refused, and so is twice', async () => {
  const [first, second] = await voided(2)
  const before = await spend()
  const part = first!.charged! - 100
  expect(await settleRefund(rig.gharry, { label: first!.id, granted: first!.charged! + 1, note: '' })).toMatchObject({
    ok: false,
    code: 'bad-amount',
  })
  expect(await settleRefund(rig.gharry, { label: first!.id, granted: part, note: 'fee kept' })).toMatchObject({
    ok: true,
  })
  expect(await settleRefund(rig.gharry, { label: first!.id, granted: part, note: '' })).toMatchObject({
    ok: false,
    code: 'taken',
  })
  expect(await settleRefund(rig.gharry, { label: second!.id, granted: 0, note: 'too late' })).toMatchObject({
    ok: true,
  })
  expect(await refunds()).toMatchObject([
    { state: 'granted', granted: part },
    { state: 'refused', granted: 0, note: 'too late' },
  ])
  expect(await sum('refunds due')).toBe(0)
  expect((await spend()) - before).toBe(100 + second!.charged!)
  expect(await settleRefund(rig.gharry, { label: 9999, granted: 0, note: '' })).toMatchObject({
    ok: false,
    code: 'missing',
  })
})

test('an invoice that grants a refund settles it, and taken back it is pending again; one that was granted before is not booked twice', async () => {
  const [first, second] = await voided(2)
  const line = (label: typeof first): string => `${label!.trackingNumber},-${(label!.charged! / 100).toFixed(2)}`
  const content = Buffer.from(`tracking number,amount\n${line(first)}\n${line(second)}\n`)
  await settleRefund(rig.gharry, { label: second!.id, granted: second!.charged!, note: 'by telephone' })
  const balance = await sum('balance')
  expect(await lookAtInvoice(rig.gharry, 'heron', content)).toMatchObject({ ok: true, problems: [] })
  expect(await takeInvoice(rig.gharry, 'heron', 'R-1', content)).toMatchObject({ ok: true })
  expect((await sum('balance')) - balance).toBe(first!.charged)
  expect(await sum('refunds due')).toBe(0)
  expect((await refunds()).map(({ state }) => state)).toEqual(['granted', 'granted'])
  const { id } = (await rig.gharry.db('carrier_invoices').first()) as { id: number }
  expect(await takeInvoiceBack(rig.gharry, id)).toMatchObject({ ok: true })
  expect((await refunds()).map(({ state }) => state)).toEqual(['pending', 'granted'])
  expect(await sum('refunds due')).toBe(first!.charged)
})

test('the file for a carrier holds what is due alone, and what was asked for is due again some days later', async () => {
  const [first, second] = await voided(2)
  await rig.gharry.db('refunds').where({ label_id: first!.id }).update({ due_on: '2026-01-01' })
  const csv = (await refundFile(rig.gharry, 'heron', 'csv'))!.toString()
  expect(csv).toContain(first!.trackingNumber!)
  expect(csv).toContain((first!.charged! / 100).toFixed(2))
  expect(csv).not.toContain(second!.trackingNumber!)
  expect(await refundFile(rig.gharry, 'corvid', 'csv')).toBeNull()
  const { ages } = await showRefunds(rig.gharry, { settled: false })
  expect(ages).toMatchObject([
    { carrier: 'heron', n: 2, due: first!.charged, amount: first!.charged! + second!.charged! },
  ])
  expect(await markAsked(rig.gharry, [first!.id])).toMatchObject({ ok: true, asked: 1 })
  expect(await refundFile(rig.gharry, 'heron', 'csv')).toBeNull()
})

test('labels that no carrier has scanned are offered, the dearest first; one that was scanned is not', async () => {
  const labels = await heron()
  expect((await showRefunds(rig.gharry, { settled: false })).unseen).toEqual([])
  await rig.gharry.db('labels').update({ shipOn: '2026-11-01' })
  await rig.gharry.db('labels').where({ id: labels[0]!.id }).update({ status: 'collected' })
  const { unseen } = await showRefunds(rig.gharry, { settled: false })
  expect(unseen.map(({ labelId }) => labelId)).not.toContain(labels[0]!.id)
  expect(unseen.map(({ charged }) => charged)).toEqual([...unseen.map(({ charged }) => charged)].sort((a, b) => b - a))
  const asked = await voidMany(rig.gharry, [labels[0]!.id, unseen[0]!.labelId])
  expect(asked).toMatchObject({
    asked: 1,
    refused: [{ label: labels[0]!.id, sentence: expect.stringContaining('on its way') as unknown }],
  })
})
