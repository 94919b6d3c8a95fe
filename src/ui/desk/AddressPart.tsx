'use client'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import type { Address } from '@/core/order'
import { call } from '../kit/api'
import { Button } from '../kit/Button'
import { Field, TextInput } from '../kit/Field'
import { useSay } from '../kit/Toast'
import { useChange } from '../kit/useChange'

interface Form {
  readonly name: string
  readonly company: string
  readonly lines: string
  readonly postcode: string
  readonly city: string
  readonly region: string
  readonly country: string
}
const formOf = ({ lines, ...rest }: Address): Form => ({ ...rest, lines: lines.join('\n') })
const addressOf = ({ lines, ...rest }: Form): Address => ({
  ...rest,
  lines: lines
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean),
})
const oneLine = ({ name, company, lines, postcode, city, region, country }: Address): string =>
  [name, company, ...lines, [postcode, city].filter(Boolean).join(' '), region, country].filter(Boolean).join(', ')

/**
 * What is wrong with an order's address: take the proposed mend, write it anew, or use it as it is. What is decided is
 * remembered for that address.
 */
export function AddressPart({ order, waiting }: { order: number; waiting: boolean }) {
  const change = useChange(['address', order], ['order', order], ['desk'], ['line'])
  const look = useChange()
  const say = useSay()
  const { data } = useQuery({
    queryKey: ['address', order],
    queryFn: () => call('GET /api/desk/orders/:id/address', { path: { id: String(order) } }),
  })
  const [form, setForm] = useState<Form | null>(null)
  const [block, setBlock] = useState('')
  if (!data) return <p className="text-soft">Looking at the address …</p>
  const { address, problems, proposed } = data
  const put = (next: Address | null, said: string): Promise<boolean> =>
    change(
      () => call('PUT /api/desk/orders/:id/address', { path: { id: String(order) }, body: { address: next } }),
      () => {
        setForm(null)
        say(said)
      },
    )
  const read = (): Promise<boolean> =>
    look(
      () => call('POST /api/desk/address', { body: { text: block, country: address.country } }),
      (answer) => {
        setForm(formOf(answer.address))
        setBlock('')
      },
    )
  return (
    <div>
      <p>{oneLine(address)}</p>
      {problems.length > 0 && (
        <ul className="mt-1" aria-label="Problems of the address">
          {problems.map((problem) => (
            <li key={problem.code} className="text-wait">
              △ {problem.sentence}
            </li>
          ))}
        </ul>
      )}
      {waiting && proposed && !form && (
        <p className="mt-1.5 bg-done-soft p-2">
          <span className="text-small text-soft">Proposed: </span>
          {oneLine(proposed)}
        </p>
      )}
      {waiting && !form && (
        <p className="mt-1.5 flex flex-wrap gap-2">
          {proposed && (
            <Button onClick={() => void put(proposed, 'The corrected address is used, and remembered')}>
              Use correction
            </Button>
          )}
          <Button kind="quiet" onClick={() => setForm(formOf(address))}>
            Edit the address
          </Button>
          {problems.length > 0 && (
            <Button kind="quiet" onClick={() => void put(null, 'The address is used as it is, and remembered')}>
              Use it as it is
            </Button>
          )}
        </p>
      )}
      {form && (
        <form
          className="mt-2 grid gap-2 bg-tint p-2.5"
          onSubmit={(event) => {
            event.preventDefault()
            void put(addressOf(form), 'The address is changed, and remembered')
          }}
          onKeyDown={(event) => {
            if (event.key === 'Escape') {
              event.stopPropagation()
              setForm(null)
            }
          }}
        >
          <div className="flex items-end gap-2">
            <label className="grid flex-1 gap-1">
              <span className="text-small text-soft">Paste a whole address</span>
              <textarea
                rows={2}
                value={block}
                onChange={(event) => setBlock(event.target.value)}
                className="w-full rounded-[3px] border border-hair bg-sheet px-2 py-1"
              />
            </label>
            <Button disabled={block.trim() === ''} onClick={() => void read()}>
              Into fields
            </Button>
          </div>
          <div className="grid grid-cols-2 gap-2">
            {text(form, setForm, 'name', 'Name')}
            {text(form, setForm, 'company', 'Company')}
            <label className="col-span-2 grid gap-1">
              <span className="text-small text-soft">Street lines</span>
              <textarea
                rows={Math.max(2, form.lines.split('\n').length)}
                value={form.lines}
                onChange={(event) => setForm({ ...form, lines: event.target.value })}
                className="w-full rounded-[3px] border border-hair bg-sheet px-2 py-1"
              />
            </label>
            {text(form, setForm, 'postcode', 'Postcode')}
            {text(form, setForm, 'city', 'City')}
            {text(form, setForm, 'region', 'Region')}
            {text(form, setForm, 'country', 'Country')}
          </div>
          <p className="flex gap-2">
            <Button type="submit">Use this address</Button>
            <Button kind="quiet" onClick={() => setForm(null)}>
              Cancel
            </Button>
          </p>
        </form>
      )}
    </div>
  )
}

const text = (form: Form, setForm: (next: Form) => void, key: keyof Form, label: string) => (
  <Field key={key} label={label}>
    <TextInput
      value={form[key]}
      onChange={(event) => setForm({ ...form, [key]: event.target.value })}
      className="w-full"
    />
  </Field>
)
