'use client'
import Link from 'next/link'
import type { DeskNames } from '@/usecases/desk/showDesk'
import type { OrderView } from '@/usecases/desk/showOrder'
import { dayWithYear, homeMoney, shortDay } from '../../kit/format'
import { stateWord } from '../../kit/StateMark'
import { When } from '../../kit/When'

/** Where it is, what comes next, and who was told: to be read out to a customer on the telephone. */
export function ReadOut({ view, names }: { view: OrderView; names: DeskNames }) {
  const label = [...view.labels].reverse().find(({ state }) => state === 'bought')
  if (!label) return null
  const last = view.events.at(-1)
  const told = [...view.notices].reverse().find(({ state }) => state === 'sent')
  const carrier = names.carriers[label.carrier] ?? label.carrier
  const status = label.status ?? 'announced'
  const parcels = label.parcels.length > 1 ? `${label.parcels.length} parcels, ` : ''
  return (
    <section aria-label="Where it is" className="mt-3 border-l-2 border-act pl-3">
      <p>
        <b className="font-semibold">
          {parcels}
          {stateWord(status)}
        </b>{' '}
        with {carrier}.{' '}
        {label.deliveredAt ? (
          <>
            Delivered <When at={label.deliveredAt} />.
          </>
        ) : (
          label.arrivesOn && `Foreseen for ${dayWithYear(label.arrivesOn)}.`
        )}
      </p>
      {last && (
        <p className="text-soft">
          Last seen <When at={last.at} />
          {last.place && `, ${last.place}`}: {last.text || stateWord(last.status)}.
        </p>
      )}
      <p className="text-soft">
        {told ? (
          <>
            The customer was told “{told.step}” <When at={told.sentAt} />.
          </>
        ) : (
          view.unwritten || 'The customer was not told anything yet.'
        )}{' '}
        {view.page && (
          <a className="text-act underline underline-offset-4" href={view.page} target="_blank" rel="noreferrer">
            The customer’s page
          </a>
        )}
      </p>
      {view.claims.map(({ id, kind, amount, state, claimBy }) => (
        <p key={id} className="text-soft">
          {carrier} owes {homeMoney(amount)}: {kind},{' '}
          <Link className="text-act underline underline-offset-4" href={`/ledger/claims?carrier=${label.carrier}`}>
            {state === 'owed' ? `to be claimed by ${shortDay(claimBy)}` : state}
          </Link>
          .
        </p>
      ))}
    </section>
  )
}
