import { layoutMonth, type MonthTable, wholeSheet } from '@/core/papers'
import { formatMoney, money } from '@/core/units'
import { usualSeller } from '@/core/world'
import { accountSums, pendingSum, type ReportDimension } from '@/data'
import { keepPages, type PrintFile } from '../dispatch/printBatch'
import type { Application } from '../shared/application'
import { currentWorld } from '../shared/changeWorld'
import { type ReportLine, showReport } from './report'

const names: readonly (readonly [by: ReportDimension, title: string])[] = [
  ['carrier', 'By carrier'],
  ['service', 'By service'],
  ['channel', 'By channel'],
  ['country', 'By country'],
  ['rule', 'By the rule that chose'],
]
const countries = new Intl.DisplayNames('en', { type: 'region' })
const countryOf = (code: string): string => (/^[A-Z]{2}$/.test(code) ? (countries.of(code) ?? code) : code)

/** Countries and services beyond the dearest are not read on paper. */
const mostRows = 24

/**
 * A month of the ledger as a PDF: what was spent, saved, paid by buyers and late, and what stands at the carriers. Null
 * when nothing was.
 */
export async function printMonth(gharry: Application, month: string): Promise<PrintFile | null> {
  const [year = 0, of = 0] = month.split('-').map(Number)
  const from = `${month}-01`
  const until = new Date(Date.UTC(year, of, 0)).toISOString().slice(0, 10)
  const { world } = await currentWorld(gharry.db)
  const { home } = world.rates
  const amount = (minor: number): string => formatMoney(money(Math.round(minor), home))
  const views = []
  for (const [by, title] of names) views.push({ title, view: await showReport(gharry, { by, from, until }) })
  const { total } = views[0]!.view
  if (total.spend === 0 && total.shipments === 0) return null
  const cells = (line: ReportLine): string[] => [
    line.name,
    String(line.shipments),
    (line.weight / 1000).toFixed(1),
    amount(line.spend),
    line.shipments === 0 ? '' : amount(line.spend / line.shipments),
    line.weight === 0 ? '' : amount((1000 * line.spend) / line.weight),
    amount(line.list - line.spendOfListed),
    amount(line.paid - line.spendOfPaid),
    line.arrived === 0 ? '' : `${((100 * line.late) / line.arrived).toFixed(1)} %`,
  ]
  const tables = views.map(({ title, view }): MonthTable => ({
    title,
    columns: ['', 'shipments', 'kg', 'spend', 'each', 'per kg', 'saved', 'kept', 'late'],
    rows: view.lines
      .slice(0, mostRows)
      .map((line) => cells(view.by === 'country' ? { ...line, name: countryOf(line.key) } : line)),
    total: cells(view.total),
  }))
  const besides = (line: ReportLine): string[] => [
    line.name,
    amount(line.returns),
    amount(line.corrected),
    amount(line.claimed),
  ]
  const { lines } = views[0]!.view
  if ([total, ...lines].some(({ returns, corrected, claimed }) => returns !== 0 || corrected !== 0 || claimed !== 0))
    tables.push({
      title: 'Returns, corrections of invoices, and claims granted',
      columns: ['', 'returns', 'corrections', 'claims granted'],
      rows: lines.map(besides),
      total: besides(total),
    })
  const balances = await accountSums(gharry.db)
  const sum = (carrier: string, account: string): number =>
    balances.find((row) => row.carrier === carrier && row.account === account)?.amount ?? 0
  const paper = wholeSheet((world.seller ?? usualSeller).paper)
  const pages = layoutMonth(
    {
      title: `Shipping in ${new Intl.DateTimeFormat('en-GB', { month: 'long', year: 'numeric', timeZone: 'UTC' }).format(new Date(`${from}T00:00:00Z`))}`,
      about: `${(world.seller ?? usualSeller).name}, ${from} to ${until}; made ${gharry.now().toISOString().slice(0, 10)}`,
      figures: [
        ['Spent', amount(total.spend)],
        ['Saved against list price', amount(total.list - total.spendOfListed)],
        ['Kept of what buyers paid', amount(total.paid - total.spendOfPaid)],
        ['Refunds pending', amount((await pendingSum(gharry.db)).amount)],
      ],
      tables: [
        ...tables,
        {
          title: 'At the carriers now',
          columns: ['', 'balance', 'refunds due'],
          rows: world.carriers.map(({ id, name }) => [
            name,
            amount(sum(id, 'balance')),
            amount(sum(id, 'refunds due')),
          ]),
        },
      ],
    },
    paper,
  )
  return keepPages(gharry, `Shipping in ${month}`, pages, paper)
}
