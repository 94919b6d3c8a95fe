'use client'
import { home, homeSign } from '../../kit/locale'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { typedAmount } from '../../kit/read'
import type { MoneyView } from '@/usecases/ledger/balances'
import type { InvoiceLook } from '@/usecases/ledger/invoices'
import { call, sendFile } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Confirm } from '../../kit/Confirm'
import { Select, TextInput } from '../../kit/Field'
import { FileDrop } from '../../kit/FileDrop'
import { amount, count, homeMoney, plainHome } from '../../kit/format'
import { writeHalfDone } from '../../kit/halfDone'
import { useEdit } from '../../kit/useEdit'
import { useSay } from '../../kit/Toast'
import { useChange } from '../../kit/useChange'
import { LedgerHead } from '../LedgerHead'
import { InvoicePanel } from './InvoicePanel'
import { When } from '../../kit/When'

type Carrier = MoneyView['carriers'][number]
/** The half-done top-up of a carrier. */
const topUpOf = (carrier: string): string => `top-up ${carrier}`
const minorOf = (text: string): number | null => typedAmount(text, home())

/**
 * Money at the carriers: balances, what was sent, what may be spent on a day, invoices, and the books in double entry.
 */
export function Balance({ initial }: { initial: MoneyView }) {
  const say = useSay()
  const { data: view } = useQuery({
    queryKey: ['money'],
    queryFn: () => call('GET /api/ledger/balance'),
    initialData: initial,
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
          <section>
            <h2 className="mb-1 text-lead">Bookings</h2>
            {view.bookings.length === 0 ? (
              <p className="text-soft">Nothing is booked yet.</p>
            ) : (
              <table className="w-full bg-sheet">
                <thead>
                  <tr className="border-y border-hair text-small text-soft">
                    <th className="px-3 py-1">When</th>
                    <th>What</th>
                    <th>Carrier</th>
                    <th>To</th>
                    <th>From</th>
                    <th>For</th>
                    <th className="pr-3 text-right">{homeSign()}</th>
                  </tr>
                </thead>
                <tbody>
                  {view.bookings.map((booking) => (
                    <tr key={booking.id} className="border-b border-hair/60 align-top">
                      <td className="whitespace-nowrap px-3 py-1">
                        <When at={booking.at} />
                      </td>
                      <td className="py-1">{booking.kind}</td>
                      <td className="py-1">{name(booking.carrier)}</td>
                      <td className="py-1">{booking.debit}</td>
                      <td className="py-1">{booking.credit}</td>
                      <td className="py-1 text-small text-soft">
                        <span className="font-mono">{booking.number}</span> {booking.note}
                      </td>
                      <td className="py-1 pr-3 text-right">{amount(booking.amount)}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            )}
          </section>
          <div>
            <section>
              <h2 className="mb-1 text-lead">Corrections by rule</h2>
              {view.corrections.length === 0 ? (
                <p className="text-soft">No invoice of the last 90 days differed.</p>
              ) : (
                <table className="w-full bg-sheet">
                  <tbody>
                    {view.corrections.map((row) => (
                      <tr key={row.rule} className="border-b border-hair/60">
                        <td className="px-3 py-1">
                          {row.rule}
                          <span className="block text-small text-soft">{count(row.orders)} orders</span>
                        </td>
                        <td className={`pr-3 text-right ${row.amount > 0 ? 'text-lost' : 'text-done'}`}>
                          {row.amount > 0 ? '+' : '−'}
                          {amount(Math.abs(row.amount))}
                        </td>
                      </tr>
                    ))}
                  </tbody>
                </table>
              )}
            </section>
            <section className="mt-4">
              <h2 className="mb-1 text-lead">Invoices taken</h2>
              {view.invoices.length === 0 ? (
                <p className="text-soft">None yet.</p>
              ) : (
                <table className="w-full bg-sheet">
                  <tbody>
                    {view.invoices.map((invoice) => (
                      <tr key={invoice.id} className="border-b border-hair/60">
                        <td className="px-3 py-1">
                          {name(invoice.carrier)} {invoice.number}
                          <span className="block text-small text-soft">
                            <When at={invoice.takenAt} /> {invoice.author}
                          </span>
                          {invoice.takenBackAt ? (
                            <span className="block text-small text-wait">
                              taken back <When at={invoice.takenBackAt} />
                            </span>
                          ) : (
                            <Button
                              kind="quiet"
                              className="-ml-1.5 px-0 py-0 text-small"
                              onClick={() => setUndoing(invoice)}
                            >
                              Take back
                            </Button>
                          )}
                        </td>
                        <td className="pr-3 text-right">
                          {amount(invoice.billed)}
                          <span className="block text-small text-soft">
                            {invoice.billed === invoice.expected ? 'as charged' : `${amount(invoice.expected)} charged`}
                          </span>
                        </td>
                      </tr>
                    ))}
                  </tbody>
                </table>
              )}
            </section>
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

function CarrierRow({
  carrier,
  onTopUp,
  onMark,
  onCredit,
  onWrong,
}: {
  carrier: Carrier
  onTopUp: (minor: number) => void
  onMark: (mark: number | null, by: number | null) => Promise<boolean>
  onCredit: (limit: number | null) => Promise<boolean>
  onWrong: (sentence: string) => void
}) {
  const shown = (minor: number | null): string => plainHome(minor ?? undefined)
  const hand = useEdit(topUpOf(carrier.carrier), '')
  const edit = useEdit(`balance ${carrier.carrier}`, {
    mark: shown(carrier.mark),
    by: shown(carrier.topUpBy),
    credit: shown(carrier.creditLimit),
  })
  const form = edit.value
  const field = (label: string, placeholder: string, value: string, put: (text: string) => void) => (
    <TextInput
      aria-label={`${label} of ${carrier.name}`}
      value={value}
      placeholder={placeholder}
      onChange={(event) => put(event.target.value)}
      className="w-24 text-right"
    />
  )
  const read = (text: string): number | null | undefined => (text.trim() === '' ? null : (minorOf(text) ?? undefined))
  const [mark, by, credit] = [read(form.mark), read(form.by), read(form.credit)]
  const save = async (): Promise<void> => {
    if (mark === undefined || by === undefined || credit === undefined)
      return onWrong('Mark, amount and credit limit are amounts such as 250.00, or empty.')
    const marked = form.mark === shown(carrier.mark) && form.by === shown(carrier.topUpBy)
    if (!marked && !(await onMark(mark, by))) return
    if (form.credit !== shown(carrier.creditLimit) && !(await onCredit(credit))) return
    edit.drop()
  }
  const topUp = (): void => {
    const minor = minorOf(hand.value)
    if (minor === null || minor <= 0) onWrong(`“${hand.value}” is no amount above 0, such as 250.00.`)
    else onTopUp(minor)
  }
  return (
    <tr className="border-b border-hair/70">
      <td className="px-3 py-1 font-semibold">
        {carrier.name}
        {carrier.problem && <span className="block text-small font-normal text-lost">{carrier.problem}</span>}
      </td>
      <td className={`text-right ${carrier.balance < 0 ? 'text-lost' : ''}`}>{amount(carrier.balance)}</td>
      <td className="pl-4 text-right">{carrier.due === 0 ? '' : amount(carrier.due)}</td>
      <td className="pl-6">
        <span className="flex items-center gap-2">
          {field('Top-up', '0.00', hand.value, hand.put)}
          {hand.value !== '' && (
            <Button className="py-0.5" calls="POST /api/ledger/balance/top-up" onClick={topUp}>
              Top up
            </Button>
          )}
        </span>
      </td>
      <td>{field('Mark', 'never', form.mark, (text) => edit.put({ ...form, mark: text }))}</td>
      <td>{field('Automatic amount', '', form.by, (text) => edit.put({ ...form, by: text }))}</td>
      <td>{field('Credit limit', 'none', form.credit, (text) => edit.put({ ...form, credit: text }))}</td>
      <td className="pr-3 text-right">
        {edit.editing && (
          <Button kind="quiet" onClick={save}>
            Set it
          </Button>
        )}
      </td>
    </tr>
  )
}
