'use client'
import { useState } from 'react'
import type { DoorView } from '@/usecases/dispatch/door/doorView'
import { Button } from '../../kit/Button'
import { Field, TextInput } from '../../kit/Field'
import { count, weightText } from '../../kit/format'
import { parcelCount } from '../parcelCount'
import { Signature } from './Signature'

/** Before the door closes: what stays here, and who takes the rest. */
export function Closing({
  view,
  onClosed,
  onBack,
}: {
  view: DoorView
  /** Whether it was closed. */
  onClosed: (driver: string, signature: number[][]) => Promise<boolean>
  onBack: () => void
}) {
  const [driver, setDriver] = useState('')
  const [signature, setSignature] = useState<number[][]>([])
  return (
    <section
      aria-label="Close the door"
      className="grid gap-6 p-5 min-[900px]:grid-cols-2"
      onKeyDown={(event) => {
        if (event.key === 'Escape') onBack()
      }}
    >
      <div>
        <h2 className="text-title">
          {parcelCount(view.parcels)}, {weightText(view.weight)}
        </h2>
        {view.leaving === 0 ? (
          <p className="mt-2 text-lead text-done">✓ Nothing that is to leave by today stays here.</p>
        ) : (
          <>
            <p role="alert" className="mt-2 text-lead text-wait">
              △ {parcelCount(view.leaving)} for this lorry {view.leaving === 1 ? 'was' : 'were'} not scanned:
            </p>
            <ul aria-label="Not scanned" className="mt-1 max-h-72 overflow-auto" tabIndex={0}>
              {view.waiting.map((parcel) => (
                <li
                  key={`${parcel.labelId} ${parcel.position}`}
                  className="flex gap-3 border-b border-hair/60 py-1 font-mono text-small"
                >
                  <span className="w-32">{parcel.number}</span>
                  <span className="min-w-0 flex-1 truncate">{parcel.trackingNumber}</span>
                  <span className="font-sans text-soft">{parcel.checkedAt === null ? 'not packed' : 'packed'}</span>
                </li>
              ))}
              {view.leaving > view.waiting.length && (
                <li className="py-1 text-soft">and {count(view.leaving - view.waiting.length)} more</li>
              )}
            </ul>
          </>
        )}
      </div>
      <form
        className="grid content-start gap-4"
        onSubmit={(event) => {
          event.preventDefault()
          void onClosed(driver, signature)
        }}
      >
        <Field label="Driver" hint="As the driver says it; needed for a signature.">
          <TextInput
            autoFocus
            maxLength={120}
            className="w-full text-lead"
            value={driver}
            onChange={(event) => setDriver(event.target.value)}
          />
        </Field>
        <Signature onSigned={setSignature} />
        <p className="flex gap-3">
          <Button kind="filled" className="py-3 text-head" onClick={() => onClosed(driver, signature)}>
            {view.leaving > 0 ? `Close, ${count(view.leaving)} stay here` : 'Close the door'}
          </Button>
          <Button kind="quiet" onClick={onBack}>
            Scan on
          </Button>
        </p>
      </form>
    </section>
  )
}
