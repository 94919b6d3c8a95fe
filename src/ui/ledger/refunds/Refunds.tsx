'use client'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { parseAsInteger, parseAsString, parseAsStringLiteral, useQueryStates } from 'nuqs'
import { useState } from 'react'
import type { RefundLine } from '@/data'
import type { DeskNames } from '@/usecases/desk/showDesk'
import type { RefundsView } from '@/usecases/ledger/refunds'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { count, homeMoney, shortDay } from '../../kit/format'
import { OrderLink } from '../../kit/OrderLink'
import { useSay } from '../../kit/Toast'
import { useChange } from '../../kit/useChange'
import { LedgerHead } from '../LedgerHead'
import { SettleRefund } from './SettleRefund'
import { Unseen } from './Unseen'
import { aStep } from '../../kit/step'

const parsers = { carrier: parseAsString, show: parseAsStringLiteral(['settled'] as const), days: parseAsInteger }

/** What carriers owe for labels that were voided: by age, asked for again when due, booked when granted. */
export function Refunds({ initial, names }: { initial: RefundsView; names: DeskNames }) {
  const [{ carrier, show, days }, put] = useQueryStates(parsers, aStep)
  const { data } = useQuery({
    queryKey: ['refunds', carrier, show, days],
    queryFn: () =>
      call('GET /api/ledger/refunds', {
        query: {
          ...(show ? { settled: 'yes' } : {}),
          ...(carrier ? { carrier } : {}),
          ...(days === null ? {} : { days: String(days) }),
        },
      }),
    initialData: carrier === null && show === null && days === null ? initial : undefined,
    placeholderData: keepPreviousData,
    refetchInterval: 10_000,
  })
  const view = data ?? initial
  const [settling, setSettling] = useState<RefundLine | null>(null)
  const pending = view.ages.reduce((sum, { amount }) => sum + amount, 0)
  const due = view.ages.reduce((sum, { due: of }) => sum + of, 0)
  return (
    <div className="flex h-full flex-col">
      <LedgerHead
        at="refunds"
        about={
          pending === 0 ? (
            'No refund is pending'
          ) : (
            <>
              <b className="text-ink">{homeMoney(pending)}</b> pending
              {due > 0 && <span className="text-wait">, {homeMoney(due)} are due</span>}
            </>
          )
        }
      />
      <div className="min-h-0 flex-1 overflow-auto px-5 pb-8" tabIndex={0} role="region" aria-label="Refunds">
        <Ages view={view} names={names} carrier={carrier} onCarrier={(next) => void put({ carrier: next })} />
        <div className="mt-4 mb-1 flex items-baseline gap-3">
          <h2 className="text-lead">{show ? 'Settled' : 'Pending'}</h2>
          {carrier && (
            <Button kind="quiet" onClick={() => put({ carrier: null })}>
              {names.carriers[carrier] ?? carrier} alone: show all
            </Button>
          )}
          <Button
            kind="quiet"
            className="ml-auto"
            aria-pressed={show === 'settled'}
            onClick={() => put({ show: show ? null : 'settled' })}
          >
            {show ? 'Show what is pending' : 'Show what is settled'}
          </Button>
        </div>
        {view.refunds.length === 0 ? (
          <p className="border-y border-hair py-3 text-soft">
            {show
              ? 'No refund was settled yet.'
              : 'No refund is pending: what is voided on Dispatch or the Desk stands here.'}
          </p>
        ) : (
          <Lines view={view} names={names} onSettle={setSettling} />
        )}
        <Unseen view={view} names={names} onDays={(next) => void put({ days: next })} />
      </div>
      {settling && <SettleRefund line={settling} names={names} onClose={() => setSettling(null)} />}
    </div>
  )
}

const ages = [
  ['week', 'up to 7 days'],
  ['fortnight', '8 to 14'],
  ['month', '15 to 31'],
  ['older', 'older'],
] as const

