'use client'
import type { TableProblem, ZoneRow } from '@/core/rating'
import { sendFile } from '../../kit/api'
import { Button } from '../../kit/Button'
import { CellTable } from '../../kit/CellTable'
import { useChange } from '../../kit/useChange'

const columns = [
  { id: 'zone', name: 'Zone', width: '14%', example: 'Home' },
  { id: 'from', name: 'From', width: '14%', example: 'BE' },
  { id: 'to', name: 'To', example: 'NL DE FR' },
  { id: 'postcodes', name: 'Only postcodes that begin with', width: '28%', example: 'all' },
  { id: 'days', name: 'Working days', width: '14%', right: true, example: '2' },
]

/** Where a service goes: a table that is typed, pasted from a spreadsheet, or read from a file. */
export function ZoneFields({
  rows,
  problems,
  wrong,
  homes,
  onChange,
}: {
  rows: readonly ZoneRow[]
  problems: readonly TableProblem[]
  /** What is said once it was tried to save. */
  wrong: string | undefined
  /** Countries that things are sent from. */
  homes: readonly string[]
  onChange: (rows: ZoneRow[]) => void
}) {
  const change = useChange()
  const take = (file: File | undefined): void => {
    if (file)
      void change(
        () => sendFile('POST /api/setup/zones', { file }),
        (read) => onChange([...read.rows]),
      )
  }
  const starter = (): void =>
    onChange(
      [...new Set(homes)].map((country) => ({ zone: 'Home', from: country, to: country, postcodes: '', days: '2' })),
    )
  return (
    <>
      <CellTable
        label="Where it goes"
        columns={columns}
        rows={rows}
        wrong={(row, column) =>
          problems.find((problem) => problem.line === row + 1 && problem.column === column)?.sentence
        }
        onChange={(next) => onChange(next)}
      />
      {wrong && (
        <p role="alert" className="py-1 text-small text-lost">
          {wrong}
        </p>
      )}
      <p className="flex flex-wrap items-center gap-3 pt-2 text-small text-soft">
        Paste from a spreadsheet into any cell, or{' '}
        <label className="relative min-h-[24px] cursor-pointer text-act underline decoration-hair underline-offset-4 focus-within:outline-2">
          read a file …
          <input
            type="file"
            accept=".csv,.xlsx"
            aria-label="Read zones from a file"
            className="sr-only"
            onChange={(event) => {
              take(event.target.files?.[0])
              event.target.value = ''
            }}
          />
        </label>
        {rows.length === 0 && homes.length > 0 && (
          <Button kind="quiet" onClick={starter}>
            Begin with the own country
          </Button>
        )}
      </p>
    </>
  )
}
