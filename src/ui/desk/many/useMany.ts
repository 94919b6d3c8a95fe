'use client'
import { useCallback, useState } from 'react'
import { call } from '../../kit/api'
import { useSay } from '../../kit/Toast'
import { useChange } from '../../kit/useChange'

/** What is done for several orders beside the list. */
export interface Many {
  readonly what: 'decide' | 'write'
  /** As the list has them, so that a pasted column finds its orders. */
  readonly orders: readonly number[]
  /** A column of a spreadsheet that was pasted into the list. */
  readonly pasted: string
}

/** What is done for the orders that are selected, in the order of the list; nothing until it begins. */
export function useMany(
  query: string,
  selected: ReadonlySet<number>,
): {
  readonly many: Many | null
  readonly begin: (what: Many['what'], pasted?: string) => void
  /** For one order that is open. */
  readonly write: (order: number) => void
  readonly end: () => void
} {
  const [many, setMany] = useState<Many | null>(null)
  const end = useCallback(() => setMany(null), [])
  const say = useSay()
  const change = useChange()
  return {
    many,
    begin: (what, pasted = '') => {
      if (selected.size === 0) return say('Select the orders first: Space on a row, or A for all that are shown.')
      void change(
        () => call('GET /api/desk/ids', { query: new URLSearchParams(query) }),
        (ids) => {
          const listed = ids.filter((id) => selected.has(id))
          const orders = [...listed, ...[...selected].filter((id) => !listed.includes(id))]
          setMany({ what, orders, pasted })
        },
      )
    },
    write: (order) => setMany({ what: 'write', orders: [order], pasted: '' }),
    end,
  }
}
