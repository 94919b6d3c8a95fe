'use client'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import type { ListChange } from '@/usecases/setup/lists'
import { call, Refusal } from '../kit/api'
import { count } from '../kit/format'
import { useRested } from '../kit/useRested'
import { EffectLine } from '../rules/trial/EffectLine'

/** What a change would do to the waiting orders, while it is typed; nothing is saved. Null when there is no change to try. */
export function Effect({
  change,
  services,
}: {
  change: ListChange | null
  services: Readonly<Record<string, string>>
}) {
  const text = change === null ? null : JSON.stringify(change)
  const rested = useRested(text, 350)
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
    <EffectLine
      lead="Before it is saved:"
      waits={isFetching ? 'trying it on the waiting orders …' : ''}
      wrong={error && (error instanceof Refusal ? error.message : '')}
      effect={effect ?? undefined}
      none={
        effect?.waiting === 0
          ? 'no order waits that it could change.'
          : `none of the ${count(effect?.summary.orders ?? 0)} waiting orders changes.`
      }
      note={effect ? noteOf(effect) : ''}
      services={services}
    />
  )
}

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
