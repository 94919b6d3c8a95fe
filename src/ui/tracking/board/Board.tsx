'use client'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useRouter } from 'next/navigation'
import { parseAsArrayOf, parseAsString, useQueryStates } from 'nuqs'
import { useMemo, useRef, useState } from 'react'
import type { BoardSpread } from '@/usecases/tracking/showBoard'
import { call, sentenceOf } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Facet } from '../../kit/Facet'
import { count } from '../../kit/format'
import { Grid, type GridHandle } from '../../kit/grid/Grid'
import { Plain } from '../../kit/Screen'
import { SearchBox } from '../../kit/SearchBox'
import { stateWord } from '../../kit/StateMark'
import { TrackingHead } from '../TrackingHead'
import { boardColumns } from './boardColumns'
import { Needs } from './Needs'
import { useBoardPages } from './useBoardPages'

const facets = ['status', 'carrier', 'service', 'location', 'country'] as const
type FacetName = (typeof facets)[number]
const labels: Readonly<Record<FacetName, string>> = {
  ...{ status: 'State', carrier: 'Carrier', service: 'Service', location: 'From', country: 'To' },
}
const members = parseAsArrayOf(parseAsString)
const parsers = {
  ...{ need: parseAsString, q: parseAsString, sort: parseAsString },
  ...{ status: members, carrier: members, service: members, location: members, country: members },
}
const nothing = { need: null, q: null, status: null, carrier: null, service: null, location: null, country: null }

/** Where every parcel on its way is, and which need a person today. */
export function Board() {
  const router = useRouter()
  const grid = useRef<GridHandle>(null)
  const [address, put] = useQueryStates(parsers, { history: 'push', shallow: true, scroll: false })
  const filter = useMemo(
    () =>
      Object.fromEntries(
        Object.entries({ ...address, sort: null })
          .map(([key, value]) => [key, Array.isArray(value) ? value.join(',') : (value ?? '')])
          .filter(([, value]) => value !== ''),
      ) as Record<string, string>,
    [address],
  )
  const filtered = Object.keys(filter).length > 0
  const { data: spread } = useQuery({
    queryKey: ['board', 'spread', filter],
    queryFn: () => call('GET /api/tracking/board/spread', { query: filter }),
    refetchInterval: 10_000,
    placeholderData: keepPreviousData,
  })
  const [range, setRange] = useState<readonly [number, number]>([0, 40])
  const sort = address.sort ?? 'due'
  const page = useBoardPages({ ...filter, sort }, range)
  const [cursor, setCursor] = useState(0)
  const columns = useMemo(() => boardColumns(spread?.names, page.now), [spread?.names, page.now])
  const clear = (): void => void put(nothing)
  const chosen = (name: FacetName): readonly string[] => address[name] ?? []
  const toggle = (name: FacetName, value: string): void => {
    const list = chosen(name)
    const next = list.includes(value) ? list.filter((one) => one !== value) : [...list, value]
    void put({ [name]: next.length > 0 ? next : null })
  }
  return (
    <div className="flex h-full min-h-0 flex-col">
      <TrackingHead at="board" about={page.loading ? 'Fetching the parcels …' : parcelsText(page.total)} />
      <Needs needs={spread?.needs} chosen={address.need} onChoose={(need) => void put({ need })} />
      <div className="flex flex-wrap items-center gap-1 border-b border-hair px-5 pb-2 whitespace-nowrap">
        <SearchBox
          value={address.q ?? ''}
          label="Search parcels"
          placeholder="Tracking number or order"
          className="mr-2 w-56"
          onChange={(q, step) => void put({ q: q || null }, step)}
          onLeave={() => grid.current?.focus()}
        />
        {facets.map((name) => (
          <Facet
            key={name}
            label={labels[name]}
            spread={spread?.[name] ?? []}
            words={wordsOf(name, spread)}
            chosen={chosen(name)}
            onToggle={(value) => toggle(name, value)}
          />
        ))}
        {filtered && (
          <Button kind="quiet" onClick={clear}>
            × Clear
          </Button>
        )}
      </div>
      <Grid
        ref={grid}
        label="Parcels on their way"
        columns={columns}
        count={page.total}
        rowAt={page.rows}
        idOf={(row) => row.labelId * 100 + row.position}
        nameOf={(row) => row.trackingNumber}
        cursor={Math.min(cursor, Math.max(0, page.total - 1))}
        onCursor={setCursor}
        onOpen={(row) => router.push(`/desk?order=${row.orderId}&q=${encodeURIComponent(row.number)}`)}
        sorts={[sort]}
        onSort={(column) => void put({ sort: nextSort(column, sort) }, { history: 'replace' })}
        onRange={(first, last) =>
          setRange((before) => (before[0] === first && before[1] === last ? before : [first, last]))
        }
        onEscape={clear}
      >
        {page.failed && (
          <Plain title="The parcels cannot be shown">
            {sentenceOf(page.failed)} <Button onClick={() => page.retry()}>Try again</Button>
          </Plain>
        )}
        {!page.failed && !page.loading && page.total === 0 && (
          <Plain title={filtered ? 'No parcel fits these filters' : 'No parcel is on its way'}>
            {filtered ? (
              <button className="text-act underline" onClick={clear}>
                Clear the filters
              </button>
            ) : (
              'Parcels come here when their labels are bought, and leave when they are delivered.'
            )}
          </Plain>
        )}
      </Grid>
    </div>
  )
}

const parcelsText = (n: number): string => (n === 1 ? '1 parcel on its way' : `${count(n)} parcels on their way`)

function wordsOf(name: FacetName, spread: BoardSpread | undefined): Readonly<Record<string, string>> {
  if (name === 'status') return Object.fromEntries((spread?.status ?? []).map(({ value }) => [value, stateWord(value)]))
  return name === 'country' || !spread ? {} : spread.names[`${name}s`]
}

/** Upwards, then downwards, then as it was. */
function nextSort(column: string, now: string): string | null {
  if (now === column) return `-${column}`
  return now === `-${column}` ? null : column
}
