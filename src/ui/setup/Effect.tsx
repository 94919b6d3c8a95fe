'use client'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { movesOf } from '@/core/rulebook/change'
import type { ListChange } from '@/usecases/setup/lists'
import { call, Refusal } from '../kit/api'
import { count } from '../kit/format'
import { useRested } from '../kit/useRested'
import { Moved } from '../rules/Rerouting'
import { TrialBody } from '../rules/trial/TrialBody'

/**
 * What a change would do to the waiting orders, while it is typed; nothing is saved. Null when there is no change to
 * try.
 */
export function Effect({
  change,
  services,
}: {
  change: ListChange | null
  services: Readonly<Record<string, string>>
}) {
  const text = change === null ? null : JSON.stringify(change)
  const rested = useRested(text, 350)
  const [open, setOpen] = useState(false)
  const { data, error, isFetching } = useQuery({
    queryKey: ['effect', rested],
    queryFn: () => call('POST /api/setup/lists/effect', { body: JSON.parse(rested!) as ListChange }),
    enabled: rested !== null && text !== null,
    placeholderData: keepPreviousData,
    staleTime: 10_000,
    retry: false,
    meta: { quiet: true },
  })
  if (text === null) return null
  const effect = data?.effect
  return (
    <section
      aria-label="What it does to waiting orders"
      className={`border-t border-hair bg-tint ${open ? 'flex max-h-[65%] min-h-0 flex-col' : ''}`}
    >
      <p className="flex flex-wrap items-baseline gap-x-4 px-5 py-1.5" role="status">
        <span className="text-soft">Before it is saved:</span>
        {error instanceof Refusal && <span className="text-lost">{error.message}</span>}
        {!error && !effect && (
          <span className="text-soft">{isFetching ? 'trying it on the waiting orders …' : ''}</span>
        )}
        {!error && effect?.summary.changed === 0 && (
          <span>
            {effect.waiting === 0
              ? 'no order waits that it could change.'
              : `none of the ${count(effect.summary.orders)} waiting orders changes.`}
          </span>
        )}
        {!error && effect && effect.summary.changed > 0 && (
          <>
            <Moved summary={effect.summary} past={false} />
            {effect.summary.newlyLate > 0 && (
              <span className="text-lost">
                <b>{count(effect.summary.newlyLate)}</b> late
              </span>
            )}
            <button
              type="button"
              className="min-h-[24px] text-act underline decoration-hair underline-offset-4"
              aria-expanded={open}
              onClick={() => setOpen(!open)}
            >
              {open ? 'Close' : 'See them'}
            </button>
            {!open && (
              <span className="min-w-0 truncate text-soft">
                {movesOf(effect.summary)
                  .slice(0, 3)
                  .map(({ from, to, count: n }) => `${count(n)} ${nameIn(services, from)} → ${nameIn(services, to)}`)
                  .join(', ')}
              </span>
            )}
          </>
        )}
      </p>
      {open && effect && (
        <TrialBody
          summary={effect.summary}
          changes={effect.changes}
          services={services}
          trial={null}
          note={noteOf(effect)}
          looks={false}
        />
      )}
    </section>
  )
}

const nameIn = (services: Readonly<Record<string, string>>, id: string | null): string =>
  id === null ? 'no service' : (services[id] ?? id)

const noteOf = ({
  waiting,
  summary,
  changes,
}: {
  waiting: number
  summary: { orders: number; changed: number }
  changes: readonly unknown[]
}): string =>
  [
    ...(summary.orders < waiting ? [`Of ${count(waiting)} waiting orders, ${count(summary.orders)} were tried.`] : []),
    ...(changes.length < summary.changed ? [`The first ${count(changes.length)} are shown.`] : []),
  ].join(' ')
