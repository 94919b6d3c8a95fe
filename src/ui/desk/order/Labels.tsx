'use client'
import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import type { DeskNames } from '@/usecases/desk/showDesk'
import type { OrderView } from '@/usecases/desk/showOrder'
import { PrintButton } from '../../dispatch/PrintButton'
import { usePrintProfile } from '../../dispatch/printProfile'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Confirm } from '../../kit/Confirm'
import { homeMoney } from '../../kit/format'
import { StateMark } from '../../kit/StateMark'
import { useChange } from '../../kit/useChange'
import { Section } from './Section'

/** The labels of an order: printed, voided, with their parcels. */
export function Labels({ view, names }: { view: OrderView; names: DeskNames }) {
  const [asking, setAsking] = useState<number | null>(null)
  const print = usePrintProfile()
  const client = useQueryClient()
  const change = useChange(['order', view.row.id])
  if (view.labels.length === 0) return null
  const label = view.labels.find((candidate) => candidate.id === asking)
  const voidIt = async (): Promise<void> => {
    await change(
      () => call('POST /api/dispatch/labels/:id/void', { path: { id: String(asking) }, body: {} }),
      label?.own ? 'The number is taken back' : 'The carrier is asked to void the label',
    )
    setAsking(null)
  }
  return (
    <Section title="Labels">
      {view.labels.map((row) => (
        <div key={row.id} className="border-b border-hair/60 py-1.5">
          <p className="flex items-center gap-2">
            <StateMark state={row.state} />
            <span>{names.services[row.service] ?? (row.service || (names.carriers[row.carrier] ?? row.carrier))}</span>
            {row.own ? (
              <span className="ml-auto text-soft">not bought here</span>
            ) : (
              <b className="ml-auto">{homeMoney(row.charged ?? row.quoted)}</b>
            )}
          </p>
          {row.parcels.map((parcel, i) => (
            <p key={parcel.number} className="font-mono text-small">
              {row.parcels.length > 1 && (
                <span className="font-sans text-soft">
                  {i + 1} of {row.parcels.length}{' '}
                </span>
              )}
              {parcel.number}
              <span className="font-sans text-soft"> {parcel.status}</span>
              {parcel.returnNumber && (
                <span className="block">
                  <span className="font-sans text-soft">return label </span>
                  {parcel.returnNumber}
                </span>
              )}
            </p>
          ))}
          {row.problem && <p className="text-wait">{row.problem}</p>}
          {row.state === 'bought' && (
            <p className="mt-1 flex gap-2">
              {!row.own && (
                <PrintButton
                  className="rounded-[3px] border border-act px-2.5 py-0.5 text-act hover:bg-act-soft"
                  endpoint="POST /api/dispatch/labels/:id/print"
                  id={row.id}
                  profile={print.profile}
                  onPrinted={() => void client.invalidateQueries({ queryKey: ['order', view.row.id] })}
                >
                  {row.printedAt ? 'Print again' : 'Print slip and label'}
                </PrintButton>
              )}
              {(row.status ?? 'announced') === 'announced' && (
                <Button
                  kind="danger"
                  className="py-0.5"
                  calls="POST /api/dispatch/labels/:id/void"
                  onClick={() => setAsking(row.id)}
                >
                  {row.own ? 'Take the number back' : 'Void'}
                </Button>
              )}
            </p>
          )}
        </div>
      ))}
      <Confirm
        open={label !== undefined}
        danger
        title={label?.own ? `Take the number of ${view.row.number} back?` : `Void the label of ${view.row.number}?`}
        action={label?.own ? 'Take it back' : `Void, ${homeMoney(label?.charged)} back`}
        onClose={() => setAsking(null)}
        onConfirm={() => voidIt()}
      >
        {label?.own ? (
          <>
            The channel is told that <span className="font-mono">{label.trackingNumber}</span> is not its number. The
            order returns to the Desk.
          </>
        ) : (
          <>
            The carrier is asked to take back <span className="font-mono">{label?.trackingNumber}</span>. The order
            returns to the Desk, {homeMoney(label?.charged)} become a pending refund, and nothing more is sent for this
            label.
          </>
        )}
      </Confirm>
    </Section>
  )
}
