import type { TestView } from '@/usecases/intake/connections'

/** What a test has found is seen, however long the form is. */
const intoView = (found: HTMLElement | null): void => found?.scrollIntoView({ block: 'nearest' })

export function Tested({ tested }: { tested: TestView }) {
  return (
    <div role="status" ref={intoView} className={tested.works ? 'bg-done-soft p-2.5' : 'bg-lost-soft p-2.5'}>
      <p className={tested.works ? 'text-done' : 'text-lost'}>
        {tested.works ? '● ' : '◆ '}
        {tested.sentence}
      </p>
      {tested.orders.length > 0 && (
        <table className="mt-1 w-full text-small">
          <thead className="sr-only">
            <tr>
              <th>Order</th>
              <th>Buyer</th>
              <th>To</th>
            </tr>
          </thead>
          <tbody>
            {tested.orders.map((order) => (
              <tr key={order.number} className="border-t border-hair/60">
                <td className="py-0.5 pr-2 font-mono">{order.number}</td>
                <td className="pr-2">{order.buyer}</td>
                <td>{order.to}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  )
}
