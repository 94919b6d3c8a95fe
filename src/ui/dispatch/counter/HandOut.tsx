'use client'
import { useState } from 'react'
import type { PickupLine } from '@/data'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Field, TextInput } from '../../kit/Field'
import { useChange } from '../../kit/useChange'
import { Signature } from '../door/Signature'
import { parcelCount } from '../parcelCount'

/** One shipment that somebody has come for: where it lies, whose it is, and who takes it against a signature. */
export function HandOut({
  line,
  onDone,
  onBack,
}: {
  line: PickupLine
  onDone: (number: string) => Promise<void>
  onBack: () => void
}) {
  const [to, setTo] = useState(line.buyer)
  const [signature, setSignature] = useState<number[][]>([])
  const change = useChange()
  const hand = (): Promise<boolean> =>
    change(
      () => call('PUT /api/dispatch/counter', { body: { label: line.labelId, to, signature } }),
      ({ number }) => void onDone(number),
    )
  return (
    <section
      aria-label="Hand out"
      className="grid gap-6 min-[900px]:grid-cols-2"
      onKeyDown={(event) => {
        if (event.key === 'Escape') onBack()
      }}
    >
      <div>
        <p className="font-mono text-[40px] leading-tight font-bold">{line.place}</p>
        <p className="mt-2 text-head">
          <span className="font-mono">{line.number}</span>, {parcelCount(line.parcels)}
        </p>
        <p className="text-lead">
          {line.buyer}, {line.city}
        </p>
        <p className="mt-2 text-soft">
          They say the code <b className="font-mono text-ink">{line.code}</b>, or show who they are.
        </p>
      </div>
      <form
        className="grid content-start gap-4"
        onSubmit={(event) => {
          event.preventDefault()
          void hand()
        }}
      >
        <Field label="Who takes it">
          <TextInput
            autoFocus
            maxLength={120}
            className="w-full text-lead"
            value={to}
            onChange={(event) => setTo(event.target.value)}
          />
        </Field>
        <Signature onSigned={setSignature} />
        <p className="flex gap-3">
          <Button kind="filled" className="py-3 text-head" onClick={hand}>
            Hand it out
          </Button>
          <Button kind="quiet" onClick={onBack}>
            Not now
          </Button>
        </p>
      </form>
    </section>
  )
}
