'use client'
import { useQuery } from '@tanstack/react-query'
import { X } from 'lucide-react'
import { useState } from 'react'
import type { OrderRow } from '@/data'
import { call } from '../kit/api'
import { Button } from '../kit/Button'
import { TextInput } from '../kit/Field'
import { chosenColumns, type ColumnChoice, type GridColumn } from '../kit/grid/columns'
import { ColumnsPart } from '../kit/grid/ColumnsPart'
import { useChange } from '../kit/useChange'

/** Views that people keep: filters, sorts and columns under a name; the columns; and the list as a file. */
export function ViewMenu({
  query,
  columns,
  choice,
  onChoice,
  onTake,
  close,
}: {
  /** Filters and sorts as they are now. */
  query: string
  /** All columns that there are. */
  columns: readonly GridColumn<OrderRow>[]
  choice: ColumnChoice
  onChoice: (next: ColumnChoice) => void
  onTake: (query: string, columns: ColumnChoice) => void
  close: () => void
}) {
  const { data } = useQuery({ queryKey: ['desk', 'views'], queryFn: () => call('GET /api/desk/views') })
  const change = useChange(['desk', 'views'])
  const [name, setName] = useState('')
  const [shared, setShared] = useState(false)
  const views = data?.views ?? []
  const save = async (): Promise<void> => {
    const body = { name, shared, query, columns: choice }
    if (await change(() => call('PUT /api/desk/views', { body }), `Kept as “${name.trim()}”`)) setName('')
  }
  const file = (format: string): string => {
    const more = new URLSearchParams(query)
    more.set('format', format)
    more.set(
      'columns',
      chosenColumns(columns, choice)
        .map(({ id }) => id)
        .join(','),
    )
    return `/api/desk/file?${more.toString()}`
  }
  return (
    <>
      {views.length === 0 && <p className="text-soft">No view is kept yet.</p>}
      <ul aria-label="Views that are kept">
        {views.map((view) => (
          <li key={view.id} className="flex items-center gap-2 border-b border-hair/60">
            <button
              className={`min-h-[28px] min-w-0 flex-1 truncate text-left ${view.query === query ? 'font-semibold text-act' : 'hover:text-act'}`}
              onClick={() => {
                onTake(view.query, view.columns)
                close()
              }}
            >
              {view.name}
              {view.shared && (
                <span className="text-small text-soft"> {view.mine ? 'shared' : `by ${view.owner}`}</span>
              )}
            </button>
            {view.mine && (
              <button
                aria-label={`Forget ${view.name}`}
                className="grid size-[24px] place-items-center text-soft hover:text-lost"
                onClick={() =>
                  void change(
                    () => call('DELETE /api/desk/views', { body: { id: view.id } }),
                    `“${view.name}” is forgotten`,
                  )
                }
              >
                <X className="size-3.5" />
              </button>
            )}
          </li>
        ))}
      </ul>
      <form
        className="mt-3 grid gap-2"
        onSubmit={(event) => {
          event.preventDefault()
          void save()
        }}
      >
        <label className="grid gap-1">
          <span className="text-small text-soft">Keep what is shown now as</span>
          <TextInput value={name} maxLength={80} onChange={(event) => setName(event.target.value)} />
        </label>
        <label className="flex min-h-[24px] items-center gap-2">
          <input
            type="checkbox"
            className="size-4 accent-(--act)"
            checked={shared}
            onChange={(event) => setShared(event.target.checked)}
          />
          Others see it, too
        </label>
        <Button type="submit" className="justify-self-start">
          Keep this view
        </Button>
      </form>
      <ColumnsPart all={columns} choice={choice} onChoice={onChoice} />
      <p className="mt-3 flex gap-4 border-t border-hair pt-2">
        <span className="text-soft">What is shown as</span>
        <a className="text-act underline decoration-hair underline-offset-4" href={file('csv')} download>
          CSV
        </a>
        <a className="text-act underline decoration-hair underline-offset-4" href={file('xlsx')} download>
          spreadsheet
        </a>
      </p>
    </>
  )
}
