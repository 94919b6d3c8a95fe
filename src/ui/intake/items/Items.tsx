'use client'
import { useQuery } from '@tanstack/react-query'
import { parseAsString, useQueryState } from 'nuqs'
import { useState } from 'react'
import type { ItemPreview, ItemsView, ItemView } from '@/usecases/intake/items'
import { call, sendFile } from '../../kit/api'
import { Button } from '../../kit/Button'
import { TextInput } from '../../kit/Field'
import { FileDrop } from '../../kit/FileDrop'
import { count, weightText } from '../../kit/format'
import { Resumed } from '../../kit/Resumed'
import { useSay } from '../../kit/Toast'
import { useEdit } from '../../kit/useEdit'
import { useChange } from '../../kit/useChange'
import { TheirChange } from '../../kit/TheirChange'
import { ItemFile } from './ItemFile'
import { ItemPicture, ManyPictures } from './ItemPictures'
import {
  type Changes,
  type Column,
  knownNow,
  nothingChanged,
  overtakenCells,
  withCell,
  withoutCells,
} from './itemChanges'

const cells: readonly (readonly [column: Column, head: string, width: string, right?: boolean])[] = [
  ['title', 'Title', 'w-full min-w-44'],
  ['weight', 'Weight', 'w-20', true],
  ['length', 'Length', 'w-18', true],
  ['width', 'Width', 'w-18', true],
  ['height', 'Height', 'w-18', true],
  ['tags', 'Tags', 'w-16'],
  ['handling', 'Handling', 'w-28'],
  ['hs code', 'HS code', 'w-18'],
  ['origin', 'Origin', 'w-14'],
  ['dangerous goods', 'UN', 'w-18'],
  ['gtin', 'GTIN', 'w-36'],
  ['place', 'Place', 'w-16'],
]
const needs: Partial<Record<Column, string>> = {
  weight: 'weight',
  length: 'size',
  'hs code': 'HS code',
  origin: 'origin',
}

