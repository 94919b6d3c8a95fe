'use client'
import { useQuery } from '@tanstack/react-query'
import { parseAsString, useQueryState } from 'nuqs'
import { useState } from 'react'
import type { ItemsView, ItemView } from '@/usecases/intake/items'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { TextInput } from '../../kit/Field'
import { FileDrop } from '../../kit/FileDrop'
import { count, waitingOrders, weightText } from '../../kit/format'
import { Resumed } from '../../kit/Resumed'
import { useEdit } from '../../kit/useEdit'
import { TheirChange } from '../../kit/TheirChange'
import { ItemFile } from './ItemFile'
import { ManyPictures } from './ItemPictures'
import { cells, ItemRow } from './ItemRow'
import {
  type Changes,
  type Column,
  knownNow,
  nothingChanged,
  overtakenCells,
  withCell,
  withoutCells,
} from './itemChanges'
import { type LookedFile, useItemChanges } from './useItemChanges'
import { aStep, typedStep } from '../../kit/step'

/** The item list: what is missing and harms the most orders comes first; cells are edited in place. */
export function Items({ initial }: { initial: ItemsView }) {
  const [search, setSearch] = useQueryState('q', parseAsString.withDefault(''))
  const edit = useEdit<Changes>('items', nothingChanged)
  const changes = edit.value
  const [looked, setLooked] = useState<LookedFile | null>(null)
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
  const { save, remove, add, look, take, learn } = useItemChanges(view.version)
  const saveAll = async (): Promise<void> => {
    if (await save(changes)) edit.drop()
  }
  if (looked)
    return (
      <ItemFile
        {...looked}
        onCancel={() => setLooked(null)}
        onTake={async () => {
          if (await take(looked)) setLooked(null)
        }}
      />
    )
  return (
    <div className="min-h-0 flex-1 overflow-auto px-5 pb-8" tabIndex={0} role="region" aria-label="Items">
      <FileDrop
        id="item-file"
        label="Choose a file of items"
        accept=".csv,.xlsx"
        onFile={(file) => look(file, setLooked)}
      >
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
          onChange={(event) => void setSearch(event.target.value || null, typedStep(search, event.target.value))}
          className="w-56"
        />
        <HowMany view={view} />
        <NewItem
          onAdd={async (sku) => {
            const added = await add(sku)
            if (added) void setSearch(sku, aStep)
            return added
          }}
        />
        <ManyPictures />
        {changed > 0 && (
          <>
            <Button kind="quiet" onClick={edit.drop}>
              Put back
            </Button>
            <Button kind="filled" calls="PUT /api/intake/items" disabled={overtaken.length > 0} onClick={saveAll}>
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
      {view.learned.length > 0 && <Learned learned={view.learned} onTake={learn} />}
      <ItemTable
        items={view.items}
        changes={changes}
        onChange={(item, column, text) => edit.put(withCell(changes, item, column, text))}
        onSave={() => void saveAll()}
        onRemove={remove}
      />
      {view.items.length === 0 && (
        <p className="py-6 text-center text-soft">No item has these words. Search for less, or add it.</p>
      )}
      {view.total > view.items.length && (
        <p className="py-3 text-soft">The first {count(view.items.length)} are shown: search for the others.</p>
      )}
    </div>
  )
}

function HowMany({ view: { total, harmed } }: { view: ItemsView }) {
  return (
    <span className="text-soft">
      {count(total)} items
      {harmed > 0 && (
        <>
          , <b className="text-wait">△ something is missing in {waitingOrders(harmed)}</b>
        </>
      )}
    </span>
  )
}

/** The SKU of an item that is not on the list yet. */
function NewItem({ onAdd }: { onAdd: (sku: string) => Promise<boolean> }) {
  const [fresh, setFresh] = useState('')
  const add = async (): Promise<void> => {
    if (fresh.trim() !== '' && (await onAdd(fresh.trim()))) setFresh('')
  }
  return (
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
  )
}

interface ItemTableProps {
  readonly items: readonly ItemView[]
  readonly changes: Changes
  readonly onChange: (item: ItemView, column: Column, text: string) => void
  readonly onSave: () => void
  readonly onRemove: (item: ItemView) => Promise<void>
}

function ItemTable({ items, changes, onChange, onSave, onRemove }: ItemTableProps) {
  return (
    <table className="w-full bg-sheet">
      <thead className="sticky top-0 z-10 bg-sheet">
        <tr className="border-y border-hair text-small text-soft">
          <td className="w-7" />
          <th className="px-2 py-1.5">SKU</th>
          {cells.map(([column, head, , right]) => (
            <th key={column} className={`px-1 ${right ? 'text-right' : ''} ${column === 'tags' ? 'pl-3' : ''}`}>
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
        {items.map((item) => (
          <ItemRow
            key={item.row.sku}
            item={item}
            change={changes[item.row.sku!]}
            onChange={(column, text) => onChange(item, column, text)}
            onSave={onSave}
            onRemove={() => onRemove(item)}
          />
        ))}
      </tbody>
    </table>
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
