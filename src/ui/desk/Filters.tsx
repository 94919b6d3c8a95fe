'use client'
import { useQuery } from '@tanstack/react-query'
import { X } from 'lucide-react'
import { useRef, type RefObject } from 'react'
import { call } from '../kit/api'
import { Facet } from '../kit/Facet'
import { SearchBox } from '../kit/SearchBox'
import { useWidth } from '../kit/useWidth'
import { count } from '../kit/format'
import { StateMark, stateWord } from '../kit/StateMark'
import type { DeskNames } from '@/usecases/desk/showDesk'
import type { DeskAddress } from './deskAddress'

const order = [
  'attention',
  'held',
  'ready',
  'buying',
  'labelled',
  'dispatched',
  'delivered',
  'fulfilled elsewhere',
  'cancelled',
  'combined',
]

/** Filters that show how the orders spread over them. */
export function Filters({
  address,
  names,
  searchRef,
  onLeave,
}: {
  address: DeskAddress
  names: DeskNames
  searchRef: RefObject<HTMLInputElement | null>
  /** Escape in the search leads back to the list. */
  onLeave: () => void
}) {
  const { data } = useQuery({
    queryKey: ['desk', 'spread', address.query],
    queryFn: () => call('GET /api/desk/spread', { query: new URLSearchParams(address.query) }),
    refetchInterval: 8000,
    placeholderData: (before) => before,
  })
  const states = [...(data?.states ?? [])].sort((a, b) => order.indexOf(a.value) - order.indexOf(b.value))
  // Beside an open order there is less room: one row all the same.
  const row = useRef<HTMLDivElement>(null)
  const narrow = useWidth(row, 1280) < 900
  const active = [...address.params.keys()].some((name) => name !== 'sort' && name !== 'order' && name !== 'new')
  // A comma parts values in the address; within a reason it is written otherwise.
  const inAddress = (reason: string): string => reason.replaceAll(',', '%2C')
  const reasons = (data?.reasons ?? []).map((row) => ({ ...row, value: inAddress(row.value) }))
  const reasonWords = Object.fromEntries((data?.reasons ?? []).map(({ value }) => [inAddress(value), value]))
  const facets = [
    { name: 'channel', label: 'Channel', spread: data?.channels, words: names.channels },
    { name: 'country', label: 'Country', spread: data?.countries, words: {} },
    { name: 'service', label: 'Service', spread: data?.services, words: names.services },
    { name: 'location', label: 'Location', spread: data?.locations, words: names.locations },
    { name: 'tag', label: 'Tag', spread: data?.tags, words: {} },
    ...(reasons.length > 0 || address.values('reason').length > 0
      ? [{ name: 'reason' as const, label: 'Reason', spread: reasons, words: reasonWords }]
      : []),
  ] as const
  return (
    <div
      ref={row}
      className={`flex flex-wrap items-center border-b border-hair px-5 pb-2 whitespace-nowrap ${narrow ? '[&_.lucide-chevron-down]:hidden [&_button]:px-1.5' : 'gap-1'}`}
    >
      <SearchBox
        ref={searchRef}
        value={address.params.get('q') ?? ''}
        label="Search orders"
        placeholder={narrow ? 'Search   /' : 'Search order, name, SKU, place   /'}
        className={narrow ? 'w-20' : 'w-64'}
        onChange={address.search}
        onLeave={onLeave}
      />
      <div className={`flex items-center ${narrow ? '' : 'mx-2'}`} role="group" aria-label="State">
        {states.map(({ value, count: n }) => {
          const on = address.values('state').includes(value)
          return (
            <button
              key={value}
              aria-pressed={on}
              title={stateWord(value)}
              onClick={() => address.toggle('state', value)}
              className={`flex items-center gap-1.5 border-y border-r border-hair px-2 py-1 first:border-l ${on ? 'bg-act-soft' : 'bg-sheet hover:bg-tint'}`}
            >
              {!narrow && (['attention', 'held', 'ready'].includes(value) || on) ? (
                <StateMark state={value} />
              ) : (
                <StateMark state={value} bare />
              )}
              <span className="text-soft">{count(n)}</span>
            </button>
          )
        })}
      </div>
      {facets.map((facet) => (
        <Facet
          key={facet.name}
          label={facet.label}
          spread={facet.spread ?? []}
          words={facet.words}
          chosen={address.values(facet.name)}
          onToggle={(value) => address.toggle(facet.name, value)}
        />
      ))}
      {(['late', 'pinned', 'flagged', 'reported'] as const)
        .filter((name) => address.params.get(name))
        .map((name) => (
          <button key={name} className="bg-act-soft px-2 py-1" onClick={() => address.set(name, null)}>
            {name === 'reported' ? 'customers report' : name} ×
          </button>
        ))}
      {active && (
        <button
          className="flex min-h-8 min-w-8 items-center justify-center text-act hover:bg-act-soft"
          title="Clear all filters"
          onClick={address.clear}
        >
          <X className="size-3.5" aria-hidden /> <span className="sr-only">Clear</span>
        </button>
      )}
    </div>
  )
}
