'use client'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import Link from 'next/link'
import { parseAsString, parseAsStringLiteral, useQueryStates } from 'nuqs'
import { useState } from 'react'
import type { ClaimsView } from '@/usecases/ledger/claims'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Confirm } from '../../kit/Confirm'
import { TextInput } from '../../kit/Field'
import { count, homeMoney, plainHome, shortDay } from '../../kit/format'
import { home } from '../../kit/locale'
import { typedAmount } from '../../kit/read'
import { OrderLink } from '../../kit/OrderLink'
import { Plain } from '../../kit/Screen'
import { useSay } from '../../kit/Toast'
import { useChange } from '../../kit/useChange'
import { LedgerHead } from '../LedgerHead'
import { aStep } from '../../kit/step'

type Line = ClaimsView['claims'][number]
const stateWords: Readonly<Record<Line['state'], string>> = {
  ...{ owed: 'to be claimed', claimed: 'claimed', granted: 'granted', refused: 'refused', 'let go': 'let go' },
}
const parsers = { carrier: parseAsString, show: parseAsStringLiteral(['settled'] as const) }

/**
 * What carriers owe for parcels that were late, lost or damaged: found, claimed in a file, and booked when it is
 * granted.
 */
export function Claims({ initial }: { initial: ClaimsView }) {
  const [{ carrier, show }, put] = useQueryStates(parsers, aStep)
  const { data } = useQuery({
    queryKey: ['claims', carrier, show],
    queryFn: () =>
      call('GET /api/ledger/claims', {
        query: { ...(show ? { settled: 'yes' } : {}), ...(carrier ? { carrier } : {}) },
      }),
    initialData: carrier === null && show === null ? initial : undefined,
    placeholderData: keepPreviousData,
  })
  const view = data ?? initial
  const [settling, setSettling] = useState<Line | null>(null)
  const [claiming, setClaiming] = useState<string | null>(null)
  const say = useSay()
  const change = useChange(['claims'], ['money'], ['ledger'])
  const name = (id: string): string => view.carriers[id] ?? id
  const owed = view.sums.filter(({ state }) => state === 'owed')
  const total = owed.reduce((sum, { amount }) => sum + amount, 0)
  const due = (of: string): Line[] => view.claims.filter((line) => line.state === 'owed' && line.carrier === of)
  const claim = (): Promise<boolean> =>
    change(
      () => call('POST /api/ledger/claims', { body: { ids: due(claiming!).map(({ id }) => id) } }),
      ({ claimed }) => {
        setClaiming(null)
        say(`${count(claimed)} ${claimed === 1 ? 'claim is' : 'claims are'} marked as claimed`)
      },
    )
  return (
    <div className="flex h-full flex-col">
      <LedgerHead at="claims" about={total > 0 ? `${homeMoney(total)} to be claimed` : 'Nothing to be claimed now'} />
      <div className="flex flex-wrap items-center gap-2 border-b border-hair px-5 pb-2">
        {owed.map((sum) => (
          <div
            key={sum.carrier}
            className={`flex items-center gap-3 border px-3 py-1.5 ${carrier === sum.carrier ? 'border-act bg-act-soft' : 'border-hair bg-sheet'}`}
          >
            <button
              aria-pressed={carrier === sum.carrier}
              className="min-h-[24px] text-left"
              onClick={() => void put({ carrier: carrier === sum.carrier ? null : sum.carrier })}
            >
              <b className="font-semibold">{name(sum.carrier)}</b> {count(sum.n)}, {homeMoney(sum.amount)}{' '}
              <span className="text-soft">the first by {shortDay(sum.firstEnds)}</span>
            </button>
            {(['csv', 'xlsx'] as const).map((format) => (
              <a
                key={format}
                className="flex min-h-[24px] items-center text-act underline decoration-hair underline-offset-4"
                href={`/api/ledger/claims/file?carrier=${encodeURIComponent(sum.carrier)}&format=${format}`}
              >
                {format.toUpperCase()}
              </a>
            ))}
            <Button kind="quiet" onClick={() => setClaiming(sum.carrier)}>
              It was sent …
            </Button>
          </div>
        ))}
        <Button
          kind="quiet"
          className="ml-auto"
          aria-pressed={show === 'settled'}
          onClick={() => put({ show: show ? null : 'settled' })}
        >
          {show ? 'Show what is open' : 'Show what is settled'}
        </Button>
      </div>
      {view.claims.length === 0 ? (
        <Plain title={show ? 'No claim was settled yet' : 'Nothing is owed'}>
          {view.withTerms === 0 ? (
            <p>
              No service says yet what its carrier owes: write it under{' '}
              <Link className="text-act underline" href="/setup/services">
                Set-up, Services
              </Link>
              , and what is late, lost or damaged is found by itself.
            </p>
          ) : (
            <p>
              Once a day Gharry looks for what is late, lost or damaged by the terms of {count(view.withTerms)}{' '}
              {view.withTerms === 1 ? 'service' : 'services'}.
            </p>
          )}
        </Plain>
      ) : (
        <div className="min-h-0 flex-1 overflow-auto bg-sheet" tabIndex={0} role="region" aria-label="Claims">
          <table className="w-full whitespace-nowrap">
            <thead className="sticky top-0 bg-paper">
              <tr className="border-b border-hair text-left text-small text-soft">
                {['For', 'Because', 'Order', 'Tracking number', 'Carrier'].map((head) => (
                  <th key={head} className="px-3 py-1 font-normal first:pl-5">
                    {head}
                  </th>
                ))}
                <th className="px-3 py-1 text-right font-normal">Amount</th>
                <th className="px-3 py-1 font-normal">{show ? 'Settled' : 'Claim by'}</th>
                <th className="px-3 py-1 font-normal">State</th>
                <th className="py-1 pr-5">
                  <span className="sr-only">What comes next</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {view.claims.map((line) => (
                <tr key={line.id} className="border-b border-hair/70">
                  <td className="px-3 py-1 pl-5">{line.kind}</td>
                  <td className="max-w-80 truncate px-3 py-1 text-soft" title={line.reason}>
                    {line.reason}
                  </td>
                  <td className="px-3 py-1">
                    <OrderLink id={line.orderId} number={line.number} />
                  </td>
                  <td className="px-3 py-1 font-mono text-small">{line.trackingNumber}</td>
                  <td className="px-3 py-1">{name(line.carrier)}</td>
                  <td className="px-3 py-1 text-right">{homeMoney(line.granted ?? line.amount)}</td>
                  <td className="px-3 py-1">{shortDay(show ? line.settledAt : line.claimBy)}</td>
                  <td className="px-3 py-1">{stateWords[line.state]}</td>
                  <td className="py-0.5 pr-5 text-right">
                    {(line.state === 'owed' || line.state === 'claimed') && (
                      <Button kind="quiet" onClick={() => setSettling(line)}>
                        Settle …
                      </Button>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {settling && (
        <Settle
          line={settling}
          carrier={name(settling.carrier)}
          onClose={() => setSettling(null)}
          onSettle={async (granted, note) => {
            const body = { id: settling.id, granted, note }
            const said = granted > 0 ? `${homeMoney(granted)} is booked` : 'It is written down as refused'
            if (await change(() => call('PUT /api/ledger/claims', { body }), said)) setSettling(null)
          }}
        />
      )}
      <Confirm
        open={claiming !== null}
        title={`Was the file sent to ${name(claiming ?? '')}?`}
        action="It was sent"
        onClose={() => setClaiming(null)}
        onConfirm={() => claim()}
      >
        <p>
          {count(due(claiming ?? '').length)} claims stand as claimed from then on, and are in no file any more. Nothing
          is booked before the carrier grants it.
        </p>
      </Confirm>
    </div>
  )
}

function Settle({
  line,
  carrier,
  onClose,
  onSettle,
}: {
  line: Line
  carrier: string
  onClose: () => void
  onSettle: (granted: number, note: string) => Promise<void>
}) {
  const [typed, setTyped] = useState(plainHome(line.amount))
  const [note, setNote] = useState('')
  const granted = typedAmount(typed, home())
  const wrong =
    granted === null || granted < 0 || granted > line.amount
      ? `Enter an amount up to ${homeMoney(line.amount)}; 0 when it was refused.`
      : ''
  return (
    <Confirm
      open
      title={`What did ${carrier} grant?`}
      action={granted === 0 ? 'It was refused' : 'Book it'}
      onClose={onClose}
      onConfirm={() => (wrong === '' ? onSettle(granted!, note) : undefined)}
    >
      <p className="text-soft">
        {line.number}, {line.kind}: {line.reason}. Claimed: {homeMoney(line.amount)}.
      </p>
      <label className="mt-2 grid gap-1">
        <span className="text-small text-soft">Granted</span>
        <TextInput value={typed} aria-invalid={wrong !== ''} onChange={(event) => setTyped(event.target.value)} />
      </label>
      {wrong && (
        <p role="alert" className="text-small text-lost">
          {wrong}
        </p>
      )}
      <label className="mt-2 grid gap-1">
        <span className="text-small text-soft">Note, such as the number of the credit note</span>
        <TextInput value={note} maxLength={300} onChange={(event) => setNote(event.target.value)} />
      </label>
    </Confirm>
  )
}
