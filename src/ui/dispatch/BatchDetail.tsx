'use client'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { X } from 'lucide-react'
import { useRef, useState } from 'react'
import type { DeskNames } from '@/usecases/desk/showDesk'
import { call, sentenceOf } from '../kit/api'
import { Button } from '../kit/Button'
import { Confirm } from '../kit/Confirm'
import { count, homeMoney } from '../kit/format'
import { OrderLink } from '../kit/OrderLink'
import { StateMark } from '../kit/StateMark'
import { PrintChoices } from './PrintChoices'
import { PrintButton } from './PrintButton'
import type { PrintProfile } from '@/usecases/dispatch/printBatch'
import { usePrintProfile } from './printProfile'
import { useSay } from '../kit/Toast'

/** One batch: how far it is, its labels in print order, and what can be done with them. */
export function BatchDetail({ id, names, onClose }: { id: number; names: DeskNames; onClose: () => void }) {
  const client = useQueryClient()
  const say = useSay()
  const [asking, setAsking] = useState<number | null>(null)
  const print = usePrintProfile()
  const { data, error } = useQuery({
    queryKey: ['batch', id],
    queryFn: () => call('GET /api/dispatch/batches/:id', { path: { id: String(id) } }),
    refetchInterval: (query) =>
      query.state.data?.labels.some((label) => label.state === 'queued' || label.state === 'voiding') ? 700 : 4000,
  })
  const refresh = (): Promise<unknown> =>
    Promise.all([
      client.invalidateQueries({ queryKey: ['batch', id] }),
      client.invalidateQueries({ queryKey: ['batches'] }),
    ])
  const detail = useRef<HTMLElement>(null)
  const act = async (work: Promise<unknown>, done: string): Promise<void> => {
    try {
      await work
      say(done)
    } catch (failure) {
      say(sentenceOf(failure), { tone: 'bad' })
    }
    await refresh()
  }
  if (error) return <aside className="beside p-4 text-lost">{sentenceOf(error)}</aside>
  if (!data) return <aside className="beside p-4 text-soft">Fetching the batch …</aside>
  const { summary, labels } = data
  const bought = labels.filter((label) => label.state === 'bought')
  const label = labels.find((candidate) => candidate.id === asking)
  return (
    <aside
      ref={detail}
      aria-label={`Batch ${id}`}
      className="beside"
      onKeyDown={(event) => {
        // Not from a question that is open above it.
        if (event.key === 'Escape' && detail.current?.contains(event.target as Node)) onClose()
      }}
    >
      <header className="border-b border-hair px-4 py-3">
        <div className="flex items-center">
          <h2 className="text-lead">{summary.name ? `${summary.name}, batch ${id}` : `Batch ${id}`}</h2>
          <button aria-label="Close the batch" className="ml-auto p-1 text-soft hover:text-act" onClick={onClose}>
            <X className="size-4" />
          </button>
        </div>
        <p className="text-soft">
          {count(Number(summary.bought))} of {count(labels.length)} bought, {homeMoney(Number(summary.charged))}{' '}
          charged, {homeMoney(summary.quoted)} quoted
          {Number(summary.checked) > 0 && `, ${count(Number(summary.checked))} checked at the bench`}
        </p>
        <div className="mt-2 flex gap-2">
          {bought.length > 0 && (
            <PrintButton
              endpoint="POST /api/dispatch/batches/:id/print"
              id={id}
              profile={print.profile}
              className="rounded-[3px] bg-act px-3.5 py-1.5 font-semibold text-on-act hover:opacity-90"
            >
              Print {count(bought.length)} {papersName(print.profile.parts, bought.length)}
            </PrintButton>
          )}
          <PrintButton
            endpoint="POST /api/dispatch/batches/:id/picks"
            id={id}
            profile={print.profile}
            className="rounded-[3px] border border-act px-3 py-1 text-act hover:bg-act-soft"
          >
            Pick list
          </PrintButton>
          {bought.length > 0 && Number(summary.dispatched) < bought.length && (
            <Button
              onClick={() =>
                act(
                  call('POST /api/dispatch/batches/:id', { path: { id: String(id) }, body: { dispatched: true } }),
                  'Marked as handed over',
                )
              }
            >
              Mark as handed over
            </Button>
          )}
        </div>
        {bought.length > 0 && <PrintChoices profile={print.profile} put={print.put} />}
        {Number(summary.printed) > 0 && (
          <p className="mt-1 text-small text-soft">
            {count(Number(summary.printed))} printed before: those are marked as a reprint.
          </p>
        )}
      </header>
      <ul className="min-h-0 flex-1 overflow-auto px-4 pb-8" tabIndex={0} aria-label="Labels">
        {labels.map((row) => (
          <li key={row.id} className="border-b border-hair/60 py-1.5">
            <p className="flex items-center gap-2">
              <StateMark state={row.state} />
              <OrderLink id={row.orderId} number={row.number} />
              <span className="truncate">{row.buyer}</span>
              <span className="ml-auto">{homeMoney(row.charged ?? row.quoted)}</span>
            </p>
            <p className="flex items-center gap-2 text-small text-soft">
              <span>{names.services[row.service] ?? row.service}</span>
              <span className="font-mono" title={row.numbers.join(', ')}>
                {row.numbers[0]}
                {row.numbers.length > 1 && <b className="font-sans"> and {row.numbers.length - 1} more</b>}
              </span>
              {row.state === 'bought' && (row.status ?? 'announced') === 'announced' && (
                <Button
                  kind="quiet"
                  calls="POST /api/dispatch/labels/:id/void"
                  className="ml-auto text-lost"
                  aria-label={`Void the label of ${row.number}`}
                  onClick={() => setAsking(row.id)}
                >
                  Void
                </Button>
              )}
            </p>
            {row.problem && <p className={row.state === 'failed' ? 'text-lost' : 'text-wait'}>{row.problem}</p>}
          </li>
        ))}
      </ul>
      <Confirm
        open={label !== undefined}
        danger
        title={`Void the label of ${label?.number ?? ''}?`}
        action={`Void, ${homeMoney(label?.charged)} back`}
        onClose={() => setAsking(null)}
        onConfirm={async () => {
          await act(
            call('POST /api/dispatch/labels/:id/void', { path: { id: String(asking) }, body: {} }),
            'The carrier is asked to void the label',
          )
          setAsking(null)
        }}
      >
        The order returns to the Desk, {homeMoney(label?.charged)} stand as a pending refund, and nothing more is sent
        for this label.
      </Confirm>
    </aside>
  )
}

const papersName = (parts: PrintProfile['parts'], count: number): string =>
  ({
    labels: ['label', 'labels'],
    slips: ['slip', 'slips'],
    both: ['slip and label', 'slips and labels'],
  })[parts][count === 1 ? 0 : 1]!
