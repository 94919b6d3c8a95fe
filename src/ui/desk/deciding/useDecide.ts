'use client'
import type { HandEdit } from '@/core/rulebook/change'
import { call } from '../../kit/api'
import { orderCount } from '../../kit/format'
import { useSay } from '../../kit/Toast'
import { useChange } from '../../kit/useChange'

/** Puts back what an edit replaced, and says for how many orders. */
export function useUndo(): (edit: number) => Promise<boolean> {
  const say = useSay()
  const change = useChange(['order'], ['desk'], ['edits'])
  return (edit) =>
    change(
      () => call('DELETE /api/desk/edits', { body: { edit } }),
      ({ changed, left }) =>
        say(
          `Put back for ${orderCount(changed)}${left[0] ? `; ${orderCount(left[0].count)} left: ${left[0].why}` : ''}`,
        ),
    )
}

/** Decides by hand for orders, with one undo in the message that says so. True when it was done. */
export function useDecide(): (orders: readonly number[], edits: readonly HandEdit[], said: string) => Promise<boolean> {
  const say = useSay()
  const undo = useUndo()
  const change = useChange(['order'], ['desk'], ['edits'])
  return (orders, edits, said) =>
    change(
      () => call('POST /api/desk/edits', { body: { key: crypto.randomUUID(), orders, edits } }),
      ({ edit, changed }) =>
        say(orders.length === 1 ? `Decided: ${said}` : `Decided for ${orderCount(changed)}: ${said}`, {
          undo: () => void undo(edit),
        }),
    )
}
