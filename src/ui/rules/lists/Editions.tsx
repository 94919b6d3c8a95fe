'use client'
import type { RulebookView } from '@/usecases/rules/editRulebook'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { useSay } from '../../kit/Toast'
import type { DraftEditor } from '../useDraft'
import { useChange } from '../../kit/useChange'
import { When } from '../../kit/When'

/** What was published, when and by whom; each can become the draft again. */
export function Editions({ view, draft }: { view: RulebookView; draft: DraftEditor }) {
  const change = useChange(['rulebook'])
  const say = useSay()
  const restore = async (number: number): Promise<void> => {
    const revision = await draft.settled()
    if (revision === null) return
    await change(
      async () => {
        const answer = await call('POST /api/rules/rulebook/restore', { body: { edition: number, revision } })
        const next = await call('GET /api/rules/rulebook')
        draft.replace(next.draft, answer.revision, answer.findings)
      },
      () => say(`Edition ${number} is the draft now`, { undo: draft.undo }),
    )
  }
  const withdraw = (number: number): Promise<boolean> =>
    change(
      () => call('DELETE /api/rules/rulebook/publish', { body: { edition: number } }),
      () => say(`Edition ${number} will not come into force`),
    )
  return (
    <section>
      {view.editions.map((edition) => (
        <div key={edition.number} className="border-b border-hair/60 py-1.5">
          <p className="flex items-baseline gap-2">
            <b className="font-semibold">Edition {edition.number}</b>
            <span className="text-soft">
              <When at={edition.publishedAt} />, {edition.author}
            </span>
            <span className="ml-auto whitespace-nowrap">
              {edition.inForceAt > new Date().toISOString() && !edition.withdrawnAt && (
                <Button kind="quiet" onClick={() => withdraw(edition.number)}>
                  Withdraw
                </Button>
              )}
              <Button kind="quiet" onClick={() => restore(edition.number)}>
                Bring back as draft
              </Button>
            </span>
          </p>
          {edition.withdrawnAt ? (
            <p className="text-wait">Withdrawn before it came into force</p>
          ) : (
            edition.inForceAt > new Date().toISOString() && (
              <p className="text-wait">
                Comes into force <When at={edition.inForceAt} /> UTC
              </p>
            )
          )}
          {edition.note && <p>{edition.note}</p>}
        </div>
      ))}
    </section>
  )
}
