'use client'
import { useState } from 'react'
import { z } from 'zod'
import type { DeskNames } from '@/usecases/desk/showDesk'
import { call, Refusal } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Field, Select, TextArea } from '../../kit/Field'
import { Resumed } from '../../kit/Resumed'
import { useSay } from '../../kit/Toast'
import { useChange } from '../../kit/useChange'
import { useEditForm } from '../../kit/useEditForm'

const ownNumber = z.object({
  carrier: z.string(),
  numbers: z.string().trim().min(1, 'Enter the tracking number under which it left.'),
})
type Values = z.infer<typeof ownNumber>
const blank: Values = { carrier: '', numbers: '' }

/** The number under which an order left without a label of ours: from the counter, or from a partner. */
export function OwnNumber({ order, names }: { order: number; names: DeskNames }) {
  const [opened, setOpen] = useState(false)
  const { form, edit } = useEditForm<Values, Values>(`own number ${order}`, blank, ownNumber)
  const open = opened || edit.editing
  const leave = (): void => {
    edit.drop()
    setOpen(false)
  }
  const say = useSay()
  const change = useChange(['order', order], ['desk'], ['line'], ['tracking'])
  const save = async ({ carrier, numbers }: Values): Promise<void> => {
    const body = {
      carrier,
      numbers: numbers
        .split(/[\n,;]+/)
        .map((one) => one.trim())
        .filter(Boolean),
    }
    const atField = (error: unknown): never => {
      if (error instanceof Refusal) form.setError('numbers', { message: error.message })
      throw error
    }
    await change(
      () => call('POST /api/desk/orders/:id/numbers', { path: { id: String(order) }, body }).catch(atField),
      () => {
        leave()
        say('The number is on the order; channel and customer are told')
      },
    )
  }
  if (!open)
    return (
      <p className="mt-3">
        <Button kind="quiet" onClick={() => setOpen(true)}>
          It left without a label from here …
        </Button>
      </p>
    )
  return (
    <form
      className="mt-3 grid gap-2 border border-hair p-3"
      aria-label="It left without a label from here"
      noValidate
      onSubmit={(event) => void form.handleSubmit(save)(event)}
      onKeyDown={(event) => {
        if (event.key !== 'Escape') return
        event.stopPropagation()
        leave()
      }}
    >
      <Resumed edit={edit} onDrop={leave} />
      <Field
        label="Tracking number"
        hint="Scanned, typed or pasted; blanks are forgiven. Several parcels: one a line."
        wrong={form.formState.errors.numbers?.message}
      >
        <TextArea rows={2} className="w-full font-mono" autoFocus {...form.register('numbers')} />
      </Field>
      <Field label="Carrier" hint="Left open, the form of the number says it.">
        <Select {...form.register('carrier')}>
          <option value="">as the number says</option>
          {Object.entries(names.carriers).map(([id, name]) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </Select>
      </Field>
      <p className="flex gap-2">
        <Button
          kind="filled"
          calls="POST /api/desk/orders/:id/numbers"
          type="submit"
          disabled={form.formState.isSubmitting}
        >
          It has left
        </Button>
        <Button kind="quiet" onClick={leave}>
          Cancel
        </Button>
      </p>
    </form>
  )
}
