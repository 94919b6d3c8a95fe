'use client'
import { useQueryClient } from '@tanstack/react-query'
import { sentenceOf } from './api'
import { useSay } from './Toast'

/** Waits for a change, says how it went, and has what it may have changed fetched anew. True when it was done. */
export function useSettle(queryKey: readonly unknown[]): (work: Promise<unknown>, said: string) => Promise<boolean> {
  const client = useQueryClient()
  const say = useSay()
  return async (work, said) => {
    try {
      await work
      say(said)
      return true
    } catch (error) {
      say(sentenceOf(error), { tone: 'bad' })
      return false
    } finally {
      await client.invalidateQueries({ queryKey })
    }
  }
}
