import type { MoneyView } from '@/usecases/ledger/balances'
import { Button } from '../../kit/Button'
import { amount, count } from '../../kit/format'
import { homeSign } from '../../kit/locale'
import { When } from '../../kit/When'

type Named = (carrier: string) => string

/** What was booked last, in double entry. */
export function Bookings({ view: { bookings, totals }, name }: { view: MoneyView; name: Named }) {
  return (
    <section>
      <h2 className="mb-1 text-lead">Bookings</h2>
      {totals.bookings === 0 ? (
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
            {bookings.map((booking) => (
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
  )
}

/** What invoices charged more or less than the label, by the rule that chose it. */
export function Corrections({ corrections }: { corrections: MoneyView['corrections'] }) {
  return (
    <section>
      <h2 className="mb-1 text-lead">Corrections by rule</h2>
      {corrections.length === 0 ? (
        <p className="text-soft">No invoice of the last 90 days differed.</p>
      ) : (
        <table className="w-full bg-sheet">
          <tbody>
            {corrections.map((row) => (
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
  )
}

/** The invoices that were taken, each of which can be taken back. */
export function InvoicesTaken({
  view: { invoices, totals },
  name,
  onTakeBack,
}: {
  view: MoneyView
  name: Named
  onTakeBack: (invoice: MoneyView['invoices'][number]) => void
}) {
  return (
    <section className="mt-4">
      <h2 className="mb-1 text-lead">Invoices taken</h2>
      {totals.invoices === 0 ? (
        <p className="text-soft">None yet.</p>
      ) : (
        <table className="w-full bg-sheet">
          <tbody>
            {invoices.map((invoice) => (
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
                    <Button kind="quiet" className="-ml-1.5 px-0 py-0 text-small" onClick={() => onTakeBack(invoice)}>
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
  )
}
