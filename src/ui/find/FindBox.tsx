'use client'
import {
  Combobox,
  ComboboxInput,
  ComboboxOption,
  ComboboxOptions,
  Dialog,
  DialogPanel,
  DialogTitle,
} from '@headlessui/react'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useRouter } from 'next/navigation'
import { useState, type ReactNode } from 'react'
import type { Found } from '@/usecases/shared/find'
import { call } from '../kit/api'
import { shortDay } from '../kit/format'
import { StateMark } from '../kit/StateMark'
import { useRested } from '../kit/useRested'
import { placesFor } from './places'

interface Entry {
  readonly key: string
  readonly href: string
  readonly group: string
  readonly row: ReactNode
}

/** One box for everything: an order, a buyer, a number, a rule, an item, a screen. Enter goes there. */
export function FindBox({ onClose }: { onClose: () => void }) {
  const router = useRouter()
  const [text, setText] = useState('')
  const asked = useRested(text.trim(), 80) ?? ''
  const { data, isFetching, error } = useQuery({
    queryKey: ['find', asked],
    queryFn: () => call('GET /api/find', { query: { q: asked } }),
    enabled: asked.length > 1,
    placeholderData: keepPreviousData,
  })
  const entries = asked === '' ? [] : entriesOf(asked, data)
  const groups = [...new Set(entries.map(({ group }) => group))]
  const go = (entry: Entry | null): void => {
    if (!entry) return
    onClose()
    router.push(entry.href)
  }
  return (
    <Dialog open onClose={onClose} className="relative z-40">
      <div className="fixed inset-0 bg-ink/30" aria-hidden />
      <div className="fixed inset-0 flex justify-center p-4 pt-[10vh] max-[639px]:pt-4">
        <DialogPanel
          className="flex max-h-[70vh] w-[40rem] max-w-full flex-col self-start bg-sheet shadow-xl"
          // One Escape leaves, also where the list would take the first for itself.
          onKeyDownCapture={(event) => {
            if (event.key !== 'Escape') return
            event.stopPropagation()
            onClose()
          }}
        >
          <DialogTitle className="sr-only">Find anything</DialogTitle>
          <Combobox<Entry | null> value={null} onChange={go} immediate>
            <ComboboxInput
              autoFocus
              aria-label="Order, name, e-mail, telephone, tracking number, SKU, rule or screen"
              placeholder="Order, name, e-mail, telephone, tracking number, SKU, rule or screen"
              className="w-full border-b border-hair bg-sheet px-4 py-3 text-lead outline-offset-[-2px] placeholder:text-soft"
              autoComplete="off"
              onChange={(event) => setText(event.target.value)}
            />
            <ComboboxOptions static modal={false} className="min-h-0 flex-1 overflow-auto py-1 outline-none">
              {groups.map((group) => (
                <div key={group} role="group" aria-label={group}>
                  <p aria-hidden className="px-4 pt-2 text-small text-soft">
                    {group}
                  </p>
                  {entries
                    .filter((entry) => entry.group === group)
                    .map((entry) => (
                      <ComboboxOption
                        key={entry.key}
                        value={entry}
                        className="flex cursor-default items-center gap-3 px-4 py-1.5 data-focus:bg-act-soft"
                      >
                        {entry.row}
                      </ComboboxOption>
                    ))}
                </div>
              ))}
            </ComboboxOptions>
            <p role="status" className="px-4 py-2 text-soft">
              {saidOf(text.trim(), entries.length, isFetching || asked !== text.trim(), error !== null)}
            </p>
          </Combobox>
        </DialogPanel>
      </div>
    </Dialog>
  )
}

function saidOf(text: string, found: number, looking: boolean, failed: boolean): string {
  if (text === '') return 'Type what you know of it. Enter goes there, Esc leaves.'
  if (failed) return 'The search cannot be reached: screens can be found all the same.'
  if (looking) return 'Looking …'
  return found === 0 ? 'No matches.' : ''
}

function entriesOf(text: string, found: Found | undefined): readonly Entry[] {
  return [
    ...(found?.parcels ?? []).map(({ orderId, number, trackingNumber, status }) => ({
      key: `p${trackingNumber}`,
      href: `/desk?order=${orderId}&q=${encodeURIComponent(number)}`,
      group: 'Parcels',
      row: (
        <>
          <span className="font-mono text-small">{trackingNumber}</span>
          <span className="font-mono text-small text-soft">{number}</span>
          <span className="ml-auto">
            <StateMark state={status} />
          </span>
        </>
      ),
    })),
    ...(found?.orders ?? []).map(({ id, number, buyer, city, country, state, placedAt }) => ({
      key: `o${id}`,
      href: `/desk?order=${id}&q=${encodeURIComponent(number)}`,
      group: 'Orders',
      row: (
        <>
          <span className="w-24 shrink-0 font-mono text-small">{number}</span>
          <bdi className="min-w-0 truncate">{buyer}</bdi>
          <span className="shrink-0 text-soft">
            {country} {city}, {shortDay(placedAt)}
          </span>
          <span className="ml-auto shrink-0">
            <StateMark state={state} />
          </span>
        </>
      ),
    })),
    ...placesFor(text).map(({ name, href }) => ({ key: `s${href}`, href, group: 'Screens', row: <span>{name}</span> })),
    ...(found?.rules ?? []).map(({ id, name }) => ({
      key: `r${id}`,
      href: `/rules?q=${encodeURIComponent(name)}`,
      group: 'Rules',
      row: <span>{name}</span>,
    })),
    ...(found?.items ?? []).map(({ sku, title }) => ({
      key: `i${sku}`,
      href: `/intake/items?q=${encodeURIComponent(sku)}`,
      group: 'Items',
      row: (
        <>
          <span className="font-mono text-small">{sku}</span>
          <span className="text-soft">{title}</span>
        </>
      ),
    })),
  ]
}
