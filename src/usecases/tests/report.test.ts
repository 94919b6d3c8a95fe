import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { buffer } from 'node:stream/consumers'
import { accountSums, addLedger, book, fromJson, reportDimensions } from '@/data'
import type { Order } from '@/core/order'
import { voidMany } from '../dispatch/voidMany'
import { printMonth } from '../ledger/printMonth'
import { settleRefund } from '../ledger/refunds'
import { journalFile, reportFile, saveAccounts, showReport } from '../ledger/report'
import { askRuleCosts, showRuleCosts } from '../rules/ruleCosts'
import { sellersDay } from '../shared/sellersDay'
import { demoRulebook } from '../../../demo/rulebook'
import { buyReady, isPrinted, makeRig, type Rig, soundOrders } from './rig'

let rig: Rig
/** The seller's day, by the clocks of the first location. */
const today = (): Promise<string> => sellersDay(rig.gharry, rig.gharry.db)
beforeAll(async () => {
  rig = await makeRig()
  await buyReady(rig, soundOrders(30))
  const [first, second] = await rig.labels()
  await voidMany(rig.gharry, [first!.id, second!.id])
  await rig.workAll()
  // A part of one refund is not given: it was spent after all.
  await settleRefund(rig.gharry, { label: first!.id, granted: first!.charged! - 50, note: '' })
})
afterAll(() => rig.close())

/** A CSV without quotes in its cells, as rows by column. */
function rowsOf(csv: Buffer | null): Record<string, string>[] {
  const [head = '', ...lines] = csv!
    .toString('utf8')
    .replace(/^\uFEFF/, '')
    .trim()
    .split(/\r?\n/)
  const columns = head.split(',')
  return lines.map((line) => Object.fromEntries(line.split(',').map((cell, i) => [columns[i]!, cell])))
}

test('each report comes to what the labels say, counted one by one', async () => {
  const labels = await rig.labels()
  const kept = labels.filter(({ state }) => state === 'bought')
  const facts = new Map(
    ((await rig.gharry.db('order_facts')) as { orderId: number; facts: string }[]).map((row) => [
      row.orderId,
      fromJson<Order>(row.facts),
    ]),
  )
  const parcels = (await rig.gharry.db('label_parcels')) as { labelId: number; weight: number }[]
  const spend = kept.reduce((sum, { charged }) => sum + charged!, 0) + 50
  const weight = parcels
    .filter(({ labelId }) => kept.some(({ id }) => id === labelId))
    .reduce((sum, parcel) => sum + parcel.weight, 0)
  const paid = kept.reduce((sum, { orderId }) => sum + facts.get(orderId)!.shippingPaid.minor, 0)
  for (const by of reportDimensions) {
    const { total, lines } = await showReport(rig.gharry, { by })
    expect([by, total.spend, total.shipments, total.weight, total.paid]).toEqual([by, spend, kept.length, weight, paid])
    expect(total.list).toBeGreaterThanOrEqual(total.spendOfListed)
    expect(lines.length).toBeGreaterThan(0)
    expect(lines.every(({ name }) => name !== '')).toBe(true)
  }
  const { lines } = await showReport(rig.gharry, { by: 'service' })
  for (const { key, shipments } of lines) expect(shipments).toBe(kept.filter(({ service }) => service === key).length)
  // The rule that chose is the trail's own.
  const byRule = await showReport(rig.gharry, { by: 'rule' })
  const outcomes = (await rig.gharry.db('decisions')) as { orderId: number; outcome: string }[]
  for (const { key, shipments } of byRule.lines)
    expect(shipments).toBe(
      kept.filter(({ orderId }) => {
        const { trail } = fromJson<{
          trail: { decisions: { decision: string; by: { kind: string; rule?: string } }[] }
        }>(outcomes.find((row) => row.orderId === orderId)!.outcome)
        return (trail.decisions.find(({ decision }) => decision === 'picks')?.by.rule ?? '') === key
      }).length,
    )
})

test('returns, corrections and what is of no shipment are told apart, and all together is what the books say shipping cost', async () => {
  const { db } = rig.gharry
  const [, , third, fourth] = await rig.labels()
  const day = await today()
  const at = rig.gharry.now().toISOString()
  const { carrier, service, zone } = third!
  await addLedger(db, [
    { labelId: third!.id, kind: 'return 1', at, day, carrier, service, zone: zone ?? '', amount: 430 },
  ])
  const booking = { ...{ at, day, carrier, author: 'test', note: '' }, debit: 'shipping', credit: 'balance' } as const
  await book(db, [
    { ...booking, key: 'invoice-more', kind: 'correction', amount: 75, labelId: third!.id },
    {
      ...booking,
      key: 'invoice-less',
      kind: 'correction',
      amount: 20,
      labelId: fourth!.id,
      debit: 'balance',
      credit: 'shipping',
    },
    { ...booking, key: 'invoice-unknown', kind: 'correction', amount: 611, labelId: null },
    { ...booking, key: 'collection', kind: 'collection', amount: 1850, labelId: null },
  ])
  const shipping = (await accountSums(db)).filter(({ account }) => account === 'shipping')
  const booked = shipping.reduce((sum, { amount }) => sum + amount, 0)
  for (const by of reportDimensions) {
    const { total, besides } = await showReport(rig.gharry, { by })
    expect([by, total.returns, total.corrected, besides]).toEqual([by, 430, 55, 2461])
    expect([by, total.spend + total.corrected + besides]).toEqual([by, booked])
  }
  const { lines } = await showReport(rig.gharry, { by: 'carrier' })
  expect(lines.find(({ key }) => key === carrier)).toMatchObject({ returns: 430 })
  const folder = mkdtempSync(join(tmpdir(), 'gharry-report-'))
  const paper = join(folder, 'month.pdf')
  writeFileSync(paper, await buffer(isPrinted(await printMonth(rig.gharry, (await today()).slice(0, 7))).content))
  const read = execFileSync('pdftotext', ['-layout', paper, '-'], { encoding: 'utf8' })
  expect(read).toMatch(/Returns, corrections of invoices, and claims granted/)
  expect(read).toMatch(/All\s+€4\.30\s+€0\.55\s+€0\.00/)
  rmSync(folder, { recursive: true })
  const days = await showReport(rig.gharry, { by: 'week', from: '2020-01-01', until: '2020-01-31' })
  expect([days.lines, days.besides]).toEqual([[], 0])
})

