'use client'
import { useState } from 'react'
import type { ChannelView } from '@/usecases/intake/showIntake'
import { call } from '../kit/api'
import { Button } from '../kit/Button'
import { Select } from '../kit/Field'
import type { FieldName, ReceivedFile } from './Intake'
import { useChange } from '../kit/useChange'

const isSign = (id: string): boolean => id === 'decimal' || id === 'dates'

function withSign(
  mapping: Readonly<Record<string, string>>,
  id: 'decimal' | 'dates',
  value: string,
): Record<string, string> {
  const rest = Object.fromEntries(Object.entries(mapping).filter(([other]) => other !== id))
  return value === '' ? rest : { ...rest, [id]: value }
}

/** Shows what each column of a file is taken for, before anything is imported. */
export function FileMapper({
  received,
  fields,
  channels,
  onClose,
  onQueued,
}: {
  received: ReceivedFile
  fields: readonly FieldName[]
  channels: readonly ChannelView[]
  onClose: () => void
  onQueued: () => void
}) {
  const { preview } = received
  const [mapping, setMapping] = useState<Record<string, string>>({ ...preview.mapping } as Record<string, string>)
  const takers = channels.filter((candidate) => candidate.can.files)
  const [channel, setChannel] = useState((takers.find(({ id }) => id === received.channel) ?? takers[0])?.id ?? '')
  const missing = fields.filter((field) => field.needed && !mapping[field.id])
  const asks = [
    preview.decimal.asked !== null && !mapping.decimal ? 'which sign is before decimals' : '',
    preview.dates.asked !== null && !mapping.dates ? 'whether day or month comes first' : '',
  ].filter(Boolean)
  const sign = (
    id: 'decimal' | 'dates',
    label: string,
    asked: string | null,
    options: readonly (readonly [string, string])[],
  ) => (
    <label className="flex items-center gap-2">
      {label}
      <Select value={mapping[id] ?? ''} onChange={(event) => setMapping(withSign(mapping, id, event.target.value))}>
        <option value="">{asked === null ? 'as each cell shows' : 'choose'}</option>
        {options.map(([value, name]) => (
          <option key={value} value={value}>
            {name}
          </option>
        ))}
      </Select>
      {asked !== null && <span className="text-soft">“{asked}” can be read in two ways</span>}
    </label>
  )
  const assign = (header: string, field: string): void => {
    const next = Object.fromEntries(
      Object.entries(mapping).filter(([id, column]) => isSign(id) || (column !== header && id !== field)),
    )
    setMapping(field ? { ...next, [field]: header } : next)
  }
  const change = useChange()
  const start = (): Promise<boolean> =>
    change(
      () =>
        call('POST /api/intake/imports', {
          body: { channel, file: received.file, fileName: received.fileName, mapping },
        }),
      onQueued,
    )
  return (
    <section aria-label="Columns of the file" className="mt-3 border border-hair bg-sheet p-3">
      <div className="flex items-center gap-3">
        <h2 className="text-lead">{received.fileName}</h2>
        <label className="flex items-center gap-2 text-soft">
          for{' '}
          <Select value={channel} onChange={(event) => setChannel(event.target.value)}>
            {takers.map((candidate) => (
              <option key={candidate.id} value={candidate.id}>
                {candidate.name}
              </option>
            ))}
          </Select>
        </label>
        <span className="ml-auto flex gap-2">
          <Button kind="quiet" onClick={onClose}>
            Not this file
          </Button>
          <Button kind="plain" disabled={missing.length > 0 || asks.length > 0} onClick={() => start()}>
            Import the file
          </Button>
        </span>
      </div>
      {received.channel !== null && (
        <p role="status" className="mt-1 text-soft">
          A file with these columns came before: they are taken as they were then.
        </p>
      )}
      {missing.length > 0 && (
        <p role="status" className="mt-1 text-wait">
          Choose the column for: {missing.map((field) => field.name).join(', ')}.
        </p>
      )}
      {asks.length > 0 && (
        <p role="status" className="mt-1 text-wait">
          Say for the whole file {asks.join(', and ')}.
        </p>
      )}
      <div className="mt-2 flex flex-wrap gap-x-6 gap-y-1 text-small">
        {sign('decimal', 'Decimals', preview.decimal.asked, [
          ['.', 'after a point: 1,234.50'],
          [',', 'after a comma: 1.234,50'],
        ])}
        {sign('dates', 'Dates', preview.dates.asked, [
          ['ymd', 'year first: 2026-04-03'],
          ['dmy', 'day first: 03/04/2026 is 3 April'],
          ['mdy', 'month first: 03/04/2026 is 4 March'],
        ])}
      </div>
      <div className="mt-2 overflow-x-auto" tabIndex={0} role="region" aria-label="First rows of the file">
        <table className="text-small">
          <thead>
            <tr>
              {preview.headers.map((header) => (
                <th key={header} className="border border-hair bg-tint px-1.5 py-1 align-top">
                  <span className="block max-w-40 truncate font-semibold">{header}</span>
                  <Select
                    aria-label={`What the column ${header} holds`}
                    className="mt-1 w-36"
                    value={Object.entries(mapping).find(([id, column]) => !isSign(id) && column === header)?.[0] ?? ''}
                    onChange={(event) => assign(header, event.target.value)}
                  >
                    <option value="">not used</option>
                    {fields.map((field) => (
                      <option key={field.id} value={field.id}>
                        {field.name}
                        {field.needed ? ' *' : ''}
                      </option>
                    ))}
                  </Select>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {preview.rows.slice(0, 5).map((row, i) => (
              <tr key={i}>
                {preview.headers.map((header, j) => (
                  <td key={header} className="max-w-40 truncate border border-hair px-1.5 py-0.5">
                    {row[j]}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  )
}
