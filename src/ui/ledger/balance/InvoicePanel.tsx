'use client'
import { homeSign } from '../../kit/locale'
import Link from 'next/link'
import { useState } from 'react'
import type { InvoiceLook } from '@/usecases/ledger/invoices'
import { Button } from '../../kit/Button'
import { TextInput } from '../../kit/Field'
import { amount, count, homeMoney } from '../../kit/format'
import { LedgerHead } from '../LedgerHead'

/** A carrier's invoice beside what labels were charged for, before it is booked. */
export function InvoicePanel({
  file,
  carrierName,
  look,
  onTake,
  onCancel,
}: {
  file: File
  carrierName: string
  look: InvoiceLook
  onTake: (number: string) => Promise<void>
  onCancel: () => void
}) {
  const [number, setNumber] = useState(file.name.replace(/\.\w+$/, ''))
  const [busy, setBusy] = useState(false)
  const difference = look.billed - look.expected
  return (
    <div className="flex h-full flex-col">
      <LedgerHead
        at="balance"
        about={
          <>
            Invoice of <b className="text-ink">{carrierName}</b>, not taken yet
          </>
        }
      >
        <label className="flex items-center gap-2 text-soft">
          Number <TextInput value={number} onChange={(event) => setNumber(event.target.value)} className="w-36" />
        </label>
        <Button onClick={onCancel}>Put it away</Button>
        {look.problems.length === 0 && (
          <Button
            kind="filled"
            calls="PUT /api/ledger/balance/invoices"
            disabled={busy}
            onClick={() => {
              setBusy(true)
              void onTake(number).finally(() => setBusy(false))
            }}
          >
            Take it
          </Button>
        )}
      </LedgerHead>
      <div className="min-h-0 flex-1 overflow-auto px-5 pb-8" tabIndex={0} role="region" aria-label="Invoice">
        <p className="py-2">
          {count(look.lines)} lines: <b>{homeMoney(look.billed)}</b> billed, {homeMoney(look.expected)} charged when the
          labels were bought
          {difference !== 0 && (
            <>
              ,{' '}
              <b className={difference > 0 ? 'text-lost' : 'text-done'}>
                {difference > 0 ? '+' : '−'}
                {homeMoney(Math.abs(difference))}
              </b>
            </>
          )}
          .
        </p>
        {look.problems.length > 0 && (
          <ul className="mb-3 bg-lost-soft p-3" aria-label="What cannot be read">
            {look.problems.slice(0, 100).map((problem, i) => (
              <li key={i} className="text-lost">
                Line {problem.line}: {problem.sentence}
              </li>
            ))}
          </ul>
        )}
        {look.differing.length === 0 ? (
          <p className="text-done">Every line is what was charged.</p>
        ) : (
          <table className="w-full bg-sheet">
            <thead>
              <tr className="border-y border-hair text-small text-soft">
                <th className="px-3 py-1">Line</th>
                <th>Tracking number</th>
                <th>Order</th>
                <th>Why</th>
                <th className="text-right">Charged {homeSign()}</th>
                <th className="text-right">Billed {homeSign()}</th>
                <th className="pr-3 text-right">Difference</th>
              </tr>
            </thead>
            <tbody>
              {look.differing.map((row) => {
                const by = row.billed - (row.expected ?? 0)
                return (
                  <tr key={row.line} className="border-b border-hair/60">
                    <td className="px-3 py-1">{row.line}</td>
                    <td className="font-mono text-small">{row.trackingNumber}</td>
                    <td className="font-mono text-small">
                      {row.orderId === null ? (
                        ''
                      ) : (
                        <Link
                          className="text-act underline decoration-hair underline-offset-4"
                          href={`/desk?order=${row.orderId}&q=${encodeURIComponent(row.number)}`}
                        >
                          {row.number}
                        </Link>
                      )}
                    </td>
                    <td>{row.what}</td>
                    <td className="text-right text-soft">{amount(row.expected)}</td>
                    <td className="text-right">{amount(row.billed)}</td>
                    <td className={`pr-3 text-right ${by > 0 ? 'text-lost' : 'text-done'}`}>
                      {by > 0 ? '+' : '−'}
                      {amount(Math.abs(by))}
                    </td>
                  </tr>
                )
              })}
            </tbody>
          </table>
        )}
      </div>
    </div>
  )
}