test('each night every rule is held against the rulebook without it; the same day not twice', async () => {
  expect(await showRuleCosts(rig.gharry)).toEqual({ costs: null })
  // The clock of this world has been put forward by more than a month.
  await rig.gharry.db('orders').update({ placedAt: rig.gharry.now().toISOString() })
  await askRuleCosts(rig.gharry)
  await askRuleCosts({ ...rig.gharry })
  await rig.workAll()
  const { costs } = await showRuleCosts(rig.gharry)
  const { rules } = demoRulebook
  expect(costs).toMatchObject({ edition: 1, orders: 30, available: 30 })
  expect(costs!.rules.map(({ rule }) => rule).sort()).toEqual(
    rules
      .filter(({ on }) => on)
      .map(({ id }) => id)
      .sort(),
  )
  expect(costs!.rules.some(({ changed }) => changed > 0)).toBe(true)
  const jobs = (await rig.gharry.db('jobs').where({ kind: 'rule costs' })) as { key: string; state: string }[]
  expect(jobs.map(({ state }) => state)).toEqual(['done'])
})

test('days without anything come to nothing, and their files are none', async () => {
  const days = { from: '2020-01-01', until: '2020-01-31' }
  expect(await showReport(rig.gharry, { by: 'carrier', ...days })).toMatchObject({ lines: [], total: { spend: 0 } })
  expect(await reportFile(rig.gharry, { by: 'carrier', ...days }, 'csv')).toBeNull()
  expect(await journalFile(rig.gharry, days, 'csv')).toBeNull()
  expect(await printMonth(rig.gharry, '2020-01')).toBeNull()
})

test('the file of a report has its sums, and opens as a spreadsheet', async () => {
  const { total } = await showReport(rig.gharry, { by: 'carrier' })
  const rows = rowsOf(await reportFile(rig.gharry, { by: 'carrier' }, 'csv'))
  expect(rows.at(-1)).toMatchObject({ carrier: 'All', spend: (total.spend / 100).toFixed(2), currency: 'EUR' })
  const sum = rows.slice(0, -1).reduce((all, { spend }) => all + Number(spend), 0)
  expect(sum.toFixed(2)).toBe((total.spend / 100).toFixed(2))
  const folder = mkdtempSync(join(tmpdir(), 'gharry-report-'))
  writeFileSync(join(folder, 'spend.xlsx'), (await reportFile(rig.gharry, { by: 'carrier' }, 'xlsx'))!)
  // Another program unpacks it: the sheet is where the standard says.
  expect(execFileSync('sh', ['-c', `cd ${folder} && python3 -m zipfile -l spend.xlsx`]).toString()).toContain(
    'sheet1.xml',
  )
  rmSync(folder, { recursive: true })
})

test('journal lines name the accounts of one’s own plan, and each account comes to what the books say', async () => {
  const accounts = { balance: '4400', 'refunds due': '4160', shipping: '6240', bank: '5500' }
  expect(await saveAccounts(rig.gharry, { version: 0, accounts: { ...accounts, bank: ' ' } })).toMatchObject({
    ...{ ok: false, sentence: 'The account of bank is missing.' },
  })
  expect(await saveAccounts(rig.gharry, { version: 0, accounts })).toMatchObject({ ok: true })
  expect(await saveAccounts(rig.gharry, { version: 0, accounts })).toMatchObject({ ok: false, code: 'world-changed' })
  const rows = rowsOf(await journalFile(rig.gharry, { from: '2020-01-01', until: await today() }, 'csv'))
  const sums: Record<string, number> = {}
  for (const row of rows) {
    const cents = Math.round(Number(row.amount) * 100)
    sums[row['debit account']!] = (sums[row['debit account']!] ?? 0) + cents
    sums[row['credit account']!] = (sums[row['credit account']!] ?? 0) - cents
  }
  const books: Record<string, number> = {}
  for (const { account, amount } of await accountSums(rig.gharry.db))
    books[accounts[account]] = (books[accounts[account]] ?? 0) + amount
  expect(sums).toEqual(books)
  expect(Object.values(sums).reduce((sum, amount) => sum + amount, 0)).toBe(0)
})

test('a month is a paper that another program reads, with its sums', async () => {
  const { total } = await showReport(rig.gharry, {
    by: 'carrier',
    from: `${(await today()).slice(0, 7)}-01`,
    until: await today(),
  })
  const file = isPrinted(await printMonth(rig.gharry, (await today()).slice(0, 7)))
  const folder = mkdtempSync(join(tmpdir(), 'gharry-month-'))
  writeFileSync(join(folder, 'month.pdf'), await buffer(file.content))
  const text = execFileSync('pdftotext', ['-layout', join(folder, 'month.pdf'), '-']).toString()
  rmSync(folder, { recursive: true })
  expect(text).toContain(`€${(total.spend / 100).toFixed(2)}`)
  for (const title of ['By carrier', 'By service', 'By channel', 'By country', 'At the carriers now'])
    expect(text).toContain(title)
  expect(text).toContain('Heron Parcel')
})
