'use client'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { decisionKinds } from '@/core/rulebook/language'
import type { HandEdit } from '@/core/rulebook/change'
import { withoutRetired, type World } from '@/core/world'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Select, TextArea } from '../../kit/Field'
import { isDecidedByHand, wordsOf } from '../deciding/offers'
import { readColumn } from './readColumn'

const choices = [
  { id: 'weigh', name: 'weight of the items' },
  ...decisionKinds.filter(({ id }) => isDecidedByHand(id)).map(({ id, name }) => ({ id, name })),
] as const

/** A column pasted from a spreadsheet: one value for each order, in the order of the list or behind its number. */
export function PasteColumn({
  orders,
  world,
  pasted,
  onTake,
}: {
  orders: readonly number[]
  world: World
  pasted: string
  onTake: (edit: HandEdit, said: string) => void
}) {
  const [text, setText] = useState(pasted)
  const [of, setOf] = useState<(typeof choices)[number]['id']>('weigh')
  const { data } = useQuery({
    queryKey: ['desk', 'numbers', orders],
    queryFn: () => call('POST /api/desk/numbers', { body: { orders } }),
    enabled: text !== '',
  })
  const numbers = data?.numbers ?? []
  const read = text === '' || !data ? null : readColumn(text, numbers, of, wordsOf(withoutRetired(world)))
  const name = choices.find(({ id }) => id === of)!.name
  return (
    <details className="mt-2" open={pasted !== ''}>
      <summary className="cursor-pointer text-act">Paste a column from a spreadsheet</summary>
      <div className="mt-1 grid gap-2 bg-tint p-2.5">
        <label className="flex items-center gap-2">
          <span className="text-soft">What it gives</span>
          <Select value={of} onChange={(event) => setOf(event.target.value as typeof of)}>
            {choices.map(({ id, name: said }) => (
              <option key={id} value={id}>
                {said}
              </option>
            ))}
          </Select>
        </label>
        <TextArea
          aria-label="Values, one line for each order"
          rows={5}
          placeholder={
            'One line for each selected order, as the list has them;\nor two columns: order number and value.'
          }
          className="font-mono text-small"
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
        {read?.wrong && (
          <p role="alert" className="text-lost">
            {read.wrong}
          </p>
        )}
        {read && !read.wrong && (
          <p className="flex items-center gap-3">
            <Button
              onClick={() => {
                onTake({ do: 'each', of, values: read.values }, `${name}: each its own, ${read.values.length} values`)
                setText('')
              }}
            >
              Take {read.values.length} {read.values.length === 1 ? 'value' : 'values'}
            </Button>
            <span className="text-soft">{read.example}</span>
          </p>
        )}
      </div>
    </details>
  )
}
