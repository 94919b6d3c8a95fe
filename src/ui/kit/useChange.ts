'use client'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useSay } from './Toast'

/** Does `work`, then says `done` or gives it the answer; true when it was done, false when it was refused. */
export type Change = <T>(work: () => Promise<T>, done?: string | ((answer: T) => void)) => Promise<boolean>

/**
 * A change on the server. What is refused is said in one place, by `Providers`; what it may have changed (`queries`) is
 * fetched again, whether it was done or not.
 */
export function useChange(...queries: readonly (readonly unknown[])[]): Change {
  const client = useQueryClient()
  const say = useSay()
  const { mutateAsync } = useMutation({
    mutationFn: (work: () => Promise<unknown>) => work(),
    onSettled: () => Promise.all(queries.map((queryKey) => client.invalidateQueries({ queryKey }))),
  })
  return async <T>(work: () => Promise<T>, done?: string | ((answer: T) => void)) => {
    let answer: T
    try {
      answer = (await mutateAsync(work)) as T
    } catch {
      return false
    }
    if (typeof done === 'string') say(done)
    else done?.(answer)
    return true
  }
}
