'use client'
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react'
import { useQuery } from '@tanstack/react-query'
import { ChevronDown, X } from 'lucide-react'
import { useEffect, useRef, useState, type RefObject } from 'react'
import { call } from '../kit/api'
import { useWidth } from '../kit/useWidth'
import { count } from '../kit/format'
import { StateMark, stateWord } from '../kit/StateMark'
import type { DeskNames } from '@/usecases/desk/showDesk'
import type { DeskAddress, DeskKey } from './deskAddress'

interface Spread {
  readonly value: string
  readonly count: number
}

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
  const states = [...(data?.state ?? [])].sort((a, b) => order.indexOf(a.value) - order.indexOf(b.value))
  // Beside an open order there is less room: one row all the same.
  const row = useRef<HTMLDivElement>(null)
  const narrow = useWidth(row, 1280) < 900
  const active = [...address.params.keys()].some((name) => name !== 'sort' && name !== 'order' && name !== 'new')
  const facets = [
    { name: 'channel', label: 'Channel', spread: data?.channelId, words: names.channels },
    { name: 'country', label: 'Country', spread: data?.country, words: {} },
    { name: 'service', label: 'Service', spread: data?.service, words: names.services },
    { name: 'location', label: 'Location', spread: data?.location, words: names.locations },
    { name: 'tag', label: 'Tag', spread: data?.tag, words: {} },
  ] as const
  return (
    <div ref={row} className="flex flex-wrap items-center gap-1 border-b border-hair px-5 pb-2 whitespace-nowrap">
      <SearchBox address={address} searchRef={searchRef} narrow={narrow} onLeave={onLeave} />
      <div className={`flex items-center ${narrow ? 'mx-0.5' : 'mx-2'}`} role="group" aria-label="State">
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
        <Facet key={facet.name} {...facet} spread={facet.spread ?? []} address={address} />
      ))}
      {(['late', 'pinned', 'flagged'] as const)
        .filter((name) => address.params.get(name))
        .map((name) => (
          <button key={name} className="bg-act-soft px-2 py-1" onClick={() => address.set(name, null)}>
            {name} ×
          </button>
        ))}
      {active && (
        <button className="ml-1 flex items-center gap-1 px-1.5 py-1 text-act hover:bg-act-soft" onClick={address.clear}>
          <X className="size-3.5" aria-hidden /> Clear
        </button>
      )}
    </div>
  )
}

function SearchBox({
  address,
  searchRef,
  narrow,
  onLeave,
}: {
  address: DeskAddress
  searchRef: RefObject<HTMLInputElement | null>
  narrow: boolean
  onLeave: () => void
}) {
  const wanted = address.params.get('q') ?? ''
  const [text, setText] = useState(wanted)
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined)
  useEffect(() => setText(wanted), [wanted])
  return (
    <input
      ref={searchRef}
      type="search"
      value={text}
      placeholder={narrow ? 'Search   /' : 'Search order, name, SKU, place   /'}
      aria-label="Search orders"
      className={`${narrow ? 'w-36' : 'w-64'} rounded-[3px] border border-hair bg-sheet px-2 py-1 placeholder:text-soft`}
      onKeyDown={(event) => {
        if (event.key !== 'Escape' && event.key !== 'Enter') return
        event.preventDefault()
        onLeave()
      }}
      onChange={(event) => {
        const { value } = event.target
        setText(value)
        clearTimeout(timer.current)
        timer.current = setTimeout(() => address.set('q', value.trim()), 120)
      }}
    />
  )
}

function Facet({
  name,
  label,
  spread,
  words,
  address,
}: {
  name: DeskKey
  label: string
  spread: readonly Spread[]
  words: Readonly<Record<string, string>>
  address: DeskAddress
}) {
  const chosen = address.values(name)
  const most = Math.max(1, ...spread.map((row) => Number(row.count)))
  return (
    <Popover className="relative">
      <PopoverButton
        className={`flex items-center gap-1 rounded-[3px] px-2 py-1 hover:bg-act-soft ${chosen.length > 0 ? 'bg-act-soft font-semibold' : ''}`}
      >
        {label}
        {chosen.length > 0 && `: ${chosen.length === 1 ? (words[chosen[0]!] ?? chosen[0]) : chosen.length}`}{' '}
        <ChevronDown className="size-3.5" aria-hidden />
      </PopoverButton>
      <PopoverPanel anchor="bottom start" className="z-30 max-h-96 w-72 overflow-auto bg-sheet p-1 shadow-xl">
        {spread.length === 0 && <p className="p-2 text-soft">Nothing to choose from.</p>}
        {spread.map(({ value, count: n }) => (
          <button
            key={value}
            aria-pressed={chosen.includes(value)}
            onClick={() => address.toggle(name, value)}
            className={`relative flex w-full items-center gap-2 px-2 py-1 text-left ${chosen.includes(value) ? 'font-semibold text-act' : ''} hover:bg-tint`}
          >
            <span
              aria-hidden
              className="absolute inset-y-1 left-0 bg-act-soft"
              style={{ width: `${(100 * Number(n)) / most}%` }}
            />
            <span className="relative flex-1">
              {chosen.includes(value) ? '✓ ' : ''}
              {words[value] ?? value}
            </span>
            <span className="relative text-soft">{count(Number(n))}</span>
          </button>
        ))}
      </PopoverPanel>
    </Popover>
  )
}
