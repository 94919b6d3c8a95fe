'use client'
import { homeSign } from '../../kit/locale'
import type { DeskNames } from '@/usecases/desk/showDesk'
import type { OrderView } from '@/usecases/desk/showOrder'
import { amount, homeMoney, moneyText, shortDay, toneOfCost, weightText, inUnits } from '../../kit/format'
import { Section } from './Section'

/** What each service would cost and when it would arrive, beside what the buyer paid; and why others cannot. */
export function Quotes({ view, names }: { view: OrderView; names: DeskNames }) {
  if (view.quotes.length + view.refusals.length === 0) return null
  const chosen = view.quotes.find((quote) => quote.service === view.chosen)
  return (
    <Section title="Services for this parcel">
      <p className="pb-1">
        The buyer chose {view.order.wording ? <b>“{view.order.wording}”</b> : 'nothing'} and paid{' '}
        <b>{moneyText(view.order.shippingPaid)}</b> for shipping
        {chosen && view.shippingPaid !== null && <Margin paid={view.shippingPaid} cost={chosen.cost} />}.
      </p>
      <table className="w-full">
        <thead className="sr-only">
          <tr>
            <th>Service</th>
            <th>Arrives</th>
            <th>Cost {homeSign()}</th>
          </tr>
        </thead>
        <tbody>
          {view.quotes.map((quote) => (
            <tr
              key={quote.service}
              className={`border-b border-hair/60 ${quote.service === view.chosen ? 'bg-done-soft font-semibold' : ''}`}
            >
              <td className="py-1 pl-1">
                {quote.service === view.chosen ? '● ' : ''}
                {names.services[quote.service] ?? quote.service}
                <span className="block text-small font-normal text-soft">
                  {quote.lines.map((line) => `${line.what} ${amount(line.minor)}`).join(' + ')}, zone {quote.zone},{' '}
                  {weightText(quote.billable)}
                </span>
              </td>
              <td className="py-1 text-right whitespace-nowrap">{shortDay(quote.arrivesOn)}</td>
              <td className="w-20 py-1 pr-1 text-right">{homeMoney(quote.cost)}</td>
            </tr>
          ))}
          {view.refusals.map((refusal) => (
            <tr key={refusal.service} className="border-b border-hair/60 text-soft">
              <td className="py-1 pl-1" colSpan={3}>
                {names.services[refusal.service] ?? refusal.service} {inUnits(refusal.sentence)}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Section>
  )
}

/** What the label costs beside what the buyer paid for it. */
function Margin({ paid, cost }: { paid: number; cost: number }) {
  if (paid === cost) return <>, as much as the label costs</>
  return (
    <>
      ,{' '}
      <span className={toneOfCost(cost - paid)}>
        {homeMoney(Math.abs(cost - paid))} {cost > paid ? 'less' : 'more'}
      </span>{' '}
      than the label costs
    </>
  )
}
