'use client'
import { useState } from 'react'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Field, Select, TextInput } from '../../kit/Field'
import { Tick } from '../../kit/Tick'
import { useChange } from '../../kit/useChange'
import type { ReturnRow } from './Returns'

/**
 * A person answers: taken, by which service and who pays; or refused, and why. What is agreed already can only be taken
 * back.
 */
export function AnswerReturn({
  row,
  services,
  onDone,
}: {
  row: ReturnRow
  services: Readonly<Record<string, string>>
  onDone: () => void
}) {
  const [service, setService] = useState('')
  const [paidByBuyer, setPaid] = useState(row.paidByBuyer)
  const [why, setWhy] = useState('')
  const change = useChange(['returns'])
  const answer = (take: boolean): Promise<void> =>
    change(
      () => call('PUT /api/tracking/returns', { body: { id: row.id, take, why, service, paidByBuyer } }),
      take ? `${row.number}: the return is taken` : `${row.number}: the return is refused`,
    ).then((done) => void (done && onDone()))
  return (
    <div
      role="group"
      aria-label={`Answer the return of ${row.number}`}
      className="mt-2 grid max-w-[30rem] gap-3 border-l-2 border-act pl-3"
      onKeyDown={(event) => {
        if (event.key === 'Escape') onDone()
      }}
    >
      {row.state === 'asked' && (
        <div className="flex flex-wrap items-end gap-3">
          <Field label="It comes back by">
            <Select autoFocus value={service} onChange={(event) => setService(event.target.value)}>
              <option value="">the service by which it went, or the next that does</option>
              {Object.entries(services).map(([id, name]) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
              <option value="none">no label of ours: the buyer sends it</option>
            </Select>
          </Field>
          <Tick label="The label is taken off the refund" on={paidByBuyer} onChange={setPaid} />
          <Button kind="filled" calls="PUT /api/tracking/returns" onClick={() => answer(true)}>
            Take it back
          </Button>
        </div>
      )}
      <div className="flex flex-wrap items-end gap-3">
        <Field label="Why not; the buyer reads it" className="flex-1">
          <TextInput
            autoFocus={row.state !== 'asked'}
            maxLength={1000}
            className="w-full"
            value={why}
            onChange={(event) => setWhy(event.target.value)}
          />
        </Field>
        <Button kind="danger" onClick={() => answer(false)}>
          Refuse it
        </Button>
        <Button kind="quiet" onClick={onDone}>
          Not now
        </Button>
      </div>
    </div>
  )
}