/** The item list: what is missing and harms the most orders comes first; cells are edited in place. */
export function Items({ initial }: { initial: ItemsView }) {
  const [search, setSearch] = useQueryState('q', parseAsString.withDefault(''))
  const edit = useEdit<Changes>('items', nothingChanged)
  const changes = edit.value
  const [fresh, setFresh] = useState('')
  const [looked, setLooked] = useState<{ file: File; preview: ItemPreview } | null>(null)
  const { data } = useQuery({
    queryKey: ['items', search],
    queryFn: () => call('GET /api/intake/items', { query: { q: search } }),
    initialData: search === '' ? initial : undefined,
    placeholderData: (before) => before,
    refetchInterval: 6000,
  })
  const view = data ?? initial
  const changed = Object.keys(changes).length
  const overtaken = overtakenCells(changes, view.items)
  const change = useChange(['items'])
  const say = useSay()
  const save = async (): Promise<void> => {
    // An emptied cell means that nothing is known any more, which the table writes as a dash.
    const rows = Object.entries(changes).map(([sku, row]) => ({
      sku,
      ...Object.fromEntries(Object.entries(row).map(([column, { text }]) => [column, text.trim() === '' ? '-' : text])),
    }))
    if (
      await change(
        () => call('PUT /api/intake/items', { body: { rows, version: view.version } }),
        'Saved; the waiting orders have it at once',
      )
    )
      edit.drop()
  }
  const remove = async ({ row }: ItemView): Promise<void> => {
    const sku = row.sku ?? ''
    const undo = (): void =>
      void change(async () => {
        const { version } = await call('GET /api/intake/items', { query: { q: sku } })
        await call('PUT /api/intake/items', { body: { rows: [row], version } })
      }, `${sku} is on the list again`)
    if (await change(() => call('DELETE /api/intake/items', { body: { sku, version: view.version } })))
      say(`${sku} is off the list`, { undo })
  }
  const add = async (): Promise<void> => {
    if (fresh.trim() === '') return
    if (
      await change(
        () => call('PUT /api/intake/items', { body: { rows: [{ sku: fresh.trim() }], version: view.version } }),
        `${fresh.trim()} is on the list; say what it weighs`,
      )
    ) {
      void setSearch(fresh.trim())
      setFresh('')
    }
  }
  const look = (file: File): Promise<boolean> =>
    change(
      () => sendFile('POST /api/intake/items/file', { file }),
      (preview) => setLooked({ file, preview }),
    )
  if (looked)
    return (
      <ItemFile
        {...looked}
        onCancel={() => setLooked(null)}
        onTake={async () => {
          if (
            await change(
              () =>
                sendFile('PUT /api/intake/items/file', {
                  query: { version: looked.preview.version },
                  file: looked.file,
                }),
              'The items are taken; the waiting orders have them at once',
            )
          )
            setLooked(null)
        }}
      />
    )
  return (
    <div className="min-h-0 flex-1 overflow-auto px-5 pb-8" tabIndex={0} role="region" aria-label="Items">
      <FileDrop id="item-file" label="Choose a file of items" accept=".csv,.xlsx" onFile={look}>
        or drop it here; an empty cell leaves what is known. All as{' '}
        <a className="text-act underline" href="/api/intake/items/file?format=xlsx">
          spreadsheet
        </a>{' '}
        or{' '}
        <a className="text-act underline" href="/api/intake/items/file?format=csv">
          CSV
        </a>
        .
      </FileDrop>
      <div className="flex flex-wrap items-center gap-3 py-3">
        <TextInput
          aria-label="Search items"
          placeholder="Search SKU, title, tag"
          value={search}
          onChange={(event) => void setSearch(event.target.value || null)}
          className="w-56"
        />
        <span className="text-soft">
          {count(view.total)} items
          {view.harmed > 0 && (
            <>
              ,{' '}
              <b className="text-wait">
                △ something is missing in {count(view.harmed)} waiting {view.harmed === 1 ? 'order' : 'orders'}
              </b>
            </>
          )}
        </span>
        <form
          className="ml-auto flex gap-2"
          onSubmit={(event) => {
            event.preventDefault()
            void add()
          }}
        >
          <TextInput
            aria-label="SKU of a new item"
            placeholder="SKU of a new item"
            value={fresh}
            onChange={(event) => setFresh(event.target.value)}
            className="w-44"
          />
          <Button type="submit">Add</Button>
        </form>
        <ManyPictures />
        {changed > 0 && (
          <>
            <Button kind="quiet" onClick={edit.drop}>
              Put back
            </Button>
            <Button kind="filled" calls="PUT /api/intake/items" disabled={overtaken.length > 0} onClick={() => save()}>
              Save {count(changed)} {changed === 1 ? 'item' : 'items'}
            </Button>
          </>
        )}
      </div>
      <Resumed edit={edit} />
      {overtaken.length > 0 && (
        <TheirChange
          what={overtaken.length === 1 ? 'a cell' : `${count(overtaken.length)} cells`}
          mine={overtaken.map(({ sku, column, text }) => `${sku}, ${column}: ${text || 'nothing'}`)}
          theirs={overtaken.map(({ sku, column, now }) => `${sku}, ${column}: ${now || 'nothing'}`)}
          onTake={() => edit.put(withoutCells(changes, overtaken))}
          onKeep={() => edit.put(knownNow(changes, overtaken))}
        />
      )}
      {view.learned.length > 0 && (
        <ul className="mb-3 bg-wait-soft" aria-label="Learned weights">
          {view.learned.map((learned) => (
            <li key={learned.sku} className="flex items-center gap-3 border-b border-hair/60 px-3 py-1.5">
              <span>
                <b className="font-semibold">{learned.sku}</b> weighs {weightText(learned.after)}, not{' '}
                {learned.before > 0 ? weightText(learned.before) : 'unknown'}, say corrections of{' '}
                {learned.orders.length} orders{learned.against > 0 && ` (${learned.against} say otherwise)`}.
              </span>
              <Button
                className="ml-auto"
                onClick={() =>
                  change(
                    () => call('POST /api/intake/items/learned', { body: { sku: learned.sku, version: view.version } }),
                    `${learned.sku} weighs ${weightText(learned.after)} now, in waiting orders too`,
                  )
                }
              >
                Take it
              </Button>
            </li>
          ))}
        </ul>
      )}
      <table className="w-full bg-sheet">
        <thead className="sticky top-0 z-10 bg-sheet">
          <tr className="border-y border-hair text-small text-soft">
            <td className="w-7" />
            <th className="px-2 py-1.5">SKU</th>
            {cells.map(([column, head, , right]) => (
              <th key={column} className={`px-1 ${right ? 'text-right' : ''}`}>
                {head}
              </th>
            ))}
            <th className="px-1 text-right" title="Waiting orders with it">
              Waits
            </th>
            <th className="px-1 text-right" title="Orders with it in 90 days">
              90 days
            </th>
            <td />
          </tr>
        </thead>
        <tbody>
          {view.items.map((item) => (
            <ItemRow
              key={item.row.sku}
              item={item}
              change={changes[item.row.sku!]}
              onChange={(column, text) => edit.put(withCell(changes, item, column, text))}
              onSave={() => void save()}
              onRemove={() => remove(item)}
            />
          ))}
        </tbody>
      </table>
      {view.items.length === 0 && (
        <p className="py-6 text-center text-soft">No item has these words. Search for less, or add it.</p>
      )}
      {view.total > view.items.length && (
        <p className="py-3 text-soft">The first {count(view.items.length)} are shown: search for the others.</p>
      )}
    </div>
  )
}

