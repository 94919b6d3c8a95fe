'use client'
import { homeSign } from '../../kit/locale'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import type { MoneyView } from '@/usecases/ledger/balances'
import type { InvoiceLook } from '@/usecases/ledger/invoices'
import { call, sendFile } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Confirm } from '../../kit/Confirm'
import { Select, TextInput } from '../../kit/Field'
import { FileDrop } from '../../kit/FileDrop'
import { homeMoney, plainHome } from '../../kit/format'
import { writeHalfDone } from '../../kit/halfDone'
import { Pager } from '../../kit/Pager'
import { useEdit } from '../../kit/useEdit'
import { useSkip } from '../../kit/useSkip'
import { useSay } from '../../kit/Toast'
import { useChange } from '../../kit/useChange'
import { LedgerHead } from '../LedgerHead'
import { Bookings, Corrections, InvoicesTaken } from './Books'
import { type Carrier, CarrierRow, minorOf, topUpOf } from './CarrierRow'
import { InvoicePanel } from './InvoicePanel'

/**
 * Money at the carriers: balances, what was sent, what may be spent on a day, invoices, and the books in double entry.
 */
export function Balance({ initial }: { initial: MoneyView }) {
  const say = useSay()
  const [bookings, setBookings] = useSkip('bookings')
  const [invoices, setInvoices] = useSkip('invoices')
  const { data: view = initial } = useQuery({
    queryKey: ['money', bookings, invoices],
    queryFn: () =>
      call('GET /api/ledger/balance', { query: { bookings: String(bookings), invoices: String(invoices) } }),
    initialData: bookings + invoices === 0 ? initial : undefined,
    placeholderData: keepPreviousData,
    refetchInterval: 10_000,
  })
  const [asking, setAsking] = useState<{ carrier: Carrier; amount: number; key: string } | null>(null)
  const [looked, setLooked] = useState<{ file: File; carrier: string; look: InvoiceLook } | null>(null)
  const [undoing, setUndoing] = useState<MoneyView['invoices'][number] | null>(null)
  const [billing, setBilling] = useState(initial.carriers[0]?.carrier ?? '')
  const change = useChange(['money'])
  const look = (file: File): Promise<boolean> =>
    change(
      () => sendFile('POST /api/ledger/balance/invoices', { query: { carrier: billing }, file }),
      (found) => setLooked({ file, carrier: billing, look: found }),
    )
  const name = (id: string): string => view.carriers.find(({ carrier }) => carrier === id)?.name ?? id
  if (looked)
    return (
      <InvoicePanel
        {...looked}
        carrierName={name(looked.carrier)}
        onCancel={() => setLooked(null)}
        onTake={async (number) => {
          if (
            await change(
              () =>
                sendFile('PUT /api/ledger/balance/invoices', {
                  query: { carrier: looked.carrier, number: number },
                  file: looked.file,
                }),
              'The invoice is taken; its differences are booked',
            )
          )
            setLooked(null)
        }}
      />
    )
  return (
    <div className="flex h-full flex-col">
      <LedgerHead
        at="balance"
        about={
          <>
            <b className="text-ink">{homeMoney(view.spentToday)}</b> spent today
            {view.ceiling !== null && <> of {homeMoney(view.ceiling)}</>}
          </>
        }
      />
      <div className="min-h-0 flex-1 overflow-auto px-5 pb-8" tabIndex={0} role="region" aria-label="Balance">
        <Ceiling
          ceiling={view.ceiling}
          onSet={(ceiling) =>
            change(
              () => call('PUT /api/ledger/balance', { body: { ceiling } }),
              ceiling === null
                ? 'There is no ceiling any more'
                : `At most ${homeMoney(ceiling)} a day without approval`,
            )
          }
        />
        <table className="mt-3 w-full bg-sheet">
          <thead>
            <tr className="border-y border-hair text-small text-soft">
              <th className="px-3 py-1.5">Carrier</th>
              <th className="text-right">Balance {homeSign()}</th>
              <th className="pl-4 text-right">Refunds due {homeSign()}</th>
              <th className="pl-6">Top up by hand, {homeSign()}</th>
              <th>Below this, {homeSign()}</th>
              <th>Top up by, {homeSign()}</th>
              <th>Credit limit, {homeSign()}</th>
              <td className="pr-3" />
            </tr>
          </thead>
          <tbody>
            {view.carriers.map((carrier) => (
              <CarrierRow
                key={carrier.carrier}
                carrier={carrier}
                onTopUp={(minor) => setAsking({ carrier, amount: minor, key: crypto.randomUUID() })}
                onMark={(mark, by) =>
                  change(
                    () => call('PUT /api/ledger/balance', { body: { carrier: carrier.carrier, mark, by } }),
                    mark === null
                      ? `${carrier.name} is topped up by hand only`
                      : `${carrier.name} is topped up by ${homeMoney(by)} below ${homeMoney(mark)}`,
                  )
                }
                onCredit={(credit) =>
                  change(
                    () => call('PUT /api/ledger/balance', { body: { carrier: carrier.carrier, credit } }),
                    credit === null
                      ? `${carrier.name} is paid out of the balance alone`
                      : `${carrier.name} may go ${homeMoney(credit)} below nothing`,
                  )
                }
                onWrong={(sentence) => say(sentence, { tone: 'bad' })}
              />
            ))}
          </tbody>
        </table>
        <div className="mt-5 flex items-end gap-3">
          <label className="flex items-center gap-2 text-soft">
            Invoice of{' '}
            <Select value={billing} onChange={(event) => setBilling(event.target.value)}>
              {view.carriers.map(({ carrier, name: own }) => (
                <option key={carrier} value={carrier}>
                  {own}
                </option>
              ))}
            </Select>
          </label>
          <div className="flex-1">
            <FileDrop id="invoice-file" label="Choose an invoice file" accept=".csv,.xlsx" onFile={look}>
              or drop it here: tracking number, amount, and if known weight and description. Each line is checked
              against what was charged.
            </FileDrop>
          </div>
        </div>
        <div className="mt-5 panes [--panes:1fr_340px] gap-6">
          <div>
            <Bookings view={view} name={name} />
            <Pager skip={bookings} size={view.pageSizes.bookings} total={view.totals.bookings} onSkip={setBookings} />
          </div>
          <div>
            <Corrections corrections={view.corrections} />
            <InvoicesTaken view={view} name={name} onTakeBack={setUndoing} />
            <Pager skip={invoices} size={view.pageSizes.invoices} total={view.totals.invoices} onSkip={setInvoices} />
          </div>
        </div>
      </div>
      <Confirm
        open={undoing !== null}
        danger
        title={`Take back invoice ${undoing?.number ?? ''} of ${name(undoing?.carrier ?? '')}?`}
        action="Take it back"
        onClose={() => setUndoing(null)}
        onConfirm={async () => {
          await change(
            () => call('DELETE /api/ledger/balance/invoices', { body: { invoice: undoing!.id } }),
            'The invoice is taken back; what it booked is booked the other way round',
          )
          setUndoing(null)
        }}
      >
        All that it booked is booked the other way round, and its number may be taken again.
      </Confirm>
      <Confirm
        open={asking !== null}
        title={`Send ${homeMoney(asking?.amount)} to ${asking?.carrier.name ?? ''}?`}
        action={`Top up by ${homeMoney(asking?.amount)}`}
        onClose={() => setAsking(null)}
        onConfirm={async () => {
          const { carrier, amount: minor, key } = asking!
          await change(
            () => call('POST /api/ledger/balance/top-up', { body: { carrier: carrier.carrier, amount: minor, key } }),
            () => {
              writeHalfDone(topUpOf(carrier.carrier), null)
              say(`${carrier.name} has ${homeMoney(minor)} more`)
            },
          )
          setAsking(null)
        }}
      >
        The carrier is told, and when it has the money it is booked from the bank to the balance. The same top-up is
        never sent twice.
      </Confirm>
    </div>
  )
}

function Ceiling({ ceiling, onSet }: { ceiling: number | null; onSet: (ceiling: number | null) => Promise<boolean> }) {
  const edit = useEdit('ceiling', plainHome(ceiling ?? undefined))
  const text = edit.value
  const minor = text.trim() === '' ? null : minorOf(text)
  const wrong = text.trim() !== '' && minor === null
  return (
    <form
      className="flex flex-wrap items-center gap-2 pt-1"
      onSubmit={(event) => {
        event.preventDefault()
        if (!wrong) void onSet(minor).then((done) => done && edit.drop())
      }}
    >
      <label className="flex items-center gap-2 text-soft">
        At most, a day without approval{' '}
        <TextInput
          value={text}
          placeholder="no ceiling"
          onChange={(event) => edit.put(event.target.value)}
          className="w-28 text-right"
        />{' '}
        {homeSign()}
      </label>
      {minor !== ceiling && !wrong && <Button type="submit">Set it</Button>}
      {wrong && (
        <span role="alert" className="text-lost">
          “{text}” is no amount such as 500.00.
        </span>
      )}
      <span className="text-small text-soft">Above it a batch needs a reason, which every order’s history keeps.</span>
    </form>
  )
}
