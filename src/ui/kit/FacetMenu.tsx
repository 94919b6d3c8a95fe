'use client'
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react'
import { facetButton, type FacetProps, FacetWords } from './Facet'
import { count } from './format'

/** A filter with its menu: each value with the share of the rows that have it. */
export function FacetMenu({ label, spread, words, chosen, onToggle }: FacetProps) {
  const most = Math.max(1, ...spread.map((row) => Number(row.count)))
  return (
    <Popover className="relative">
      <PopoverButton className={facetButton(chosen)}>
        <FacetWords label={label} words={words} chosen={chosen} />
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
