'use client'
import type { LocationOrder } from '@/usecases/people/locationOrders'
import { Button } from '../kit/Button'
import { countryName } from '../kit/countryName'
import { count, shortDay, weightText } from '../kit/format'
import { Select, TextInput } from '../kit/Field'
import { Plain } from '../kit/Screen'
import { PersonMenu } from './PersonMenu'

const states = [
  ['', 'All'],
  ['ready', 'Ready'],
  ['labelled', 'Labelled'],
  ['dispatched', 'Dispatched'],
] as const

/** The orders of one location. Search and state are a form of the page's own: the address brings them back. */
export function LocationOrders({
  asked,
  view,
}: {
  asked: { readonly q: string; readonly state: string }
  view: { readonly location: string; readonly total: number; readonly orders: readonly LocationOrder[] }
}) {
  return (
    <div className="flex h-dvh flex-col bg-paper">
      <header className="flex flex-wrap items-center gap-4 border-b border-hair bg-sheet px-5 py-2">
        <span className="text-lead font-bold tracking-tight text-act">Gharry</span>
        <h1 className="text-title">{view.location || 'No location'}</h1>
        <form className="ml-auto flex flex-wrap items-center gap-3" action="/orders" role="search">
          <TextInput
            type="search"
            name="q"
            defaultValue={asked.q}
            aria-label="Search these orders"
            placeholder="Number, name, place …"
            className="w-60"
          />
          <Select name="state" defaultValue={asked.state} aria-label="State">
            {states.map(([id, name]) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </Select>
          <Button type="submit">Find</Button>
        </form>
        <PersonMenu />
      </header>
      <main id="main" className="min-h-0 flex-1 overflow-auto px-5 pb-4" tabIndex={0}>
        {view.orders.length === 0 ? (
          <Plain title="No such orders here">
            {view.location ? 'Look for something else, or at all of them.' : 'The owner says which location is yours.'}
          </Plain>
        ) : (
          <table className="w-full bg-sheet">
            <caption className="py-2 text-left text-soft">
              {count(view.total)} {view.total === 1 ? 'order' : 'orders'}
              {view.total > view.orders.length && `; the youngest ${count(view.orders.length)} are shown`}
            </caption>
            <thead>
              <tr className="border-y border-hair text-small text-soft">
                <th className="px-3 py-1.5 text-left">Order</th>
                <th className="text-left">State</th>
                <th className="text-left">Placed</th>
                <th className="text-left">Promised</th>
                <th className="text-left">To</th>
                <th className="px-3 text-right">Items</th>
                <th className="px-3 text-right">Weight</th>
                <th className="text-left">Service</th>
              </tr>
            </thead>
            <tbody>
              {view.orders.map((order) => (
                <tr key={order.id} className="border-b border-hair/70">
                  <td className="px-3 py-1.5 font-mono text-small">{order.number}</td>
                  <td>{order.state === 'attention' ? 'needs attention' : order.state}</td>
                  <td>{shortDay(order.placedAt)}</td>
                  <td>{order.promisedBy ? shortDay(order.promisedBy) : '–'}</td>
                  <td>
                    {order.buyer}, {order.city}, {countryName(order.country)}
                  </td>
                  <td className="px-3 text-right">{count(order.quantity)}</td>
                  <td className="px-3 text-right">{order.weight === null ? '–' : weightText(order.weight)}</td>
                  <td>{order.service || '–'}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </main>
    </div>
  )
}