/** What is pending, by carrier and age; what is due can be asked for with a file. */
function Ages({
  view,
  names,
  carrier,
  onCarrier,
}: {
  view: RefundsView
  names: DeskNames
  carrier: string | null
  onCarrier: (next: string | null) => void
}) {
  const carriers = [...new Set(view.ages.map((row) => row.carrier))]
  const change = useChange(['refunds'])
  const say = useSay()
  if (carriers.length === 0) return null
  const sum = (of: string, age: string, what: 'n' | 'amount' | 'due'): number =>
    view.ages
      .filter((row) => row.carrier === of && (age === '' || row.age === age))
      .reduce((total, row) => total + row[what], 0)
  const dueOf = (of: string): readonly number[] =>
    view.refunds.filter((line) => line.carrier === of && line.dueOn <= view.today).map(({ labelId }) => labelId)
  return (
    <table className="mt-2 w-full bg-sheet">
      <thead>
        <tr className="border-y border-hair text-small text-soft">
          <th className="px-3 py-1.5">Carrier</th>
          {ages.map(([id, name]) => (
            <th key={id} className="text-right">
              {name}
            </th>
          ))}
          <th className="text-right">Pending</th>
          <th className="px-3 text-right">Due</th>
          <th>
            <span className="sr-only">Ask again</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {carriers.map((id) => (
          <tr key={id} className={`border-b border-hair/70 ${carrier === id ? 'bg-act-soft' : 'hover:bg-tint'}`}>
            <td className="px-3 py-1">
              <button
                aria-pressed={carrier === id}
                className="min-h-[24px] text-act underline decoration-hair underline-offset-4"
                onClick={() => onCarrier(carrier === id ? null : id)}
              >
                {names.carriers[id] ?? id}
              </button>
            </td>
            {ages.map(([age]) => (
              <td key={age} className="text-right whitespace-nowrap">
                {sum(id, age, 'n') === 0 ? (
                  <span className="text-soft">–</span>
                ) : (
                  <>
                    {homeMoney(sum(id, age, 'amount'))} <span className="text-soft">({count(sum(id, age, 'n'))})</span>
                  </>
                )}
              </td>
            ))}
            <td className="text-right font-semibold whitespace-nowrap">{homeMoney(sum(id, '', 'amount'))}</td>
            <td className={`px-3 text-right whitespace-nowrap ${sum(id, '', 'due') > 0 ? 'text-wait' : 'text-soft'}`}>
              {sum(id, '', 'due') > 0 ? `△ ${homeMoney(sum(id, '', 'due'))}` : '–'}
            </td>
            <td className="pr-2 text-right whitespace-nowrap">
              {sum(id, '', 'due') > 0 && (
                <span className="inline-flex items-center gap-2">
                  {(['csv', 'xlsx'] as const).map((format) => (
                    <a
                      key={format}
                      className="inline-flex min-h-[24px] items-center text-act underline decoration-hair underline-offset-4"
                      href={`/api/ledger/refunds/file?carrier=${encodeURIComponent(id)}&format=${format}`}
                    >
                      {format.toUpperCase()}
                    </a>
                  ))}
                  {dueOf(id).length > 0 && (
                    <Button
                      kind="quiet"
                      onClick={() =>
                        change(
                          () => call('POST /api/ledger/refunds', { body: { labels: dueOf(id) } }),
                          ({ asked }) => say(`${count(asked)} are noted as asked for again`),
                        )
                      }
                    >
                      It was sent
                    </Button>
                  )}
                </span>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

function Lines({
  view,
  names,
  onSettle,
}: {
  view: RefundsView
  names: DeskNames
  onSettle: (line: RefundLine) => void
}) {
  return (
    <table className="w-full bg-sheet">
      <thead>
        <tr className="border-y border-hair text-small text-soft">
          <th className="px-3 py-1.5">Order</th>
          <th>Tracking number</th>
          <th>Service</th>
          <th>Voided</th>
          <th className="px-3">Promised by</th>
          <th>What the carrier says</th>
          <th className="text-right">Amount</th>
          <th>
            <span className="sr-only">Settle</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {view.refunds.map((line) => (
          <tr key={line.labelId} className="border-b border-hair/70 hover:bg-tint">
            <td className="px-3 py-1">
              <OrderLink id={line.orderId} number={line.number} />
            </td>
            <td className="font-mono text-small">{line.trackingNumber}</td>
            <td>{names.services[line.service] ?? line.service}</td>
            <td className="whitespace-nowrap">{shortDay(line.voidedAt)}</td>
            <td className="px-3 whitespace-nowrap">
              {line.state === 'pending' && line.dueOn <= view.today ? (
                <span className="text-wait">△ {shortDay(line.dueOn)}</span>
              ) : (
                shortDay(line.dueOn)
              )}
            </td>
            <td className="max-w-64 truncate" title={line.note}>
              <Standing line={line} />
            </td>
            <td className="text-right whitespace-nowrap">{homeMoney(line.granted ?? line.amount)}</td>
            <td className="pr-2 text-right">
              {line.state === 'pending' && (
                <Button kind="quiet" aria-label={`Settle the refund of ${line.number}`} onClick={() => onSettle(line)}>
                  Settle …
                </Button>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

/** How a refund stands, in words. */
function Standing({ line }: { line: RefundLine }) {
  if (line.state === 'granted') return <span className="text-done">✓ granted {line.note}</span>
  if (line.state === 'refused') return <span className="text-lost">✕ not granted {line.note}</span>
  if (line.asked === 0) return <span className="text-soft">not asked again yet</span>
  return (
    <span className={line.note === '' ? 'text-soft' : 'text-wait'}>
      asked {line.asked === 1 ? 'once' : `${count(line.asked)} times`}
      {line.note && `: ${line.note}`}
    </span>
  )
}
