'use client'
import { keepPreviousData, useInfiniteQuery } from '@tanstack/react-query'
import { parseAsString, useQueryStates } from 'nuqs'
import { useState } from 'react'
import { roles } from '@/core/people'
import type { AnswerOf } from '@/usecases/endpoints'
import { call } from '../kit/api'
import { Button } from '../kit/Button'
import { Select } from '../kit/Field'
import { count } from '../kit/format'
import { Plain } from '../kit/Screen'
import { SearchBox } from '../kit/SearchBox'
import { When } from '../kit/When'
import { SetupHead } from '../setup/SetupHead'
import { aStep } from '../kit/step'

type Line = AnswerOf<'GET /api/people/audit'>['lines'][number]

/** Who did what, when, from where, and what it was before and after. */
export function Audit() {
  const [asked, setAsked] = useQueryStates({
    q: parseAsString.withDefault(''),
    who: parseAsString.withDefault(''),
  })
  const filter = { ...(asked.q ? { search: asked.q } : {}), ...(asked.who ? { actor: asked.who } : {}) }
  const { data, hasNextPage, fetchNextPage, isPending } = useInfiniteQuery({
    queryKey: ['audit', filter],
    queryFn: ({ pageParam }) =>
      call('GET /api/people/audit', { query: { ...filter, ...(pageParam === 0 ? {} : { before: pageParam }) } }),
    initialPageParam: 0,
    getNextPageParam: (page) => page.more ?? undefined,
    placeholderData: keepPreviousData,
    refetchInterval: 15_000,
  })
  const lines = data?.pages.flatMap((page) => page.lines) ?? []
  const file = (format: string): string =>
    `/api/people/audit/file?${new URLSearchParams({ format, ...filter }).toString()}`
  return (
    <div className="flex h-full flex-col">
      <SetupHead at="audit" about="Who did what, before and after" />
      <div className="flex flex-wrap items-center gap-3 border-t border-hair px-5 py-2">
        <SearchBox
          value={asked.q}
          label="Search the audit"
          placeholder="Who, what, order 12 …"
          className="w-72"
          onChange={(q, step) => void setAsked({ q }, step)}
          onLeave={() => undefined}
        />
        <Select
          aria-label="Who"
          value={asked.who}
          onChange={(event) => void setAsked({ who: event.target.value }, aStep)}
        >
          <option value="">Everybody</option>
          {(data?.pages[0]?.actors ?? []).map(({ actor, name }) => (
            <option key={actor} value={actor}>
              {name}
            </option>
          ))}
        </Select>
        <span className="ml-auto text-soft">Take it away:</span>
        <a className="text-act underline decoration-hair underline-offset-4" href={file('csv')}>
          CSV
        </a>
        <a className="text-act underline decoration-hair underline-offset-4" href={file('xlsx')}>
          XLSX
        </a>
      </div>
      <div
        className="min-h-0 flex-1 overflow-auto border-t border-hair px-5 pb-4"
        tabIndex={0}
        role="region"
        aria-label="Audit"
      >
        {lines.length === 0 && !isPending ? (
          <Plain title="Nothing like this was done">Search for something else, or look at everybody.</Plain>
        ) : (
          <table className="w-full bg-sheet">
            <thead>
              <tr className="border-b border-hair text-small text-soft">
                <th className="px-3 py-1.5 text-right">No.</th>
                <th className="text-left">When</th>
                <th className="px-3 text-left">Who</th>
                <th className="text-left">What</th>
                <th className="px-3 text-left">About</th>
                <th className="text-left">Before and after</th>
              </tr>
            </thead>
            <tbody>
              {lines.map((line) => (
                <AuditLine key={line.seq} line={line} />
              ))}
            </tbody>
          </table>
        )}
        {hasNextPage && (
          <p className="mt-3">
            <Button onClick={() => fetchNextPage()}>Older ones</Button>
          </p>
        )}
      </div>
    </div>
  )
}

function AuditLine({ line }: { line: Line }) {
  const [open, setOpen] = useState(false)
  const role = line.role in roles ? roles[line.role as keyof typeof roles].name : line.role
  const parts = [line.before, line.after].filter((part) => part !== null)
  return (
    <>
      <tr className="border-b border-hair/70 align-top">
        <td className="px-3 py-1 text-right text-soft">{count(line.seq)}</td>
        <td className="py-1">
          <When at={line.at} />
        </td>
        <td className="px-3 py-1" title={[role, line.address].filter(Boolean).join(', ')}>
          {line.name}
        </td>
        <td className="py-1">{line.action}</td>
        <td className="px-3 py-1">{line.about || '–'}</td>
        <td className="max-w-96 py-0.5">
          {parts.length > 0 && (
            <button
              type="button"
              aria-expanded={open}
              className="block max-w-full truncate rounded-[3px] px-1 py-0.5 text-left font-mono text-small text-soft hover:bg-act-soft hover:text-act"
              onClick={() => setOpen(!open)}
            >
              {short(line)}
            </button>
          )}
        </td>
      </tr>
      {open && (
        <tr className="border-b border-hair/70">
          <td />
          <td colSpan={5} className="py-2 pr-3">
            <div className="grid gap-4 min-[1000px]:grid-cols-2">
              <Side title="Before" value={line.before} />
              <Side title="After" value={line.after} />
            </div>
            <p className="mt-1 text-small text-soft">
              {[role, line.address && `from ${line.address}`, line.request && `request ${line.request}`]
                .filter(Boolean)
                .join(' · ')}
            </p>
          </td>
        </tr>
      )}
    </>
  )
}

const short = ({ before, after }: Line): string =>
  [before, after]
    .map((part) => (part === null ? '' : JSON.stringify(part)))
    .filter(Boolean)
    .join(' → ')

const Side = ({ title, value }: { title: string; value: unknown }) => (
  <div>
    <p className="text-small text-soft">{title}</p>
    <pre className="max-h-72 overflow-auto bg-paper p-2 font-mono text-small whitespace-pre-wrap" tabIndex={0}>
      {value === null ? 'nothing' : JSON.stringify(value, null, 2)}
    </pre>
  </div>
)
