'use client'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { parseAsString, parseAsStringLiteral, useQueryStates } from 'nuqs'
import { useState } from 'react'
import type { StockView } from '@/usecases/dispatch/stock/showStock'
import type { StockPreview } from '@/usecases/dispatch/stock/stockFile'
import { call, sendFile } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Select, TextInput } from '../../kit/Field'
import { FileDrop } from '../../kit/FileDrop'
import { count } from '../../kit/format'
import { Plain } from '../../kit/Screen'
import { useSay } from '../../kit/Toast'
import { useChange } from '../../kit/useChange'
import { DispatchHead } from '../DispatchHead'
import { StockChannels } from './StockChannels'
import { StockFile } from './StockFile'
import { StockRows } from './StockRows'
import { Pager } from '../../kit/Pager'
import { aStep, typedStep } from '../../kit/step'
import { skipInAddress } from '../../kit/useSkip'

const parsers = {
  location: parseAsString,
  q: parseAsString.withDefault(''),
  only: parseAsStringLiteral(['short', 'none'] as const),
  skip: skipInAddress,
}

/**
 * What stands in stock: counted, promised and free, with all that moved it; and what channels say of it, or are told.
 */
export function Stock({ initial }: { initial: StockView }) {
  const [{ location, q, only, skip }, put] = useQueryStates(parsers, aStep)
  const [file, setFile] = useState<{ file: File; preview: StockPreview } | null>(null)
  const [adding, setAdding] = useState(false)
  const first = location === null && q === '' && only === null && skip === 0
  const { data } = useQuery({
    queryKey: ['stock', location, q, only, skip],
    queryFn: () =>
      call('GET /api/dispatch/stock', {
        query: {
          ...(location ? { location } : {}),
          ...(q === '' ? {} : { search: q }),
          ...(only ? { only } : {}),
          skip: String(skip),
        },
      }),
    initialData: first ? initial : undefined,
    placeholderData: keepPreviousData,
    refetchInterval: 5000,
  })
  const view = data ?? initial
  const { pageSize } = view
  const say = useSay()
  const change = useChange(['stock'])
  const look = (chosen: File): Promise<unknown> =>
    change(
      () => sendFile('POST /api/dispatch/stock/file', { file: chosen }),
      (preview) => setFile({ file: chosen, preview }),
    )
  if (file)
    return (
      <div className="flex h-full flex-col">
        <DispatchHead at="stock" about="A file of counts" />
        <StockFile
          {...file}
          locations={view.locations}
          onCancel={() => setFile(null)}
          onTake={async () => {
            await change(
              () => sendFile('PUT /api/dispatch/stock/file', { file: file.file }),
              ({ changes }) => {
                setFile(null)
                say(`${count(changes)} ${changes === 1 ? 'count is' : 'counts are'} taken`)
              },
            )
          }}
        />
      </div>
    )
  const none = view.total === 0 && first
  return (
    <div className="flex h-full flex-col">
      <DispatchHead
        at="stock"
        about={
          view.short > 0 ? (
            <span className="text-wait">
              △ Of {count(view.short)} {view.short === 1 ? 'SKU' : 'SKUs'} more is promised than is there
            </span>
          ) : (
            'Counted, promised, and free'
          )
        }
      />
      <div className="flex flex-wrap items-center gap-2 border-b border-hair px-5 pb-2">
        <TextInput
          aria-label="Find a SKU"
          placeholder="SKU begins with"
          value={q}
          onChange={(event) => void put({ q: event.target.value, skip: 0 }, typedStep(q, event.target.value))}
        />
        <Select
          aria-label="Location"
          value={location ?? ''}
          onChange={(event) => void put({ location: event.target.value || null, skip: 0 })}
        >
          <option value="">all locations</option>
          {view.kept.map((id) => (
            <option key={id} value={id}>
              {view.locations[id] ?? id}
            </option>
          ))}
        </Select>
        <div role="group" aria-label="Which" className="flex">
          {(
            [
              [null, 'all'],
              ['none', 'nothing free'],
              ['short', 'promised too much'],
            ] as const
          ).map(([value, word]) => (
            <button
              key={word}
              aria-pressed={only === value}
              onClick={() => void put({ only: value, skip: 0 })}
              className={`border-y border-r border-hair px-2.5 py-1 first:border-l ${only === value ? 'bg-act-soft font-semibold' : 'bg-sheet hover:bg-tint'}`}
            >
              {word}
            </button>
          ))}
        </div>
        <span className="text-soft">{count(view.total)} lines</span>
        <span className="ml-auto flex items-center gap-3">
          {(['xlsx', 'csv'] as const).map((format) => (
            <a
              key={format}
              className="flex min-h-[24px] items-center text-act underline decoration-hair underline-offset-4"
              href={`/api/dispatch/stock/file?format=${format}`}
            >
              {format.toUpperCase()}
            </a>
          ))}
          <a
            href="#stock-channels"
            className="flex min-h-[24px] items-center text-act underline decoration-hair underline-offset-4"
          >
            Channels
          </a>
          <Button onClick={() => setAdding(!adding)}>Count a SKU …</Button>
        </span>
      </div>
      <div className="min-h-0 flex-1 overflow-auto" tabIndex={0} role="region" aria-label="Stock">
        <div className="px-5 pb-3">
          <FileDrop id="stock-file" label="Choose a file of counts" accept=".csv,.xlsx" onFile={look}>
            or drop it here: CSV or XLSX with the columns sku, location, on hand. What it changes is shown first.
          </FileDrop>
        </div>
        {adding && <NewCount view={view} onDone={() => setAdding(false)} />}
        {none ? (
          <Plain title="No stock is kept yet">
            Give a file with SKU, location and what is on hand, count a SKU by hand, or let a channel say it. Until then
            everything counts as there.
          </Plain>
        ) : (
          <StockRows view={view} />
        )}
        <Pager skip={skip} size={pageSize} total={view.total} onSkip={(next) => put({ skip: next })} />
        <div className="px-5 pb-8">
          <StockChannels view={view} />
        </div>
      </div>
    </div>
  )
}

