'use client'
import { useState } from 'react'
import type { RefundLine } from '@/data'
import type { DeskNames } from '@/usecases/desk/showDesk'
import { call } from '../../kit/api'
import { Confirm } from '../../kit/Confirm'
import { Field, TextInput } from '../../kit/Field'
import { homeMoney, plainHome } from '../../kit/format'
import { home } from '../../kit/locale'
import { typedAmount } from '../../kit/read'
import { useChange } from '../../kit/useChange'

/** What came of a refund: the carrier gave it, a part of it, or nothing. */
export function SettleRefund({ line, names, onClose }: { line: RefundLine; names: DeskNames; onClose: () => void }) {
  const [typed, setTyped] = useState(plainHome(line.amount))
  const [note, setNote] = useState(line.note)
  const change = useChange(['refunds'], ['ledger'], ['money'], ['line'])
  const granted = typedAmount(typed, home())
  const wrong = wrongOf(granted, line.amount)
  return (
    <Confirm
      open
      title={`The refund of ${line.number}`}
      action={granted === 0 ? 'Let it go' : `Book ${homeMoney(granted)}`}
      danger={granted === 0}
      busy={wrong !== undefined}
      onClose={onClose}
      onConfirm={async () => {
        const body = { label: line.labelId, granted: granted ?? 0, note }
        if (await change(() => call('PUT /api/ledger/refunds', { body }))) onClose()
      }}
    >
      <p>
        {names.carriers[line.carrier] ?? line.carrier} owes {homeMoney(line.amount)} for{' '}
        <span className="font-mono">{line.trackingNumber}</span>.
      </p>
      <div className="mt-3 grid gap-3">
        <Field label="Granted" wrong={wrong} hint="0 where it is let go: it was spent after all.">
          <TextInput autoFocus className="w-40" value={typed} onChange={(event) => setTyped(event.target.value)} />
        </Field>
        <Field label="Note">
          <TextInput
            className="w-full"
            maxLength={300}
            value={note}
            onChange={(event) => setNote(event.target.value)}
          />
        </Field>
      </div>
    </Confirm>
  )
}

function wrongOf(granted: number | null, amount: number): string | undefined {
  if (granted === null || granted < 0) return 'An amount, or 0.'
  return granted > amount ? `At most ${homeMoney(amount)}.` : undefined
}
