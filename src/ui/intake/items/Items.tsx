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
import { ManyPictures } from './ItemPictures'
import { cells, ItemRow } from './ItemRow'
import { type Changes, knownNow, nothingChanged, overtakenCells, withCell, withoutCells } from './itemChanges'

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
        <Learned
          learned={view.learned}
          onTake={({ sku, after }) =>
            change(
              () => call('POST /api/intake/items/learned', { body: { sku, version: view.version } }),
              `${sku} weighs ${weightText(after)} now, in waiting orders too`,
            )
          }
        />
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

/** Weights that corrections at the bench speak for, to be taken or left. */
function Learned({
  learned: list,
  onTake,
}: {
  learned: ItemsView['learned']
  onTake: (learned: ItemsView['learned'][number]) => Promise<unknown>
}) {
  return (
    <ul className="mb-3 bg-wait-soft" aria-label="Learned weights">
      {list.map((learned) => (
        <li key={learned.sku} className="flex items-center gap-3 border-b border-hair/60 px-3 py-1.5">
          <span>
            <b className="font-semibold">{learned.sku}</b> weighs {weightText(learned.after)}, not{' '}
            {learned.before > 0 ? weightText(learned.before) : 'unknown'}, say corrections of {learned.orders.length}{' '}
            orders{learned.against > 0 && ` (${learned.against} say otherwise)`}.
          </span>
          <Button className="ml-auto" onClick={() => onTake(learned)}>
            Take it
          </Button>
        </li>
      ))}
    </ul>
  )
}
