'use client'
import { useMemo, useState } from 'react'
import { type Condition, piecesOf, refundFor, usuallyKept } from '@/core/returns'
import { money } from '@/core/units'
import type { ReturnToCheck } from '@/usecases/tracking/returns/checkReturn'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Field, TextInput } from '../../kit/Field'
import { moneyText } from '../../kit/format'
import { typedAmount } from '../../kit/read'
import { Tick } from '../../kit/Tick'
import { useChange } from '../../kit/useChange'
import { conditionWords } from './returnWords'

interface Piece {
  readonly item: number
  readonly condition: Condition | null
  readonly kept: boolean
}
interface Paid {
  readonly amount: number
  readonly currency: string
  readonly paidByChannel: boolean
}

/** One return on the bench: piece by piece how it came and whether it is kept, then what its buyer gets. */
export function CheckReturn({
  row,
  onDone,
  onBack,
}: {
  row: ReturnToCheck
  onDone: (paid: Paid) => void
  onBack: () => void
}) {
  const [pieces, setPieces] = useState<readonly Piece[]>(() =>
    row.items.flatMap(({ item, quantity }) =>
      Array.from({ length: quantity }, () => ({ item, condition: null, kept: false })),
    ),
  )
  const [withShipping, setShipping] = useState(true)
  const [typed, setTyped] = useState('')
  const [note, setNote] = useState('')
  const change = useChange(['returns'])
  const put = (at: number, next: Partial<Piece>): void =>
    setPieces(pieces.map((piece, i) => (i === at ? { ...piece, ...next } : piece)))
  const all = pieces.every(({ condition }) => condition !== null)
  const due = useMemo(() => dueFor(row, pieces, withShipping), [row, pieces, withShipping])
  const amount = typed.trim() === '' ? due : typedAmount(typed, row.currency)
  const text = (minor: number): string => moneyText(money(minor, row.currency))
  const settle = (): Promise<boolean> =>
    change(
      () =>
        call('PUT /api/tracking/returns/arrivals', {
          body: {
            id: row.id,
            found: pieces.map(({ item, condition, kept }) => ({
              ...{ item, quantity: 1, condition: condition!, kept: kept && condition !== 'not there' },
            })),
            ...{ amount: typed.trim() === '' ? null : amount, withShipping, note },
          },
        }),
      onDone,
    )
  return (
    <section
      aria-label="Return"
      className="grid gap-6 min-[900px]:grid-cols-[1fr_22rem]"
      onKeyDown={(event) => {
        if (event.key === 'Escape') onBack()
      }}
    >
      <div>
        {row.words && <p className="mb-2 text-lead">“{row.words}”</p>}
        {row.photos.map((id) => (
          <img
            key={id}
            src={`/api/tracking/returns/photos/${id}`}
            alt="What the buyer shows"
            className="mb-3 max-h-48"
          />
        ))}
        <ul>
          {pieces.map((piece, at) => {
            const { sku, title } = row.items.find(({ item }) => item === piece.item)!
            const name = `${title || sku}, piece ${pieces.slice(0, at + 1).filter(({ item }) => item === piece.item).length}`
            return (
              <li key={at} className="flex flex-wrap items-center gap-x-4 gap-y-2 border-b border-hair py-2">
                <span className="min-w-0 flex-1 text-lead">
                  {title || sku} <span className="font-mono text-small text-soft">{sku}</span>
                </span>
                <span role="group" aria-label={name} className="flex flex-wrap">
                  {conditionWords.map(([condition, words], i) => (
                    <button
                      key={condition}
                      type="button"
                      autoFocus={at === 0 && i === 0}
                      aria-pressed={piece.condition === condition}
                      className={`min-h-11 border-y border-r border-hair px-3 first:border-l ${piece.condition === condition ? 'bg-act text-paper' : 'bg-sheet hover:bg-tint'}`}
                      onClick={() => put(at, { condition, kept: usuallyKept(condition) })}
                    >
                      {words}
                    </button>
                  ))}
                </span>
                <span className="w-32">
                  {piece.condition !== null && piece.condition !== 'not there' && (
                    <Tick
                      label="into the stock"
                      name={`Into the stock: ${name}`}
                      on={piece.kept}
                      onChange={(kept) => put(at, { kept })}
                    />
                  )}
                </span>
              </li>
            )
          })}
        </ul>
      </div>
      <form
        className="grid content-start gap-3"
        onSubmit={(event) => {
          event.preventDefault()
          if (all && amount !== null) void settle()
        }}
      >
        <p className="text-soft">The buyer gets back</p>
        <p className="text-[40px] leading-none font-bold tabular-nums">
          {amount === null || !all ? '–' : text(amount)}
        </p>
        {row.off > 0 && <p className="text-soft">{text(row.off)} for the label are taken off.</p>}
        {row.shipping > 0 && (
          <Tick
            label={`with ${text(row.shipping)} for shipping, once all is back`}
            on={withShipping}
            onChange={setShipping}
          />
        )}
        <Field
          label="Another amount"
          hint={row.paidByChannel ? 'Its channel pays it.' : 'Its channel pays nothing back: somebody does it by hand.'}
          wrong={amount === null ? `Write an amount such as ${text(1250)}.` : undefined}
        >
          <TextInput className="w-full" value={typed} onChange={(event) => setTyped(event.target.value)} />
        </Field>
        <Field label="Note for us">
          <TextInput
            maxLength={500}
            className="w-full"
            value={note}
            onChange={(event) => setNote(event.target.value)}
          />
        </Field>
        <p className="flex gap-3">
          <Button kind="filled" className="py-3 text-head" disabled={!all || amount === null} onClick={settle}>
            {all && amount === 0 ? 'Settle it' : 'Pay it back'}
          </Button>
          <Button kind="quiet" onClick={onBack}>
            Not now
          </Button>
        </p>
        {!all && <p className="text-soft">Say for each piece how it came.</p>}
      </form>
    </section>
  )
}

/** What is due for what is there, as the server works it out. */
function dueFor(row: ReturnToCheck, pieces: readonly Piece[], withShipping: boolean): number {
  const there = pieces.filter(({ condition }) => condition !== null && condition !== 'not there')
  const back = piecesOf(row.priced.items.length, [there.map(({ item }) => ({ item, quantity: 1 }))])
  const goods = refundFor(row.priced, row.before, back).minor
  const whole = there.length === pieces.length
  return Math.max(0, goods + (withShipping && whole ? row.shipping : 0) - row.off)
}