function NewCount({ view, onDone }: { view: StockView; onDone: () => void }) {
  const [sku, setSku] = useState('')
  const [at, setAt] = useState(view.kept[0] ?? Object.keys(view.locations)[0] ?? '')
  const [pieces, setPieces] = useState('')
  const change = useChange(['stock'])
  const onHand = /^\d{1,9}$/.test(pieces.trim()) ? Number(pieces.trim()) : null
  return (
    <form
      aria-label="Count a SKU"
      className="flex flex-wrap items-center gap-2 border-b border-hair bg-tint px-5 py-2"
      onSubmit={(event) => {
        event.preventDefault()
        if (onHand === null || sku.trim() === '') return
        void change(
          () => call('PUT /api/dispatch/stock', { body: { location: at, sku: sku.trim(), onHand, note: '' } }),
          `${sku.trim()}: ${count(onHand)} counted`,
        ).then((done) => void (done && onDone()))
      }}
    >
      <TextInput
        autoFocus
        aria-label="SKU"
        placeholder="SKU"
        className="font-mono"
        value={sku}
        onChange={(event) => setSku(event.target.value)}
      />
      <Select aria-label="At" value={at} onChange={(event) => setAt(event.target.value)}>
        {Object.entries(view.locations).map(([id, name]) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </Select>
      <TextInput
        aria-label="Pieces on hand"
        placeholder="on hand"
        inputMode="numeric"
        className="w-24 text-right"
        aria-invalid={pieces !== '' && onHand === null ? true : undefined}
        value={pieces}
        onChange={(event) => setPieces(event.target.value)}
      />
      <Button type="submit" disabled={onHand === null || sku.trim() === ''}>
        Counted
      </Button>
      <Button kind="quiet" onClick={onDone}>
        Not now
      </Button>
    </form>
  )
}
