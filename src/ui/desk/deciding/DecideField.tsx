'use client'
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/react'
import { useMemo, useRef, useState, type Ref } from 'react'
import type { HandEdit } from '@/core/rulebook/change'
import { withoutRetired, type World } from '@/core/world'
import { type Offer, offersFor, wordsOf } from './offers'

/**
 * Deciding by hand: one field, in which a decision and its value are typed in any words, found, and taken with Enter.
 */
export function DecideField({
  world,
  onDecide,
  start = '',
  autoFocus = false,
  label = 'Decide by hand',
  ref,
}: {
  world: World
  /** The decision, and how it is said. */
  onDecide: (edit: HandEdit, said: string) => unknown
  /** What stands in the field at first. */
  start?: string
  autoFocus?: boolean
  label?: string
  ref?: Ref<HTMLInputElement>
}) {
  const [text, setText] = useState(start)
  const words = useMemo(() => wordsOf(withoutRetired(world)), [world])
  const offers = useMemo(() => offersFor(text, words), [text, words])
  const own = useRef<HTMLInputElement>(null)
  const take = (offer: Offer | null): void => {
    if (!offer) return
    if (offer.edit) {
      setText('')
      onDecide(offer.edit, `${offer.name}: ${offer.value}`)
      return
    }
    setText(offer.fill ?? '')
    // The field is gone on with, at its end.
    requestAnimationFrame(() => own.current?.focus())
  }
  return (
    <Combobox<Offer | null> value={null} onChange={take} immediate>
      <ComboboxInput
        ref={(element: HTMLInputElement | null) => {
          own.current = element
          if (typeof ref === 'function') ref(element)
          else if (ref) ref.current = element
        }}
        aria-label={label}
        placeholder="such as “corvid”, “urgent”, “hold call the buyer until Friday”"
        autoFocus={autoFocus}
        autoComplete="off"
        value={text}
        displayValue={() => text}
        onChange={(event) => setText(event.target.value)}
        className="w-full rounded-[3px] border border-hair bg-sheet px-2 py-1 placeholder:text-soft"
      />
      <ComboboxOptions
        anchor={{ to: 'bottom start', gap: 2 }}
        // What is around it can be read and reached while it is open.
        modal={false}
        className="z-40 max-h-96 w-(--input-width) overflow-auto rounded-[3px] border border-hair bg-sheet py-1 shadow-lg empty:hidden"
      >
        {offers.map((offer) => (
          <ComboboxOption
            key={offer.key}
            value={offer}
            className="flex cursor-default items-baseline gap-2 px-2 py-0.5 data-focus:bg-act-soft"
          >
            <span className={offer.edit ? 'text-soft' : ''}>{offer.name}</span>
            {offer.edit ? (
              <b className="min-w-0 font-semibold">{offer.value}</b>
            ) : (
              <span className="min-w-0 truncate text-small text-soft">{offer.value}</span>
            )}
          </ComboboxOption>
        ))}
        {offers.length === 0 && (
          <p className="px-2 py-0.5 text-soft">Nothing can be decided by these words. Begin with a decision’s name.</p>
        )}
      </ComboboxOptions>
    </Combobox>
  )
}
