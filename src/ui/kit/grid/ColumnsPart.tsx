'use client'
import { ArrowDown, ArrowUp } from 'lucide-react'
import { Button } from '../Button'
import { type ColumnChoice, type GridColumn, narrowest, usualColumns } from './columns'
import { useColumns } from './useColumns'

/** Which columns a grid shows, and in which order; widths are drawn at the head, or typed here. */
export function ColumnsPart<Row>({
  all,
  choice,
  onChoice,
}: {
  all: readonly GridColumn<Row>[]
  choice: ColumnChoice
  onChoice: (next: ColumnChoice) => void
}) {
  const table = useColumns(all, choice, onChoice)
  const columns = table.getAllLeafColumns()
  const order = columns.map(({ id }) => id)
  const move = (id: string, by: 1 | -1): void => {
    const at = order.indexOf(id)
    const to = at + by
    if (to < 0 || to >= order.length) return
    table.setColumnOrder([...order.toSpliced(at, 1).toSpliced(to, 0, id)])
  }
  return (
    <details className="mt-3 border-t border-hair pt-2">
      <summary className="cursor-pointer text-act">Columns</summary>
      <ul>
        {columns.map((column, i) => {
          const name = String(column.columnDef.header)
          return (
            <li key={column.id} className="flex items-center gap-2 border-b border-hair/60 py-0.5">
              <label className="flex min-h-[24px] min-w-0 flex-1 items-center gap-2">
                <input
                  type="checkbox"
                  className="size-4 accent-(--act)"
                  checked={column.getIsVisible()}
                  // One column at least is to be seen.
                  disabled={column.getIsVisible() && table.getVisibleLeafColumns().length === 1}
                  onChange={column.getToggleVisibilityHandler()}
                />
                {name}
              </label>
              <input
                type="number"
                aria-label={`Width of ${name}`}
                title="Width in pixels"
                min={narrowest}
                max={600}
                step={8}
                value={column.getSize()}
                onChange={(event) => {
                  const size = Number(event.target.value)
                  if (Number.isFinite(size) && size > 0)
                    table.setColumnSizing((sizes) => ({ ...sizes, [column.id]: Math.min(600, Math.round(size)) }))
                }}
                className="w-16 rounded-[3px] border border-hair bg-paper px-1 text-right"
              />
              <button
                aria-label={`${name} further left`}
                disabled={i === 0}
                className="grid size-[24px] place-items-center text-soft hover:text-act disabled:opacity-40"
                onClick={() => move(column.id, -1)}
              >
                <ArrowUp className="size-3.5" />
              </button>
              <button
                aria-label={`${name} further right`}
                disabled={i === columns.length - 1}
                className="grid size-[24px] place-items-center text-soft hover:text-act disabled:opacity-40"
                onClick={() => move(column.id, 1)}
              >
                <ArrowDown className="size-3.5" />
              </button>
            </li>
          )
        })}
      </ul>
      <Button kind="quiet" className="mt-1" onClick={() => onChoice(usualColumns)}>
        As usual
      </Button>
    </details>
  )
}
