'use client'
import Link from 'next/link'
import { useState } from 'react'
import { returnReasons } from '@/core/returns'
import type { OrderView } from '@/usecases/desk/showOrder'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Field, Select, TextInput } from '../../kit/Field'
import { shortDay } from '../../kit/format'
import { useChange } from '../../kit/useChange'
import { reasonWords } from '../../tracking/returns/returnWords'
import { Section } from './Section'

const stateWords: Readonly<Record<OrderView['returns'][number]['state'], readonly [words: string, list: string]>> = {
  asked: ['waits for an answer', 'asked'],
  making: ['its label is being made', 'awaited'],
  ready: ['with the buyer', 'awaited'],
  coming: ['on its way, or here', 'coming'],
  checked: ['looked at', 'settled'],
  refused: ['refused', 'ended'],
  lapsed: ['its label was not used', 'ended'],
}

/** What comes back of an order; what has arrived can be asked back for somebody on the telephone. */
export function OrderReturns({ view }: { view: OrderView }) {
  const [asking, setAsking] = useState(false)
  const there = view.labels.findLast(({ state, deliveredAt }) => state === 'bought' && deliveredAt !== null)
  if (view.returns.length === 0 && !there) return null
  return (
    <Section
      title="Returns"
      action={
        there && !asking ? (
          <Button kind="quiet" onClick={() => setAsking(true)}>
            Something comes back …
          </Button>
        ) : undefined
      }
    >
      {view.returns.length === 0 && !asking && <p className="text-soft">Nothing comes back.</p>}
      {view.returns.map(({ id, state, reason, number, askedAt, pieces }) => {
        const [words, list] = stateWords[state]
        return (
          <p key={id} className="border-b border-hair/60 py-1">
            <Link
              className="text-act underline decoration-hair underline-offset-4"
              href={`/tracking/returns?list=${list}`}
            >
              {words}
            </Link>{' '}
            {pieces} {pieces === 1 ? 'piece' : 'pieces'}
            {reason && `, ${reasonWords[reason] ?? reason}`}, <span className="text-soft">{shortDay(askedAt)}</span>
            {number && <span className="block font-mono text-small">{number}</span>}
          </p>
        )
      })}
      {asking && there && <AskFor view={view} label={there.id} onDone={() => setAsking(false)} />}
    </Section>
  )
}

function AskFor({ view, label, onDone }: { view: OrderView; label: number; onDone: () => void }) {
  const [pieces, setPieces] = useState<Readonly<Record<number, string>>>({})
  const [reason, setReason] = useState('')
  const [words, setWords] = useState('')
  const change = useChange(['order', view.row.id], ['returns'])
  const wanted = view.order.items.flatMap((_, item) => {
    const quantity = Number(pieces[item] ?? '')
    return Number.isInteger(quantity) && quantity > 0 ? [{ item, quantity }] : []
  })
  const ask = (): Promise<void> =>
    change(
      () => call('POST /api/tracking/returns', { body: { label, pieces: wanted, reason, words } }),
      'Asked for, as the rules say',
    ).then((done) => void (done && onDone()))
  return (
    <form
      className="grid gap-2 border-l-2 border-act py-1 pl-3"
      onSubmit={(event) => {
        event.preventDefault()
        void ask()
      }}
      onKeyDown={(event) => {
        if (event.key !== 'Escape') return
        event.stopPropagation()
        onDone()
      }}
    >
      {view.order.items.map(({ sku, title, quantity }, item) => (
        <label key={item} className="flex items-center gap-2">
          <TextInput
            autoFocus={item === 0}
            inputMode="numeric"
            aria-label={`Pieces of ${title || sku}`}
            className="w-14 text-right"
            value={pieces[item] ?? ''}
            onChange={(event) => setPieces({ ...pieces, [item]: event.target.value.replace(/\D/g, '').slice(0, 6) })}
          />
          <span className="text-soft">of {quantity}</span> {title || sku}
        </label>
      ))}
      <Field label="Why">
        <Select value={reason} onChange={(event) => setReason(event.target.value)}>
          <option value="" disabled>
            choose
          </option>
          {returnReasons.map((one) => (
            <option key={one} value={one}>
              {reasonWords[one]}
            </option>
          ))}
        </Select>
      </Field>
      <Field label="In their words">
        <TextInput maxLength={1000} value={words} onChange={(event) => setWords(event.target.value)} />
      </Field>
      <p className="flex gap-2">
        <Button type="submit" disabled={wanted.length === 0 || reason === ''}>
          Ask for it
        </Button>
        <Button kind="quiet" onClick={onDone}>
          Not now
        </Button>
      </p>
    </form>
  )
}
