'use client'
import { useQuery } from '@tanstack/react-query'
import type { AnswerOf } from '@/usecases/endpoints'
import { call } from '../kit/api'
import { count } from '../kit/format'
import { When } from '../kit/When'
import { SetupSheet } from '../setup/SetupSheet'
import { BuyerAsks } from './BuyerAsks'
import { LifeOfData } from './LifeOfData'

export type PrivacyView = AnswerOf<'GET /api/setup/privacy'>

/** How long the books say whose an order was; what a buyer asks for; and what was taken out. */
export function Privacy({ initial }: { initial: PrivacyView }) {
  const { data } = useQuery({
    queryKey: ['privacy'],
    queryFn: () => call('GET /api/setup/privacy'),
    initialData: initial,
  })
  return (
    <SetupSheet at="privacy" about="Buyers’ personal data" label="Privacy">
      <div className="grid gap-x-10 gap-y-6 min-[1000px]:grid-cols-2">
        <LifeOfData view={data} />
        <BuyerAsks />
      </div>
      <Receipts view={data} />
    </SetupSheet>
  )
}

function Receipts({ view }: { view: PrivacyView }) {
  return (
    <section aria-label="Receipts" className="mt-8">
      <h2 className="text-lead font-semibold">What was taken out</h2>
      {view.receipts.length === 0 ? (
        <p className="mt-1 text-soft">Nothing yet.</p>
      ) : (
        <table className="mt-2 w-full bg-sheet">
          <thead>
            <tr className="border-b border-hair text-small text-soft">
              <th className="px-3 py-1.5 text-right">Receipt</th>
              <th className="text-left">When</th>
              <th className="px-3 text-left">Why</th>
              <th className="px-3 text-right">Orders</th>
              <th className="px-3 text-left">With them</th>
            </tr>
          </thead>
          <tbody>
            {view.receipts.map(({ id, at, author, why, orders, takenOut }) => (
              <tr key={id} className="border-b border-hair/70">
                <td className="px-3 py-1 text-right">{count(id)}</td>
                <td>
                  <When at={at} />
                </td>
                <td className="px-3">{why === 'asked' ? `A buyer asked; ${author}` : 'Their days were over'}</td>
                <td className="px-3 text-right">{count(orders)}</td>
                <td className="px-3 text-soft">
                  {Object.entries(takenOut)
                    .filter(([what]) => what !== 'orders')
                    .map(([what, n]) => `${count(n)} ${what}`)
                    .join(', ') || '–'}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  )
}
