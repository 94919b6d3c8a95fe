import type { LeftOut } from '@/usecases/desk/manyEdit'
import { orderCount } from '../../kit/format'

/** The orders that nothing is done for, by why. */
export function LeftOutOrders({ left, said }: { left: readonly LeftOut[]; said: string }) {
  return left.map(({ why, count: n, numbers }) => (
    <p key={why} className="mt-1.5 text-wait">
      △ {orderCount(n)} ({numbers.join(', ')}
      {n > numbers.length && ' …'}) {said}. {why}
    </p>
  ))
}
