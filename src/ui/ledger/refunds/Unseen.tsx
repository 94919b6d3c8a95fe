'use client'
import { useState } from 'react'
import type { DeskNames } from '@/usecases/desk/showDesk'
import type { RefundsView } from '@/usecases/ledger/refunds'
import { Button } from '../../kit/Button'
import { Confirm } from '../../kit/Confirm'
import { TextInput } from '../../kit/Field'
import { count, homeMoney, shortDay } from '../../kit/format'
import { OrderLink } from '../../kit/OrderLink'
import { Tick } from '../../kit/Tick'
import { useVoidMany } from '../../dispatch/useVoidMany'

/** Labels that no carrier has scanned for days: likely never used, with the money that can still come back. */
export function Unseen({
  view,
  names,
  onDays,
}: {
  view: RefundsView
  names: DeskNames
  onDays: (days: number) => void
}) {
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set())
  const [asking, setAsking] = useState(false)
  const voidMany = useVoidMany(['refunds'], ['line'])
  const picked = view.unseen.filter(({ labelId }) => chosen.has(labelId))
  const sum = (of: RefundsView['unseen']): number => of.reduce((total, { charged }) => total + charged, 0)
  const pick = (id: number, on: boolean): void =>
    setChosen((before) => {
      const next = new Set(before)
      if (on) next.add(id)
      else next.delete(id)
      return next
    })
  const voidThem = async (): Promise<void> => {
    if (await voidMany(picked.map(({ labelId }) => labelId))) setChosen(new Set())
    setAsking(false)
  }
  return (
    <section aria-label="Never scanned" className="mt-6">
      <div className="mb-1 flex flex-wrap items-center gap-x-3 gap-y-1">
        <h2 className="text-lead">Never scanned by their carrier</h2>
        <label className="flex items-center gap-1.5 text-soft">
          for
          <TextInput
            type="number"
            min={0}
            max={120}
            className="w-16"
            value={view.unseenDays}
            onChange={(event) => {
              const days = Number(event.target.value)
              if (Number.isInteger(days) && days >= 0 && days <= 120) onDays(days)
            }}
          />
          days and more
        </label>
        {view.unseen.length > 0 && (
          <span className="text-soft">
            {count(view.unseen.length)} {view.unseen.length === 1 ? 'label' : 'labels'}, {homeMoney(sum(view.unseen))}{' '}
            at stake
          </span>
        )}
        <Button kind="danger" className="ml-auto" disabled={picked.length === 0} onClick={() => setAsking(true)}>
          {picked.length === 0
            ? 'Void what is ticked …'
            : `Void ${count(picked.length)}, ${homeMoney(sum(picked))} back …`}
        </Button>
      </div>
      {view.unseen.length === 0 ? (
        <p className="border-y border-hair py-3 text-soft">
          Every label that was to leave {view.unseenDays} days ago or before was scanned.
        </p>
      ) : (
        <table className="w-full bg-sheet">
          <thead>
            <tr className="border-y border-hair text-small text-soft">
              <th className="px-3 py-1.5">Order</th>
              <th>Tracking number</th>
              <th>Carrier</th>
              <th>Service</th>
              <th>To leave on</th>
              <th>Handed over</th>
              <th className="pr-3 text-right">Paid</th>
            </tr>
          </thead>
          <tbody>
            {view.unseen.map((line) => (
              <tr key={line.labelId} className="border-b border-hair/70 hover:bg-tint">
                <td className="flex items-center gap-2 px-3 py-1">
                  <Tick
                    label=""
                    name={`Void the label of ${line.number}`}
                    on={chosen.has(line.labelId)}
                    onChange={(on) => pick(line.labelId, on)}
                  />
                  <OrderLink id={line.orderId} number={line.number} />
                </td>
                <td className="font-mono text-small">{line.trackingNumber}</td>
                <td>{names.carriers[line.carrier] ?? line.carrier}</td>
                <td>{names.services[line.service] ?? line.service}</td>
                <td className="whitespace-nowrap">{shortDay(line.shipOn)}</td>
                <td className="whitespace-nowrap">
                  {line.dispatchedAt ? shortDay(line.dispatchedAt) : <span className="text-wait">△ never</span>}
                </td>
                <td className="pr-3 text-right">{homeMoney(line.charged)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <Confirm
        open={asking}
        danger
        title={`Void ${count(picked.length)} ${picked.length === 1 ? 'label' : 'labels'}?`}
        action={`Void, ${homeMoney(sum(picked))} back`}
        onClose={() => setAsking(false)}
        onConfirm={voidThem}
      >
        The orders return to the Desk; {homeMoney(sum(picked))} stand as refunds until the carriers grant them. A label
        whose parcel is on its way after all is not taken back.
      </Confirm>
    </section>
  )
}
