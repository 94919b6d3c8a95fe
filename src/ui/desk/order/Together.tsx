'use client'
import { useState } from 'react'
import type { TogetherOrder } from '@/usecases/desk/combineOrders'
import type { DeskNames } from '@/usecases/desk/showDesk'
import type { OrderView } from '@/usecases/desk/showOrder'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { StateMark } from '../../kit/StateMark'
import { useSay } from '../../kit/Toast'
import { useChange } from '../../kit/useChange'

/** The shipment that an order goes in, the orders that a shipment is made of, and open orders that it could go with. */
export function Together({
  view,
  names,
  waiting,
  onOpen,
}: {
  view: OrderView
  names: DeskNames
  waiting: boolean
  onOpen: (order: number) => void
}) {
  const { within, members, others } = view.together
  const [left, setLeft] = useState<ReadonlySet<number>>(new Set())
  const say = useSay()
  const change = useChange(['order'], ['desk'])
  const open = (work: () => Promise<number>, done: string): Promise<boolean> =>
    change(work, (order) => {
      onOpen(order)
      say(done)
    })
  const chosen = others.filter(({ id }) => !left.has(id))
  const combine = (): Promise<boolean> =>
    open(
      async () =>
        (
          await call('POST /api/desk/orders/combine', {
            body: { groups: [[view.row.id, ...chosen.map(({ id }) => id)]] },
          })
        ).made[0]!.order,
      'They go as one shipment now; each channel is told of its own order',
    )
  const apart = (): Promise<boolean> =>
    open(async () => {
      await call('POST /api/desk/orders/:id/apart', { path: { id: String(view.row.id) }, body: {} })
      return members[0]!.id
    }, 'Each order is shipped separately again')
  const line = (order: TogetherOrder) => (
    <span className="flex min-w-0 flex-1 items-center gap-2">
      <button className="font-mono text-small text-act hover:underline" onClick={() => onOpen(order.id)}>
        {order.number}
      </button>
      <span className="truncate text-soft">
        {names.channels[order.channelId] ?? order.channelId}, {order.quantity}{' '}
        {order.quantity === 1 ? 'piece' : 'pieces'}
      </span>
      <span className="ml-auto">
        <StateMark state={order.state} />
      </span>
    </span>
  )
  if (!within && members.length === 0 && others.length === 0) return null
  return (
    <section className="mt-4" role="region" aria-label="Goes together">
      <h3 className="flex items-center border-b border-hair pb-1 text-small text-soft">
        {titleOf(within !== null, members.length)}
        {members.length > 0 && waiting && (
          <Button kind="quiet" className="ml-auto" onClick={() => apart()}>
            Take apart
          </Button>
        )}
      </h3>
      {within && <p className="flex py-1">{line(within)}</p>}
      {members.map((order) => (
        <p key={order.id} className="flex py-1">
          {line(order)}
        </p>
      ))}
      {others.map((order) => (
        <p key={order.id} className="flex items-center gap-2 py-1">
          <input
            type="checkbox"
            className="accent-(--act)"
            aria-label={`Combine with ${order.number}`}
            checked={!left.has(order.id)}
            onChange={() =>
              setLeft((before) => {
                const next = new Set(before)
                if (!next.delete(order.id)) next.add(order.id)
                return next
              })
            }
          />
          {line(order)}
        </p>
      ))}
      {others.length > 0 && (
        <Button className="mt-1" disabled={chosen.length === 0} onClick={() => combine()}>
          Send as one shipment
        </Button>
      )}
    </section>
  )
}

function titleOf(within: boolean, members: number): string {
  if (within) return 'Goes in one shipment with others'
  return members > 0 ? `One shipment of ${members} orders` : 'Same buyer and address'
}
