'use client'
import { useQuery } from '@tanstack/react-query'
import { parseAsString, useQueryState } from 'nuqs'
import { useState, type ReactNode } from 'react'
import type { TrackingView } from '@/usecases/tracking/showTracking'
import { call } from '../kit/api'
import { Button } from '../kit/Button'
import { count } from '../kit/format'
import { OrderLink } from '../kit/OrderLink'
import { StateMark } from '../kit/StateMark'
import { useSay } from '../kit/Toast'
import { useChange } from '../kit/useChange'
import { TrackingHead } from './TrackingHead'
import { When } from '../kit/When'
import { aStep } from '../kit/step'

type Work = TrackingView['posts'][number] | TrackingView['notices'][number] | TrackingView['handOvers'][number]
type Table = 'posts' | 'notices' | 'handovers'

/** Posts to channels, notices to customers and papers to partners, with their state and their tries. */
export function Told({ initial }: { initial: TrackingView }) {
  const say = useSay()
  const [state, setState] = useQueryState('state', parseAsString.withOptions(aStep))
  const { data } = useQuery({
    queryKey: ['tracking', state],
    queryFn: () => call('GET /api/tracking', { query: state === null ? {} : { state } }),
    initialData: state === null ? initial : undefined,
    placeholderData: (before) => before,
    refetchInterval: 2500,
  })
  const change = useChange(['tracking'])
  const retry = (table: Table, id: number | 'all'): Promise<boolean> =>
    change(
      () => call('POST /api/tracking', { body: { retry: table, id } }),
      ({ again }) => say(again === 1 ? 'It is on its way again' : `${count(again)} are on their way again`),
    )
  const view = data ?? initial
  // Who has no partner has no room for them.
  const handsOver = Object.keys(view.handOverStates).length > 0
  return (
    <div className="flex h-full flex-col max-[899px]:block max-[899px]:overflow-auto">
      <TrackingHead at="told" about="Who was told what">
        <div role="group" aria-label="State" className="flex">
          {[
            [null, 'all'],
            ['queued', 'waiting'],
            ['sent', 'sent'],
            ['failed', 'failed'],
            ['dropped', 'dropped'],
          ].map(([value, word]) => (
            <button
              key={word}
              aria-pressed={state === value}
              onClick={() => void setState(value as string | null)}
              className={`border-y border-r border-hair px-2.5 py-1 first:border-l ${state === value ? 'bg-act-soft font-semibold' : 'bg-sheet hover:bg-tint'}`}
            >
              {word}
            </button>
          ))}
        </div>
      </TrackingHead>
      <div
        className={`panes min-h-0 flex-1 ${handsOver ? '[--panes:repeat(3,minmax(0,1fr))]' : '[--panes:repeat(2,minmax(0,1fr))]'}`}
      >
        <Column
          title="Posts to channels"
          empty="No posts here. Buying a label writes one."
          states={view.postStates}
          rows={view.posts}
          what={(row) => ('kind' in row && row.kind === 'withdraw' ? 'taken back' : 'tracking number')}
          onRetry={(id) => retry('posts', id)}
        />
        <Column
          title="Notices to customers"
          empty="No notices here. What customers are told of is set under Notices."
          states={view.noticeStates}
          rows={view.notices}
          what={(row) => ('recipient' in row ? `${row.step}, ${row.medium} to ${row.recipient}` : '')}
          onRetry={(id) => retry('notices', id)}
        />
        {handsOver && (
          <Column
            title="Papers to partners"
            empty="No papers here. They go when a label is bought for a partner’s place."
            states={view.handOverStates}
            rows={view.handOvers}
            what={(row) => ('to' in row ? handOverText(row) : '')}
            onRetry={(id) => retry('handovers', id)}
          />
        )}
      </div>
    </div>
  )
}

/** What the channel shows otherwise than it was told. */
const differsIn = (row: Work): string | null => ('differs' in row ? row.differs : null)

const handOverText = ({ kind, to, answer, answerText }: TrackingView['handOvers'][number]): string => {
  if (kind === 'take back') return `${to}: not to be sent`
  const said = { '': '', acknowledged: ', they have it', refused: `, refused: ${answerText}`, despatched: ', it left' }
  return `${to}${said[answer]}`
}

function Column({
  title,
  empty,
  states,
  rows,
  what,
  onRetry,
}: {
  title: string
  empty: string
  states: Readonly<Record<string, number>>
  rows: readonly Work[]
  what: (row: Work) => ReactNode
  onRetry: (id: number | 'all') => Promise<boolean>
}) {
  const [busy, setBusy] = useState(false)
  const again = (id: number | 'all'): void => {
    setBusy(true)
    void onRetry(id).finally(() => setBusy(false))
  }
  return (
    <section aria-label={title} className="flex min-h-0 flex-col border-r border-hair last:border-r-0">
      <h2 className="flex flex-wrap items-baseline gap-x-4 px-5 py-2 text-lead">
        {title}
        <span className="flex gap-3 text-small font-normal">
          {Object.entries(states).map(([state, n]) => (
            <span key={state} className="flex gap-1">
              <StateMark state={state} />
              {count(n)}
            </span>
          ))}
        </span>
        {(states.failed ?? 0) > 1 && (
          <Button kind="quiet" className="ml-auto text-small" disabled={busy} onClick={() => again('all')}>
            Try all {count(states.failed!)} again
          </Button>
        )}
      </h2>
      <ul className="min-h-0 flex-1 overflow-auto border-t border-hair bg-sheet" tabIndex={0} aria-label={title}>
        {rows.length === 0 && <li className="p-6 text-center text-soft">{empty}</li>}
        {rows.map((row) => (
          <li key={row.id} className="border-b border-hair/70 px-5 py-1.5">
            <p className="flex items-center gap-3">
              <span className="w-20 shrink-0">
                <StateMark state={row.state} />
              </span>
              <OrderLink id={row.orderId} number={row.number} />
              <span className="min-w-0 flex-1 truncate text-soft">{what(row)}</span>
              <span className="text-soft">
                <When at={row.sentAt ?? row.nextAt} />
              </span>
              {(row.state === 'failed' || differsIn(row)) && (
                <Button kind="quiet" disabled={busy} onClick={() => again(row.id)}>
                  Try again
                </Button>
              )}
            </p>
            {differsIn(row) && <p className="pl-23 text-small text-lost">{differsIn(row)}</p>}
            {row.problem && (
              <p className={`pl-23 text-small ${row.state === 'failed' ? 'text-lost' : 'text-wait'}`}>
                {row.problem}
                {row.attempts > 0 &&
                  row.state !== 'dropped' &&
                  ` Tried ${row.attempts} ${row.attempts === 1 ? 'time' : 'times'}.`}
              </p>
            )}
          </li>
        ))}
      </ul>
    </section>
  )
}
