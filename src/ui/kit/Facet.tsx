'use client'
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react'
import { ChevronDown } from 'lucide-react'
import { count } from './format'

interface Props {
  readonly label: string
  readonly spread: readonly { readonly value: string; readonly count: number }[]
  /** What values are called. */
  readonly words: Readonly<Record<string, string>>
  readonly chosen: readonly string[]
  readonly onToggle: (value: string) => void
}

/** A filter that shows how the rows spread over its values. */
export function Facet({ label, spread, words, chosen, onToggle }: Props) {
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
            onClick={() => onToggle(value)}
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
