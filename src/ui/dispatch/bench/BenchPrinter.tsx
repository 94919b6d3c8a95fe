'use client'
import { useState } from 'react'
import type { BenchDay } from '@/usecases/dispatch/bench/showBench'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Field, Select, TextInput } from '../../kit/Field'
import { useChange } from '../../kit/useChange'

const hints = {
  none: 'Papers open in the browser when they are asked for.',
  raw: 'Its name or number in your network; the port is 9100 if you name none. It gets ZPL.',
  ipp: 'Its address, such as http://10.0.0.8:631/ipp/print. It gets PDF.',
} as const

/** The printer of this bench, and when it prints. */
export function BenchPrinter({
  bench,
  settings,
  onClose,
}: {
  bench: string
  settings: BenchDay['settings']
  onClose: () => void
}) {
  const [value, setValue] = useState(settings)
  const change = useChange(['bench'])
  const save = async (): Promise<void> => {
    const done = await change(
      () => call('PUT /api/dispatch/bench/settings', { body: { bench, settings: value } }),
      'Kept for this bench',
    )
    if (done) onClose()
  }
  return (
    <form
      aria-label="Printer and scale of this bench"
      className="m-4 grid max-w-2xl gap-3 bg-sheet p-4"
      onSubmit={(event) => {
        event.preventDefault()
        void save()
      }}
      onKeyDown={(event) => event.key === 'Escape' && onClose()}
    >
      <h2 className="text-lead">Printer and scale of {bench}</h2>
      <div className="grid gap-3 min-[600px]:grid-cols-2">
        <Field label="Kind">
          <Select
            autoFocus
            value={value.printer}
            onChange={(event) => setValue({ ...value, printer: event.target.value as typeof value.printer })}
          >
            <option value="none">none</option>
            <option value="raw">label printer (ZPL, raw port)</option>
            <option value="ipp">any printer (PDF, IPP)</option>
          </Select>
        </Field>
        <Field label="Prints slip and label">
          <Select
            value={value.prints}
            onChange={(event) => setValue({ ...value, prints: event.target.value as typeof value.prints })}
          >
            <option value="opened">when a parcel is opened</option>
            <option value="checked">when a parcel is complete</option>
            <option value="asked">when somebody asks for it</option>
          </Select>
        </Field>
        <Field label="Address" hint={hints[value.printer]} className="min-[600px]:col-span-2">
          <TextInput
            className="w-full"
            maxLength={300}
            disabled={value.printer === 'none'}
            value={value.address}
            onChange={(event) => setValue({ ...value, address: event.target.value })}
          />
        </Field>
        <Field
          label="Scale"
          hint="Its name or number in your network, or that of its bridge; the port is 4305 if you name none. It is asked by SICS. Empty: weights are typed."
          className="min-[600px]:col-span-2"
        >
          <TextInput
            className="w-full"
            maxLength={300}
            value={value.scale}
            onChange={(event) => setValue({ ...value, scale: event.target.value })}
          />
        </Field>
      </div>
      <p className="flex gap-2">
        <Button type="submit">Save</Button>
        <Button kind="quiet" onClick={onClose}>
          Cancel
        </Button>
      </p>
    </form>
  )
}

/** What went to the printer last: one that did not come is said, and can be sent again. */
export function LastPrint({ prints }: { prints: BenchDay['prints'] }) {
  const [last] = prints
  if (!last || last.state === 'sent') return null
  return (
    <p
      role="status"
      className={`px-4 py-1.5 ${last.state === 'failed' ? 'bg-lost-soft text-lost' : 'bg-wait-soft text-wait'}`}
    >
      {last.state === 'failed' ? '✕ Not printed' : '△ Printing'}: {last.number}
      {last.problem && `. ${last.problem}`}
    </p>
  )
}
