'use client'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { call, sentenceOf } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Pager } from '../../kit/Pager'
import { useSay } from '../../kit/Toast'
import { useSkip } from '../../kit/useSkip'
import type { DraftEditor } from '../useDraft'
import { useChange } from '../../kit/useChange'
import { When } from '../../kit/When'

/** What was published, when and by whom; each can become the draft again. */
export function Editions({ draft }: { draft: DraftEditor }) {
  const [skip, setSkip] = useSkip()
  const { data, error, refetch } = useQuery({
    // What changes the rulebook changes this list.
    queryKey: ['rulebook', 'editions', skip],
    queryFn: () => call('GET /api/rules/editions', { query: { skip: String(skip) } }),
    placeholderData: keepPreviousData,
  })
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
      {error && (
        <p role="alert" className="text-lost">
          {sentenceOf(error)} <Button onClick={() => refetch()}>Try again</Button>
        </p>
      )}
      <div>
        {data?.editions.map((edition) => (
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
      </div>
      {data && <Pager {...{ skip, size: data.pageSize, total: data.total }} onSkip={setSkip} />}
    </section>
  )
}
