'use client'
import { useState } from 'react'
import { Button } from '../../kit/Button'
import { TextInput } from '../../kit/Field'

const reasons = [
  'An item is missing',
  'Its shelf is empty',
  'An item is damaged',
  'It does not fit',
  'The label cannot be read',
] as const

/** What is said with this corrects the stock. */
const empty = 'Its shelf is empty'

/** Why a parcel is put aside: one touch, or other words. */
export function AsideForm({
  number,
  onAside,
  onClose,
}: {
  number: string
  onAside: (why: string, short: boolean) => Promise<void>
  onClose: () => void
}) {
  const [why, setWhy] = useState('')
  return (
    <form
      aria-label={`Put ${number} aside`}
      className="mx-4 mb-4 grid max-w-2xl gap-3 bg-sheet p-4"
      onSubmit={(event) => {
        event.preventDefault()
        if (why.trim() !== '') void onAside(why.trim(), false)
      }}
      onKeyDown={(event) => event.key === 'Escape' && onClose()}
    >
      <h2 className="text-lead">Why is {number} put aside?</h2>
      <p className="flex flex-wrap gap-2">
        {reasons.map((reason) => (
          <Button key={reason} className="py-2" onClick={() => onAside(reason, reason === empty)}>
            {reason}
          </Button>
        ))}
      </p>
      <p className="flex gap-2">
        <TextInput
          aria-label="Another reason"
          placeholder="Another reason"
          autoFocus
          className="min-w-0 flex-1"
          maxLength={300}
          value={why}
          onChange={(event) => setWhy(event.target.value)}
        />
        <Button type="submit" disabled={why.trim() === ''}>
          Put aside
        </Button>
        <Button kind="quiet" onClick={onClose}>
          Cancel
        </Button>
      </p>
    </form>
  )
}