function ItemRow({
  item,
  change,
  onChange,
  onSave,
  onRemove,
}: {
  item: ItemView
  change: Changes[string] | undefined
  onChange: (column: Column, text: string) => void
  onSave: () => void
  onRemove: () => Promise<void>
}) {
  const { row, use, missing, unlisted, measured, picture } = item
  return (
    <tr className={`border-b border-hair/70 ${change ? 'bg-act-soft' : ''}`}>
      <td>{!unlisted && <ItemPicture sku={row.sku!} picture={picture} />}</td>
      <td className="whitespace-nowrap px-2 font-mono text-small">
        {row.sku}
        {unlisted ? (
          <b className="ml-1 font-sans text-wait" title="It is in orders, but not in the list">
            new
          </b>
        ) : (
          measured && (
            <span className="ml-1 font-sans text-soft" title="Measured by ourselves: goes before what a channel says">
              ●
            </span>
          )
        )}
      </td>
      {cells.map(([column, head, width, right]) => {
        const wanted = needs[column] !== undefined && missing.includes(needs[column])
        return (
          <td key={column} className="p-0.5">
            <input
              aria-label={`${head} of ${row.sku}`}
              value={change?.[column]?.text ?? row[column] ?? ''}
              placeholder={wanted ? '?' : ''}
              onChange={(event) => onChange(column, event.target.value)}
              onKeyDown={(event) => {
                if (event.key === 'Enter') onSave()
                if (event.key === 'Escape') onChange(column, row[column] ?? '')
              }}
              className={`h-[26px] border bg-transparent px-1 hover:border-hair focus:border-act ${wanted ? 'border-wait-mark bg-wait-soft placeholder:text-wait' : 'border-transparent'} ${width} ${right ? 'text-right' : ''}`}
            />
          </td>
        )
      })}
      <td className="px-1 text-right">{use.waiting === 0 ? '' : count(use.waiting)}</td>
      <td className="px-1 text-right text-soft">{use.recent === 0 ? '' : count(use.recent)}</td>
      <td className="pr-2">
        {!unlisted && (
          <button
            aria-label={`Take ${row.sku} off the list`}
            className="size-[24px] text-soft hover:text-lost"
            onClick={() => void onRemove()}
          >
            ×
          </button>
        )}
      </td>
    </tr>
  )
}
