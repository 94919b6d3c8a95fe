'use client'
import type { CutOffOutlook } from '@/core/waves'
import type { DayView } from '@/usecases/dispatch/waves'
import type { DeskNames } from '@/usecases/desk/showDesk'
import { count, orderCount } from '../../kit/format'
import { When } from '../../kit/When'

const parts = [
  ['packed', 'packed', 'bg-done-mark'],
  ['bought', 'bought, to be packed', 'bg-act'],
  ['ready', 'ready to be bought', 'bg-hair'],
  ['stuck', 'need a person first', 'bg-wait-mark'],
] as const

/**
 * What leaves when: each cut-off of the next day with what is done for it and what is not, and what will likely be
 * late.
 */
export function DayPlan({ day, names }: { day: DayView; names: DeskNames }) {
  if (day.cutOffs.length === 0) return null
  const largest = Math.max(...day.cutOffs.map(sumOf))
  return (
    <section aria-label="Cut-offs of the day" className="mt-3">
      <h2 className="flex flex-wrap items-baseline gap-x-4 text-lead">
        What leaves when
        <span className="flex flex-wrap gap-x-4 text-small font-normal text-soft">
          {parts.map(([key, words, look]) => (
            <span key={key} className="flex items-center gap-1.5">
              <i aria-hidden className={`inline-block size-2.5 ${look}`} /> {words}
            </span>
          ))}
        </span>
      </h2>
      <ol className="mt-1">
        {day.cutOffs.map((one) => (
          <li
            key={`${one.location} ${one.cutOff}`}
            className="flex items-center gap-3 border-b border-hair/60 py-1 max-[899px]:flex-wrap"
          >
            <span className="w-36 shrink-0 whitespace-nowrap">
              <b className="font-semibold">
                <When at={new Date(one.cutOff).toISOString()} />
              </b>
            </span>
            <span className="w-28 shrink-0 truncate">{names.locations[one.location] ?? one.location}</span>
            <span className="w-24 shrink-0 text-right whitespace-nowrap text-soft">
              {leftText(one.cutOff - Date.parse(day.now))}
            </span>
            <Bar work={one} largest={largest} />
            <span className="shrink-0 text-right whitespace-nowrap">
              <Outlook work={one} />
            </span>
          </li>
        ))}
      </ol>
    </section>
  )
}

const sumOf = ({ ready, bought, packed, stuck }: CutOffOutlook): number => ready + bought + packed + stuck

/** How much of it is done, as long as the day's largest. */
function Bar({ work, largest }: { work: CutOffOutlook; largest: number }) {
  const words = parts.flatMap(([key, name]) => (work[key] > 0 ? [`${work[key]} ${name}`] : [])).join(', ')
  return (
    <span className="min-w-0 flex-1" title={words}>
      <span className="sr-only">{words}</span>
      <span
        aria-hidden
        className="flex h-4"
        style={{ width: `${Math.max(4, (100 * sumOf(work)) / Math.max(1, largest))}%` }}
      >
        {parts.map(([key, , look]) => (
          <i
            key={key}
            className={`h-4 ${look}`}
            style={{ width: `${(100 * work[key]) / Math.max(1, sumOf(work))}%` }}
          />
        ))}
      </span>
    </span>
  )
}

function Outlook({ work }: { work: CutOffOutlook }) {
  const open = work.ready + work.bought
  if (work.behind !== null && work.behind > 0)
    return <b className="font-semibold text-lost">✕ {orderCount(work.behind)} likely late, at this pace</b>
  if (open > 0)
    return (
      <span>
        {count(open)} to do{work.stuck > 0 && <span className="text-wait">, {count(work.stuck)} stuck</span>}
      </span>
    )
  return work.stuck > 0 ? (
    <span className="text-wait">△ {count(work.stuck)} stuck</span>
  ) : (
    <span className="text-done">✓ all packed</span>
  )
}

function leftText(ms: number): string {
  const minutes = Math.max(0, Math.floor(ms / 60_000))
  if (minutes < 60) return `in ${minutes} min`
  const hours = Math.floor(minutes / 60)
  return hours < 10 ? `in ${hours} h ${minutes % 60} min` : `in ${hours} h`
}
