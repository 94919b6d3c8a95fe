'use client'
import { useState } from 'react'
import { useForm } from 'react-hook-form'
import type { DeskNames } from '@/usecases/desk/showDesk'
import { call, Refusal } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Field, Select, TextArea } from '../../kit/Field'
import { useChange } from '../../kit/useChange'

interface Values {
  carrier: string
  numbers: string
}

/** The number under which an order left without a label of ours: from the counter, or from a partner. */
export function OwnNumber({ order, names }: { order: number; names: DeskNames }) {
  const [open, setOpen] = useState(false)
  const form = useForm<Values>({ defaultValues: { carrier: '', numbers: '' } })
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
      'The number is on the order; channel and customer are told',
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
        setOpen(false)
      }}
    >
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
        <Button kind="filled" type="submit" disabled={form.formState.isSubmitting}>
          It has left
        </Button>
        <Button kind="quiet" onClick={() => setOpen(false)}>
          Cancel
        </Button>
      </p>
    </form>
  )
}
