import { channelKindOf } from '@/adapters'
import type { ConnectionHour, ConnectionRow } from '@/data'

export const healthStates = [
  'works',
  'not tried',
  'slow',
  'rate-limited',
  'failing',
  'refused',
  'ends soon',
  'not authorised',
  'ended',
  'off',
] as const
export type HealthState = (typeof healthStates)[number]

export interface Health {
  readonly state: HealthState
  /** What is so, and what to do; empty when all is well. */
  readonly sentence: string
}

/** Calls that take longer on average are slow. */
const slowMs = 5_000
const day = 86_400_000
/** An authorisation that ends within so many days is said. */
const warnDays = 14

type Known = Pick<
  ConnectionRow,
  'kind' | 'on' | 'lastSuccessAt' | 'lastFailureAt' | 'lastFailureKind' | 'lastFailure' | 'endsAt' | 'tokens'
>

/** How a connection is, by its last calls and those of the youngest hours. */
export function healthOf(row: Known, hours: readonly ConnectionHour[], now: Date): Health {
  if (!row.on) return { state: 'off', sentence: 'It is switched off.' }
  const ends = row.endsAt === null ? null : Date.parse(row.endsAt) - now.getTime()
  if (ends !== null && ends <= 0)
    return { state: 'ended', sentence: 'Its authorisation has ended: authorise it again.' }
  if (row.tokens === null && channelKindOf(row.kind)?.authorises)
    return { state: 'not authorised', sentence: 'Authorise it: only then its orders can be fetched.' }
  const failed = row.lastFailureAt !== null && (row.lastSuccessAt === null || row.lastFailureAt > row.lastSuccessAt)
  if (failed) return failing(row)
  if (ends !== null && ends < warnDays * day) {
    const days = Math.ceil(ends / day)
    return {
      state: 'ends soon',
      sentence: `Its authorisation ends in ${days} ${days === 1 ? 'day' : 'days'}: authorise it again before.`,
    }
  }
  if (row.lastSuccessAt === null) return { state: 'not tried', sentence: 'It was not called yet: test it.' }
  const young = hours.slice(-2)
  const calls = young.reduce((sum, hour) => sum + hour.calls, 0)
  const ms = young.reduce((sum, hour) => sum + hour.ms, 0)
  if (calls > 0 && ms / calls > slowMs)
    return { state: 'slow', sentence: `It takes ${(ms / calls / 1000).toFixed(1)} s to answer, on average.` }
  return { state: 'works', sentence: '' }
}

function failing({ lastFailureKind, lastFailure }: Known): Health {
  const said = lastFailure ?? ''
  if (lastFailureKind === 'rate-limited')
    return { state: 'rate-limited', sentence: `${said} Gharry waits as long as it asks.` }
  if (lastFailureKind === 'not allowed') return { state: 'refused', sentence: said }
  return { state: 'failing', sentence: `${said} Gharry tries again by itself.` }
}

/** States that a person should know of, wherever they are. */
export const isIll = (state: HealthState): boolean => !['works', 'not tried', 'off', 'slow'].includes(state)
