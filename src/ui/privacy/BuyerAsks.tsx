'use client'
import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import type { AnswerOf } from '@/usecases/endpoints'
import { call } from '../kit/api'
import { Button } from '../kit/Button'
import { Confirm } from '../kit/Confirm'
import { Field, TextInput } from '../kit/Field'
import { orderCount } from '../kit/format'
import { useBarred } from '../kit/person'
import { StateMark } from '../kit/StateMark'
import { useSay } from '../kit/Toast'
import { useChange } from '../kit/useChange'
import { When } from '../kit/When'

type Found = AnswerOf<'POST /api/setup/privacy/buyer'>['orders']

/** A buyer wants to have, or to be out of, what is known of them. */
export function BuyerAsks() {
  const [who, setWho] = useState('')
  const [asked, setAsked] = useState('')
  const barred = useBarred()('POST /api/setup/privacy/buyer')
  const look = useMutation({
    mutationFn: (who: string) => call('POST /api/setup/privacy/buyer', { body: { who } }),
    onSuccess: (_, who) => setAsked(who),
  })
  const search = (): Promise<unknown> =>
    who.trim() === '' ? Promise.resolve() : look.mutateAsync(who.trim()).catch(() => undefined)
  return (
    <section aria-label="A buyer asks">
      <h2 className="text-lead font-semibold">A buyer asks</h2>
      <p className="mt-1 max-w-prose text-soft">
        What is known of them can be taken away as a file, or out of the books. Backups forget it too when they are
        restored.
      </p>
      <form
        className="mt-3 flex items-end gap-3"
        title={barred ?? undefined}
        onSubmit={(event) => {
          event.preventDefault()
          void search()
        }}
      >
        <Field label="E-mail address or order number">
          <TextInput
            className="w-72"
            value={who}
            onChange={(event) => setWho(event.target.value)}
            disabled={!!barred}
          />
        </Field>
        <Button calls="POST /api/setup/privacy/buyer" onClick={search}>
          Look
        </Button>
      </form>
      {look.data && <BuyersOrders who={asked} found={look.data.orders} again={() => look.mutateAsync(asked)} />}
    </section>
  )
}

function BuyersOrders({ who, found, again }: { who: string; found: Found; again: () => Promise<unknown> }) {
  const [asking, setAsking] = useState(false)
  const change = useChange(['privacy'])
  const say = useSay()
  const known = found.filter(({ forgottenAt }) => forgottenAt === null)
  const waits = known.filter((order) => order.waits)
  if (found.length === 0) return <p className="mt-3">The books know no order of {who}.</p>
  const takeAway = async (): Promise<void> => {
    await change(
      () => call('POST /api/setup/privacy/copy', { body: { who } }),
      ({ name, content }) => {
        const link = document.createElement('a')
        link.href = URL.createObjectURL(new Blob([content], { type: 'application/json' }))
        link.download = name
        link.click()
        URL.revokeObjectURL(link.href)
      },
    )
  }
  const forget = async (): Promise<void> => {
    await change(
      () => call('POST /api/setup/privacy/forget', { body: { who, orders: known.map(({ id }) => id) } }),
      ({ receipt, orders }) => {
        setAsking(false)
        say(
          `${orderCount(orders)} no longer ${orders === 1 ? 'says whose it was' : 'say whose they were'}: receipt ${receipt}`,
        )
        void again()
      },
    )
  }
  return (
    <div className="mt-3">
      <ul className="max-h-80 overflow-auto border-t border-hair bg-sheet" aria-label="Orders of this buyer">
        {found.map(({ id, number, state, placedAt, buyer, forgottenAt }) => (
          <li key={id} className="flex gap-4 border-b border-hair/70 px-3 py-1">
            <span className="w-28 shrink-0">{number}</span>
            <span className="w-40 shrink-0">
              <StateMark state={state} />
            </span>
            <span className="w-28 shrink-0 text-soft">
              <When at={placedAt} />
            </span>
            <span className="min-w-0 truncate">{forgottenAt ? 'taken out' : buyer}</span>
          </li>
        ))}
      </ul>
      {waits.length > 0 && (
        <p className="mt-2">
          {orderCount(waits.length)} {waits.length === 1 ? 'is' : 'are'} not over yet: forgetting waits until they are
          delivered or cancelled.
        </p>
      )}
      <div className="mt-3 flex gap-3">
        <Button calls="POST /api/setup/privacy/copy" onClick={takeAway}>
          Take the data away
        </Button>
        <Button
          kind="danger"
          calls="POST /api/setup/privacy/forget"
          disabled={known.length === 0 || waits.length > 0}
          onClick={() => setAsking(true)}
        >
          Forget …
        </Button>
      </div>
      <Confirm
        open={asking}
        title={
          known.length === 1 ? 'Forget whose order this was?' : `Forget whose ${orderCount(known.length)} these were?`
        }
        action="Forget"
        danger
        onConfirm={forget}
        onClose={() => setAsking(false)}
      >
        Names, addresses, letters, photographs and papers of {orderCount(known.length)} are taken out of the books and
        overwritten. It cannot be taken back. Figures stay.
      </Confirm>
    </div>
  )
}
