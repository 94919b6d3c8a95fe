'use client'
import { useQuery } from '@tanstack/react-query'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { orderCount } from '../../kit/format'
import { When } from '../../kit/When'
import { useUndo } from '../deciding/useDecide'

/** What was decided for several orders lately, each with its undo. */
export function NewestEdits() {
  const { data } = useQuery({ queryKey: ['edits'], queryFn: () => call('GET /api/desk/edits') })
  const undo = useUndo()
  const edits = data?.edits ?? []
  if (edits.length === 0) return null
  return (
    <section aria-label="Decided lately" className="mt-6">
      <h3 className="border-b border-hair pb-1 text-small text-soft">Decided by hand lately</h3>
      <ul>
        {edits.map(({ id, sentence, state, author, madeAt, counts }) => (
          <li key={id} className="flex items-baseline gap-2 border-b border-hair/60 py-1">
            <span className="min-w-0 flex-1">
              {sentence}
              <span className="block text-small text-soft">
                {orderCount((counts.done ?? 0) + (counts.undone ?? 0) + (counts.kept ?? 0))}, {author},{' '}
                <When at={madeAt} />
              </span>
            </span>
            {state === 'done' && (
              <Button kind="quiet" aria-label={`Undo ${sentence}`} onClick={() => undo(id)}>
                Undo
              </Button>
            )}
            {state === 'undone' && <span className="text-soft">put back</span>}
            {(state === 'under way' || state === 'undoing') && <span className="text-wait">under way …</span>}
          </li>
        ))}
      </ul>
    </section>
  )
}
