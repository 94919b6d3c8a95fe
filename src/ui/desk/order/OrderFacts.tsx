'use client'
import { home } from '../../kit/locale'
import type { ReactNode } from 'react'
import type { Item } from '@/core/order'
import type { OrderView } from '@/usecases/desk/showOrder'
import { homeMoney, moneyText, shortDay, weightText } from '../../kit/format'
import { Section } from './Section'

/** Who bought, what was promised, and what it is worth. */
export function OrderFacts({ view }: { view: OrderView }) {
  const { order, row } = view
  return (
    <Section title="Facts">
      <Facts
        rows={[
          [
            'Buyer',
            [order.buyer.name, order.buyer.email, order.buyer.phone, order.buyer.returning ? 'returning' : 'new']
              .filter(Boolean)
              .join(', '),
          ],
          ['Checkout wording', order.wording ? `“${order.wording}”` : 'none'],
          ['Promised by', shortDay(order.promisedBy)],
          ['Value', `${moneyText(order.value)}${order.value.currency === home() ? '' : ` = ${homeMoney(row.value)}`}`],
          ['Shipping paid', moneyText(order.shippingPaid)],
          ...(view.duties
            ? [
                [
                  'Customs',
                  `${view.duties.incoterm}, ${view.duties.incoterm === 'DDP' ? 'we pay' : 'the buyer pays'} ${view.duties.estimate ? `about ${homeMoney(view.duties.estimate.duty)} duty and ${homeMoney(view.duties.estimate.tax)} tax` : 'duty and tax (no rates are known for this country)'}`,
                ] as [string, string],
              ]
            : []),
          ['Payment', order.paymentMethod],
        ]}
      />
    </Section>
  )
}

/** The order lines. */
export function Items({ items }: { items: readonly Item[] }) {
  return (
    <Section title="Items">
      <table className="w-full">
        <tbody>
          {items.map((item) => (
            <tr key={item.line} className="border-b border-hair/60 align-top">
              <td className="w-8 py-1 text-right font-semibold">{item.quantity} ×</td>
              <td className="px-2 py-1">
                {item.title || item.sku}
                <span className="block font-mono text-small text-soft">
                  {item.sku}
                  {item.dangerousGoods && ` · ${item.dangerousGoods}`}
                  {item.tags.length > 0 && ` · ${item.tags.join(', ')}`}
                </span>
              </td>
              <td className="py-1 text-right">
                {item.unitWeight === null ? <span className="text-lost">no weight</span> : weightText(item.unitWeight)}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Section>
  )
}

function Facts({ rows }: { rows: readonly (readonly [string, ReactNode])[] }) {
  return (
    <dl className="grid grid-cols-[7.5rem_1fr] gap-y-0.5">
      {rows.map(([name, value]) => (
        <div key={name} className="contents">
          <dt className="text-soft">{name}</dt>
          <dd className="break-words">{value}</dd>
        </div>
      ))}
    </dl>
  )
}
