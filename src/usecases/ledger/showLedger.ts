import { ledgerTotals, pendingSum, spendBy, spendByCountry, spendByDayAndCarrier, type Spend } from '@/data'
import type { Application } from '../shared/application'

export interface LedgerView {
  readonly from: string
  readonly until: string
  readonly totals: Awaited<ReturnType<typeof ledgerTotals>>
  readonly spend: number
  readonly labels: number
  readonly byCarrier: readonly Spend[]
  readonly byService: readonly Spend[]
  readonly byZone: readonly Spend[]
  readonly byCountry: readonly Spend[]
  readonly byDay: readonly { readonly day: string; readonly carrier: string; readonly amount: number }[]
  /** What carriers owe for labels that were voided. */
  readonly pending: number
}

/** What was spent, net of refunds, in a range of days; without a range, the last 30 days there are entries for. */
export async function showLedger(gharry: Application, range: { from?: string; until?: string }): Promise<LedgerView> {
  const { db } = gharry
  const totals = await ledgerTotals(db)
  const until = range.until ?? totals.lastDay ?? gharry.now().toISOString().slice(0, 10)
  const from = range.from ?? new Date(Date.parse(until) - 29 * 86_400_000).toISOString().slice(0, 10)
  const byCarrier = await spendBy(db, 'carrier', from, until)
  return {
    from,
    until,
    totals,
    spend: byCarrier.reduce((sum, row) => sum + Number(row.amount), 0),
    labels: byCarrier.reduce((sum, row) => sum + Number(row.labels), 0),
    byCarrier,
    byService: await spendBy(db, 'service', from, until),
    byZone: await spendBy(db, 'zone', from, until),
    byCountry: await spendByCountry(db, from, until),
    byDay: await spendByDayAndCarrier(db, from, until),
    pending: (await pendingSum(db)).amount,
  }
}
