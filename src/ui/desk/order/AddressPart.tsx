'use client'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import type { Address } from '@/core/order'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Field, TextArea, TextInput } from '../../kit/Field'
import { writeHalfDone } from '../../kit/halfDone'
import { Resumed } from '../../kit/Resumed'
import { useSay } from '../../kit/Toast'
import { useHalfDone } from '../../kit/useEdit'
import { useEditForm } from '../../kit/useEditForm'
import { useChange } from '../../kit/useChange'
import { addressForm, addressOf, type Form, formOf, halfOf } from './addressForm'

const oneLine = ({ name, company, lines, postcode, city, region, country }: Address): string =>
  [name, company, ...lines, [postcode, city].filter(Boolean).join(' '), region, country].filter(Boolean).join(', ')

/**
 * What is wrong with an order's address: take the proposed correction, write it again, or use it as it is. What is
 * decided is remembered for that address.
 */
export function AddressPart({ order, waiting }: { order: number; waiting: boolean }) {
  const change = useChange(['address', order], ['order', order], ['desk'], ['line'])
  const say = useSay()
  const { data } = useQuery({
    queryKey: ['address', order],
    queryFn: () => call('GET /api/desk/orders/:id/address', { path: { id: String(order) } }),
  })
  const [opened, setOpened] = useState(false)
  const half = halfOf(order)
  const begun = useHalfDone().has(half)
  const editing = opened || begun
  if (!data) return <p className="text-soft">Looking at the address …</p>
  const { address, problems, proposed } = data
  const put = (next: Address | null, said: string): Promise<boolean> =>
    change(
      () => call('PUT /api/desk/orders/:id/address', { path: { id: String(order) }, body: { address: next } }),
      () => {
        setOpened(false)
        writeHalfDone(half, null)
        say(said)
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
      {waiting && proposed && !editing && (
        <p className="mt-1.5 bg-done-soft p-2">
          <span className="text-small text-soft">Proposed: </span>
          {oneLine(proposed)}
        </p>
      )}
      {waiting && !editing && (
        <p className="mt-1.5 flex flex-wrap gap-2">
          {proposed && (
            <Button onClick={() => put(proposed, 'The corrected address is used, and remembered')}>
              Use correction
            </Button>
          )}
          <Button kind="quiet" onClick={() => setOpened(true)}>
            Edit the address
          </Button>
          {problems.length > 0 && (
            <Button kind="quiet" onClick={() => put(null, 'The address is used as it is, and remembered')}>
              Use it as it is
            </Button>
          )}
        </p>
      )}
      {waiting && editing && (
        <AddressForm
          order={order}
          address={address}
          onTake={(next) => put(addressOf(next), 'The address is changed, and remembered')}
          onCancel={() => {
            setOpened(false)
            writeHalfDone(half, null)
          }}
        />
      )}
    </div>
  )
}

/** The fields of an address; a whole address that is pasted goes into them. */
function AddressForm({
  order,
  address,
  onTake,
  onCancel,
}: {
  order: number
  address: Address
  onTake: (form: Form) => Promise<unknown>
  onCancel: () => void
}) {
  const [block, setBlock] = useState('')
  const look = useChange()
  const { form, edit } = useEditForm<Form, Form>(halfOf(order), formOf(address), addressForm)
  const { register, handleSubmit, formState } = form
  const read = (): Promise<boolean> =>
    look(
      () => call('POST /api/desk/address', { body: { text: block, country: address.country } }),
      (answer) => {
        edit.put(formOf(answer.address))
        setBlock('')
      },
    )
  const text = (key: keyof Form, label: string) => (
    <Field label={label} wrong={formState.errors[key]?.message}>
      <TextInput className="w-full" {...register(key)} />
    </Field>
  )
  return (
    <form
      className="mt-2 grid gap-2 bg-tint p-2.5"
      onSubmit={(event) =>
        void handleSubmit(async (typed) => {
          await onTake(typed)
        })(event)
      }
      onKeyDown={(event) => {
        if (event.key === 'Escape') {
          event.stopPropagation()
          onCancel()
        }
      }}
    >
      <Resumed edit={edit} onDrop={onCancel} />
      <div className="flex items-end gap-2">
        <Field label="Paste a whole address" className="flex-1">
          <TextArea rows={2} value={block} onChange={(event) => setBlock(event.target.value)} className="w-full" />
        </Field>
        <Button disabled={block.trim() === ''} onClick={() => read()}>
          Into fields
        </Button>
      </div>
      <div className="grid grid-cols-2 gap-2">
        {text('name', 'Name')}
        {text('company', 'Company')}
        <Field label="Street lines" wrong={formState.errors.lines?.message} className="col-span-2">
          <TextArea rows={Math.max(2, edit.value.lines.split('\n').length)} className="w-full" {...register('lines')} />
        </Field>
        {text('postcode', 'Postcode')}
        {text('city', 'City')}
        {text('region', 'Region')}
        {text('country', 'Country')}
      </div>
      <p className="flex gap-2">
        <Button type="submit" calls="PUT /api/desk/orders/:id/address" disabled={formState.isSubmitting}>
          Use this address
        </Button>
        <Button kind="quiet" onClick={onCancel}>
          Cancel
        </Button>
      </p>
    </form>
  )
}
