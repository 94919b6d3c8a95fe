'use client'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { ScanLine } from 'lucide-react'
import Link from 'next/link'
import { parseAsStringLiteral, useQueryStates } from 'nuqs'
import { useState } from 'react'
import { money } from '@/core/units'
import type { ReturnList, ReturnsView } from '@/usecases/tracking/returns/showReturns'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { count, homeMoney, moneyText, shortDay } from '../../kit/format'
import { OrderLink } from '../../kit/OrderLink'
import { Pager } from '../../kit/Pager'
import { skipInAddress } from '../../kit/useSkip'
import { Plain } from '../../kit/Screen'
import { StateMark } from '../../kit/StateMark'
import { aStep } from '../../kit/step'
import { useChange } from '../../kit/useChange'
import { TrackingHead } from '../TrackingHead'
import { AnswerReturn } from './AnswerReturn'
import { reasonWords } from './returnWords'

export type ReturnRow = ReturnsView['rows'][number]

const lists = [
  ['asked', 'to be answered', 'Nobody waits for an answer', 'What rules of Papers do not answer stands here.'],
  ['awaited', 'with the buyer', 'No return label is out', 'Labels that are not used cost nothing, and lapse.'],
  [
    'coming',
    'on the way',
    'Nothing is on its way back',
    'What carriers have, or have brought, stands here until it is looked at.',
  ],
  ['settled', 'looked at', 'Nothing was looked at yet', 'What came back is scanned and looked at on its own screen.'],
  ['ended', 'refused or lapsed', 'Nothing was refused, and no label lapsed', ''],
] as const satisfies readonly (readonly [ReturnList, string, string, string])[]

const parsers = {
  list: parseAsStringLiteral(lists.map(([id]) => id)).withDefault('asked'),
  skip: skipInAddress,
}

