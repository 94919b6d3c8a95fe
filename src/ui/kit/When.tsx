'use client'
import { useSyncExternalStore } from 'react'
import { shortTime } from './format'

const never = (): (() => void) => () => {}

/**
 * A moment as the books keep it, in UTC; for readers whose clocks say something else at that moment, it says so. The
 * day and the time where they are is behind it.
 */
export function When({ at }: { at: string | null | undefined }) {
  const here = useSyncExternalStore(
    never,
    () => (at ? (localOf(at) ?? '') : ''),
    () => '',
  )
  if (!at) return '–'
  return (
    <time dateTime={at} title={here || undefined} className="whitespace-nowrap">
      {shortTime(at)}
      {here && <span className="text-soft"> UTC</span>}
    </time>
  )
}

/** The moment where the reader is, with the zone; undefined where that is the time in UTC. */
function localOf(at: string): string | undefined {
  const moment = new Date(at)
  if (Number.isNaN(moment.getTime()) || moment.getTimezoneOffset() === 0) return undefined
  return moment.toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'long' })
}
