'use client'
import { X } from 'lucide-react'
import type { ClipboardEvent, KeyboardEvent } from 'react'

export type CellRow = Readonly<Record<string, string>>
interface Column {
  readonly id: string
  readonly name: string
  /** Its share of the width, as in CSS. */
  readonly width?: string
  readonly right?: boolean
  readonly example?: string
}

/**
 * A small table of texts that is edited in place: a row more comes by itself, Enter and the arrows go up and down, and
 * cells of a spreadsheet are pasted from the cell that has the focus on.
 */
export function CellTable({
  label,
  columns,
  rows,
  wrong,
  onChange,
}: {
  label: string
  columns: readonly Column[]
  rows: readonly CellRow[]
  /** What is wrong with a cell; undefined when nothing is. */
  wrong?: (row: number, column: string) => string | undefined
  onChange: (rows: CellRow[]) => void
}) {
  const blank: CellRow = Object.fromEntries(columns.map(({ id }) => [id, '']))
  const shown = [...rows, blank]
  const isBlank = (row: CellRow): boolean => columns.every(({ id }) => (row[id] ?? '').trim() === '')
  const trimmed = (next: readonly CellRow[]): CellRow[] => {
    const last = next.findLastIndex((row) => !isBlank(row))
    return next.slice(0, last + 1)
  }
  const put = (at: number, column: string, text: string): void =>
    onChange(trimmed(shown.map((row, i) => (i === at ? { ...row, [column]: text } : row))))
  const paste = (event: ClipboardEvent, at: number, column: number): void => {
    const text = event.clipboardData.getData('text/plain').replace(/\r\n?/g, '\n').replace(/\n$/, '')
    if (!/[\t\n]/.test(text)) return
    event.preventDefault()
    const next: Record<string, string>[] = shown.map((row) => ({ ...row }))
    text.split('\n').forEach((line, i) => {
      const row = (next[at + i] ??= { ...blank })
      line.split('\t').forEach((cell, k) => {
        const id = columns[column + k]?.id
        if (id !== undefined) row[id] = cell.trim()
      })
    })
    onChange(trimmed(next))
  }
  const move = (event: KeyboardEvent<HTMLInputElement>, at: number, column: number): void => {
    const by = { ArrowUp: -1, ArrowDown: 1, Enter: 1 }[event.key]
    if (by === undefined) return
    event.preventDefault()
    const table = event.currentTarget.closest('table')
    table?.querySelector<HTMLInputElement>(`[data-cell="${at + by} ${column}"]`)?.focus()
  }
  return (
    <table className="w-full bg-sheet" aria-label={label}>
      <thead>
        <tr className="border-y border-hair text-small text-soft">
          {columns.map(({ id, name, width, right }) => (
            <th key={id} className={`px-1.5 py-1 font-normal ${right ? 'text-right' : ''}`} style={{ width }}>
              {name}
            </th>
          ))}
          <td className="w-7" />
        </tr>
      </thead>
      <tbody>
        {shown.map((row, i) => (
          <tr key={i} className="border-b border-hair/60">
            {columns.map(({ id, name, right, example }, k) => {
              const why = i < rows.length ? wrong?.(i, id) : undefined
              return (
                <td key={id} className="p-0.5">
                  <input
                    data-cell={`${i} ${k}`}
                    aria-label={`${name}, row ${i + 1}`}
                    aria-invalid={why !== undefined || undefined}
                    title={why}
                    value={row[id] ?? ''}
                    placeholder={i === rows.length && rows.length === 0 ? example : ''}
                    onChange={(event) => put(i, id, event.target.value)}
                    onPaste={(event) => paste(event, i, k)}
                    onKeyDown={(event) => move(event, i, k)}
                    className={`h-[26px] w-full border bg-transparent px-1 placeholder:text-soft hover:border-hair focus:border-act ${why === undefined ? 'border-transparent' : 'border-lost bg-lost-soft'} ${right ? 'text-right' : ''}`}
                  />
                </td>
              )
            })}
            <td>
              {i < rows.length && (
                <button
                  type="button"
                  aria-label={`Take out row ${i + 1}`}
                  className="grid size-[24px] place-items-center text-soft hover:text-lost"
                  onClick={() => onChange(rows.filter((_, at) => at !== i))}
                >
                  <X className="size-3.5" />
                </button>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
