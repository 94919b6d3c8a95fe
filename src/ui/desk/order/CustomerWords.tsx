'use client'
import { useState } from 'react'
import type { OrderView } from '@/usecases/desk/showOrder'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { TextInput } from '../../kit/Field'
import { useChange } from '../../kit/useChange'
import { When } from '../../kit/When'
import { beginAddress } from './addressForm'

/** What the customer wrote and nobody has dealt with yet: each is answered, or read, and closed. */
export function CustomerWords({ view }: { view: OrderView }) {
  const open = view.words.filter(({ closedAt }) => closedAt === null)
  const asked = view.letters.findLast(({ hold, answeredAt, state }) => hold && !answeredAt && state !== 'dropped')
  if (open.length === 0)
    return asked ? (
      <p className="mt-3 text-soft">
        The buyer was asked <When at={asked.madeAt} />: {asked.about}. No answer yet.
      </p>
    ) : null
  return (
    <ul className="mt-3 grid gap-2" aria-label="What the customer wrote">
      {open.map((words) => (
        <One key={words.id} words={words} order={view.row.id} country={view.order.shipTo.country} />
      ))}
    </ul>
  )
}

function One({ words, order, country }: { words: OrderView['words'][number]; order: number; country: string }) {
  const [answer, setAnswer] = useState('')
  const change = useChange(['order', order], ['desk'], ['board'], ['line'])
  const report = words.kind === 'report'
  const asked = words.letterId !== null
  const close = (): Promise<boolean> =>
    change(() => call('PUT /api/desk/words', { body: { id: words.id, answer } }), closedWord(words))
  return (
    <li className={report && !asked ? 'bg-lost-soft p-2.5' : 'bg-wait-soft p-2.5'}>
      <p className="flex items-baseline gap-2">
        <b className="min-w-0 flex-1 font-semibold">{words.sentence}</b>
        <span className="text-soft">
          <When at={words.at} />
        </span>
      </p>
      {words.text && <p className="py-1 whitespace-pre-line">“{words.text}”</p>}
      <form
        className="mt-1 flex gap-2"
        onSubmit={(event) => {
          event.preventDefault()
          void close()
        }}
      >
        {asked ? (
          words.about === 'answer' && <AsAddress order={order} country={country} text={words.text} />
        ) : (
          <TextInput
            aria-label="Answer on the customer’s page"
            placeholder="Answer on the customer’s page (optional)"
            value={answer}
            maxLength={1000}
            className="min-w-0 flex-1"
            onChange={(event) => setAnswer(event.target.value)}
          />
        )}
        <Button type="submit">{closeWord(words)}</Button>
      </form>
    </li>
  )
}

function closeWord({ kind, letterId }: OrderView['words'][number]): string {
  if (letterId !== null) return 'Read: let it go on'
  return kind === 'report' ? 'Close the case' : 'Read'
}

function closedWord({ kind, letterId }: OrderView['words'][number]): string {
  if (letterId !== null) return 'It is read, and the order goes on'
  return kind === 'report' ? 'The case is closed' : 'It is read'
}

/** Puts an answer into the fields of the address, to be looked at there. */
function AsAddress({ order, country, text }: { order: number; country: string; text: string }) {
  const look = useChange()
  return (
    <Button
      kind="quiet"
      onClick={() =>
        look(
          () => call('POST /api/desk/address', { body: { text, country } }),
          ({ address }) => beginAddress(order, address),
        )
      }
    >
      Into the address
    </Button>
  )
}