/** What buyers send back: answered, awaited, on its way, looked at and paid back. */
export function Returns({ initial }: { initial: ReturnsView }) {
  const [{ list, skip }, put] = useQueryStates(parsers, aStep)
  const { data } = useQuery({
    queryKey: ['returns', list, skip],
    queryFn: () => call('GET /api/tracking/returns', { query: { list, skip: String(skip) } }),
    initialData: list === 'asked' && skip === 0 ? initial : undefined,
    placeholderData: keepPreviousData,
    refetchInterval: 5000,
  })
  const view = data ?? initial
  const { asked } = view.counts
  const [, , title, more] = lists.find(([id]) => id === list)!
  return (
    <div className="flex h-full flex-col">
      <TrackingHead
        at="returns"
        about={asked === 0 ? 'All answered' : `${count(asked)} ${asked === 1 ? 'waits' : 'wait'} for an answer`}
      />
      <div className="flex flex-wrap items-center gap-3 border-b border-hair px-5 pb-2">
        <div role="group" aria-label="List" className="flex flex-wrap">
          {lists.map(([id, word]) => (
            <button
              key={id}
              aria-pressed={list === id}
              onClick={() => void put({ list: id, skip: 0 })}
              className={`border-y border-r border-hair px-2.5 py-1 first:border-l ${list === id ? 'bg-act-soft font-semibold' : 'bg-sheet hover:bg-tint'}`}
            >
              {word} <span className="text-soft tabular-nums">{count(view.counts[id])}</span>
            </button>
          ))}
        </div>
        <Link
          href="/returns"
          className="ml-auto flex min-h-[24px] items-center gap-1.5 text-act underline decoration-hair underline-offset-4"
        >
          <ScanLine className="size-4" aria-hidden /> Look at what came back
        </Link>
      </div>
      {view.counts[list] === 0 ? (
        <Plain title={title}>{more && <p>{more}</p>}</Plain>
      ) : (
        <div className="min-h-0 flex-1 overflow-auto bg-sheet" tabIndex={0} role="region" aria-label="Returns">
          <table className="w-full">
            <thead className="sticky top-0 bg-paper">
              <tr className="border-b border-hair text-left text-small text-soft">
                {['Asked', 'Order', 'What', 'Why', 'How it stands'].map((head) => (
                  <th key={head} className="px-3 py-1 font-normal first:pl-5">
                    {head}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {view.rows.map((row) => (
                <Row key={row.id} row={row} view={view} />
              ))}
            </tbody>
          </table>
          <Pager {...{ skip, size: view.pageSize, total: view.counts[list] }} onSkip={(next) => put({ skip: next })} />
        </div>
      )}
    </div>
  )
}

function Row({ row, view }: { row: ReturnRow; view: ReturnsView }) {
  const [answering, setAnswering] = useState(false)
  const pieces = row.items.reduce((sum, { quantity }) => sum + quantity, 0)
  return (
    <tr className="border-b border-hair/70 align-top">
      <td className="py-2 pr-3 pl-5 whitespace-nowrap text-soft">{shortDay(row.askedAt)}</td>
      <td className="px-3 py-2 whitespace-nowrap">
        <OrderLink id={row.orderId} number={row.number} />
        <div className="text-soft">
          {row.buyer}, {row.country}
        </div>
      </td>
      <td className="px-3 py-2">
        {row.items.slice(0, 4).map(({ sku, title, quantity }) => (
          <div key={sku} title={sku}>
            {quantity} × {title || sku}
          </div>
        ))}
        {row.items.length > 4 && <div className="text-soft">{count(pieces)} pieces in all</div>}
      </td>
      <td className="max-w-[22rem] px-3 py-2">
        {row.reason ? (reasonWords[row.reason] ?? row.reason) : row.askedBy}
        {row.words && <div className="text-soft">“{row.words}”</div>}
        {row.photos.map((id) => (
          <a key={id} href={`/api/tracking/returns/photos/${id}`} target="_blank" rel="noreferrer">
            <img src={`/api/tracking/returns/photos/${id}`} alt="What the buyer shows" className="mt-1 h-16 w-auto" />
          </a>
        ))}
      </td>
      <td className="px-3 py-2 pr-5">
        <Standing row={row} view={view} />
        {row.state === 'asked' && !answering && (
          <Button className="mt-1" onClick={() => setAnswering(true)}>
            Answer …
          </Button>
        )}
        {(row.state === 'ready' || row.state === 'making') && !answering && (
          <Button kind="quiet" onClick={() => setAnswering(true)}>
            Take the label back …
          </Button>
        )}
        {answering && <AnswerReturn row={row} services={view.services} onDone={() => setAnswering(false)} />}
      </td>
    </tr>
  )
}

function Standing({ row, view }: { row: ReturnRow; view: ReturnsView }) {
  const by = view.services[row.service] ?? row.service
  const label = row.trackingNumber && (
    <div className="font-mono text-small">
      {row.trackingNumber} <span className="font-sans text-soft">{by}</span>
    </div>
  )
  switch (row.state) {
    case 'asked':
      return row.problem ? <p className="text-wait">{row.problem}</p> : <p className="text-soft">No rule answers it.</p>
    case 'making':
      return (
        <p>
          {by} is asked for its label
          {row.problem && <span className="block text-wait">{row.problem}</span>}
        </p>
      )
    case 'ready':
      return (
        <>
          {label || <p>It comes without a label of ours</p>}
          <p className="text-soft">
            {row.why && `By ${row.why}. `}
            {row.validUntil && `To be used until ${shortDay(row.validUntil)}. `}
            {row.charge > 0 &&
              `${homeMoney(row.charge)} when it is used${row.paidByBuyer ? ', taken off the refund' : ''}.`}
          </p>
        </>
      )
    case 'coming':
      return (
        <>
          <p className={row.status === 'delivered' ? 'font-semibold text-wait' : ''}>
            {row.status === 'delivered' ? (
              '△ It is here, and nobody has looked at it'
            ) : (
              <StateMark state={row.status ?? 'in transit'} />
            )}
            <span className="ml-2 font-normal text-soft">{shortDay(row.statusAt)}</span>
          </p>
          {label}
        </>
      )
    case 'checked':
      return <Settled row={row} />
    default:
      return (
        <p className="text-soft">
          {row.state === 'refused' ? 'Refused' : 'The label was not used'}
          {row.why && `: ${row.why}`}
        </p>
      )
  }
}

/** What was paid back, and by whom. */
function Settled({ row }: { row: ReturnRow }) {
  const change = useChange(['returns'])
  const amount = moneyText(money(row.amount, row.currency))
  const byHand = row.amount > 0 && row.told === null
  return (
    <>
      <p>
        <b>{amount}</b> {row.amount === 0 ? 'paid back' : ''}
        {row.told && <span className="text-soft"> the channel {row.told === 'sent' ? 'has paid it back' : ''}</span>}
        {row.told === 'queued' && <span className="text-soft">is told</span>}
        {row.told === 'failed' && <span className="text-lost">was told in vain: see Notifications</span>}
        {byHand && row.paidByHandAt !== null && (
          <span className="text-soft"> paid by hand, {shortDay(row.paidByHandAt)}</span>
        )}
      </p>
      {row.note && <p className="text-soft">{row.note}</p>}
      {byHand && row.paidByHandAt === null && (
        <p>
          <span className="text-wait">△ Its channel pays nothing back by itself. </span>
          <Button
            kind="quiet"
            onClick={() =>
              change(() => call('PUT /api/tracking/returns/paid', { body: { id: row.id } }), 'Written down')
            }
          >
            It was paid back
          </Button>
        </p>
      )}
    </>
  )
}
