import type { HealthState } from '@/usecases/intake/connectionHealth'
import { count } from '../../kit/format'

type Tone = 'text-done' | 'text-soft' | 'text-wait' | 'text-lost'
const looks: Readonly<Record<HealthState, readonly [sign: string, tone: Tone]>> = {
  works: ['●', 'text-done'],
  'not tried': ['○', 'text-soft'],
  slow: ['◔', 'text-wait'],
  'rate-limited': ['◔', 'text-wait'],
  failing: ['◆', 'text-lost'],
  refused: ['◆', 'text-lost'],
  'ends soon': ['△', 'text-wait'],
  'not authorised': ['△', 'text-wait'],
  ended: ['◆', 'text-lost'],
  off: ['–', 'text-soft'],
}
const words: Partial<Record<HealthState, string>> = { 'ends soon': 'authorisation ends', ended: 'authorisation ended' }

/** How a connection is: a sign of its own and a word. */
export function HealthMark({ state }: { state: HealthState }) {
  const [sign, tone] = looks[state]
  return (
    <span className={`whitespace-nowrap ${tone}`}>
      <span aria-hidden className="inline-block w-4">
        {sign}
      </span>
      {words[state] ?? state}
    </span>
  )
}

interface Hour {
  readonly hour: string
  readonly calls: number
  readonly failures: number
}

/** Calls of each of the last hours as bars, those that failed filled in; the sums in words. */
export function Hours({ hours }: { hours: readonly Hour[] }) {
  const most = Math.max(1, ...hours.map(({ calls }) => calls))
  const calls = hours.reduce((sum, hour) => sum + hour.calls, 0)
  const failures = hours.reduce((sum, hour) => sum + hour.failures, 0)
  if (calls === 0) return <span className="text-small text-soft">no calls</span>
  const said = `${count(calls)} ${calls === 1 ? 'call' : 'calls'}, ${count(failures)} failed`
  return (
    <span className="block" title="Calls of the last 24 hours, hour by hour">
      <svg viewBox={`0 0 ${hours.length * 5} 18`} className="h-[18px] w-30 border-b border-hair" aria-hidden>
        {hours.map(({ hour, calls: all, failures: bad }, i) => {
          const height = all === 0 ? 0 : Math.max(1.5, (18 * all) / most)
          const lost = bad === 0 ? 0 : Math.max(1.5, (height * bad) / all)
          return (
            <g key={hour}>
              <rect x={i * 5} y={18 - height} width="4" height={height} className="fill-done-mark" />
              <rect x={i * 5} y={18 - lost} width="4" height={lost} className="fill-lost" />
            </g>
          )
        })}
      </svg>
      <span className="block text-small text-soft">{said}</span>
    </span>
  )
}
