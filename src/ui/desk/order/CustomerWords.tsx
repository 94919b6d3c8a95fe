'use client'
import { useState } from 'react'
import type { OrderView } from '@/usecases/desk/showOrder'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { TextInput } from '../../kit/Field'
import { useChange } from '../../kit/useChange'
import { When } from '../../kit/When'

/** What the customer wrote and nobody has dealt with yet: each is answered, or read, and closed. */
export function CustomerWords({ view }: { view: OrderView }) {
  const open = view.words.filter(({ closedAt }) => closedAt === null)
  if (open.length === 0) return null
  return (
    <ul className="mt-3 grid gap-2" aria-label="What the customer wrote">
      {open.map((words) => (
        <One key={words.id} words={words} order={view.row.id} />
      ))}
    </ul>
  )
}

function One({ words, order }: { words: OrderView['words'][number]; order: number }) {
  const [answer, setAnswer] = useState('')
  const change = useChange(['order', order], ['desk'], ['board'])
  const report = words.kind === 'report'
  const close = (): Promise<boolean> =>
    change(
      () => call('PUT /api/desk/words', { body: { id: words.id, answer } }),
      report ? 'The case is closed' : 'It is read',
    )
  return (
    <li className={report ? 'bg-lost-soft p-2.5' : 'bg-wait-soft p-2.5'}>
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
        <TextInput
          aria-label="Answer on the customer’s page"
          placeholder="Answer on the customer’s page (optional)"
          value={answer}
          maxLength={1000}
          className="min-w-0 flex-1"
          onChange={(event) => setAnswer(event.target.value)}
        />
        <Button type="submit">{report ? 'Close the case' : 'Read'}</Button>
      </form>
    </li>
  )
}
