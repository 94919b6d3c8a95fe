'use client'
import { plainText } from '@/core/order'
import { useState } from 'react'
import type { PinnedResult } from '@/core/rulebook/decide'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { TextInput } from '../../kit/Field'
import { useChange } from '../../kit/useChange'

const shown = (value: unknown): string => {
  if (value === null) return 'none'
  if (Array.isArray(value)) return value.join(', ') || 'none'
  if (value === true) return 'yes'
  return value === false ? 'no' : plainText(value)
}

/** Examples with the outcome they must have; a broken one shows what is expected and what the draft gives. */
export function PinnedOrders({ results }: { results: readonly PinnedResult[] }) {
  const change = useChange(['rulebook'])
  const [notes, setNotes] = useState<Readonly<Record<number, string>>>({})
  const unpin = (id: number): Promise<boolean> =>
    change(() => call('DELETE /api/rules/pinned/:id', { path: { id: String(id) }, body: {} }))
  const repin = (id: number, note: string): Promise<boolean> =>
    change(() => call('POST /api/rules/pinned/:id', { path: { id: String(id) }, body: { note } }))
  return (
    <section aria-label="Pinned orders">
      {results.length === 0 && (
        <p className="text-soft">None yet. Open an order on the Desk and pin it as an example.</p>
      )}
      {results.map((result) => (
        <div key={result.id} className="border-b border-hair/60 py-1.5">
          <p className="flex items-center gap-2">
            <span className={result.broken.length > 0 ? 'text-lost' : 'text-done'}>
              {result.broken.length > 0 ? '◆ broken' : '● holds'}
            </span>
            <b className="min-w-0 truncate font-semibold">{result.name}</b>
            <button
              aria-label={`Unpin ${result.name}`}
              className="ml-auto min-h-[24px] px-1 text-small text-soft hover:text-lost"
              onClick={() => void unpin(result.id)}
            >
              unpin
            </button>
          </p>
          {result.broken.map(({ what, expected, actual }) => (
            <p key={what} className="text-small">
              {what}: <span className="text-soft line-through">{shown(expected)}</span> <b>{shown(actual)}</b>
            </p>
          ))}
          {result.broken.length > 0 && (
            <form
              className="mt-1 flex gap-2"
              onSubmit={(event) => {
                event.preventDefault()
                void repin(result.id, notes[result.id] ?? '')
              }}
            >
              <TextInput
                aria-label={`Why the new outcome of ${result.name} is right`}
                placeholder="Why the new outcome is right"
                value={notes[result.id] ?? ''}
                onChange={(event) => setNotes({ ...notes, [result.id]: event.target.value })}
                className="flex-1"
              />
              <Button type="submit">Pin again</Button>
            </form>
          )}
        </div>
      ))}
    </section>
  )
}
