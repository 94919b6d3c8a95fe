'use client'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { parseAsString, useQueryStates } from 'nuqs'
import { useState } from 'react'
import type { DeskNames } from '@/usecases/desk/showDesk'
import type { CollectionCell, CollectionLane, CollectionsView } from '@/usecases/dispatch/collections/showCollections'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { count } from '../../kit/format'
import { weekdayNames } from '../../kit/weekdays'
import { DispatchHead } from '../DispatchHead'
import { Agreements } from './Agreements'
import { CollectionDay } from './CollectionDay'
import { dayName, stateWords } from './words'
import { aStep } from '../../kit/step'

const parsers = { from: parseAsString, day: parseAsString, carrier: parseAsString, location: parseAsString }
const moved = ['queued', 'changing', 'cancelling']

/** Who comes for the parcels, where and when: a week of all carriers, with what stands there beside it. */
export function Collections({ initial, names }: { initial: CollectionsView; names: DeskNames }) {
  const [at, put] = useQueryStates(parsers, aStep)
  const [agreeing, setAgreeing] = useState(false)
  const { data, isPlaceholderData } = useQuery({
    queryKey: ['collections', at.from],
    queryFn: () => call('GET /api/dispatch/collections', { query: at.from ? { from: at.from } : {} }),
    initialData: at.from === null ? initial : undefined,
    placeholderData: keepPreviousData,
    refetchInterval: (query) =>
      query.state.data?.lanes.some(({ cells }) =>
        cells.some(({ collections }) => collections.some(({ state }) => moved.includes(state))),
      )
        ? 1000
        : 10_000,
  })
  const view = data ?? initial
  const lane = view.lanes.find(({ carrier, location }) => carrier === at.carrier && location === at.location)
  const cell = lane?.cells.find(({ day }) => day === at.day)
  const warnings = view.lanes.flatMap((one) => one.cells.filter(({ warning }) => warning !== null)).length
  const step = (days: number): Promise<unknown> => put({ from: plusDays(view.days[0]!, days) })
  const close = (): void => {
    setAgreeing(false)
    void put({ day: null, carrier: null, location: null })
  }
  return (
    <div className="relative flex h-full">
      <div className="flex min-w-0 flex-1 flex-col">
        <DispatchHead
          at="collections"
          about={warnings === 0 ? 'Who comes, where and when' : `△ ${count(warnings)} to look at`}
        />
        <div className="flex items-center gap-2 border-b border-hair px-5 pb-2">
          <Button kind="quiet" aria-label="The week before" onClick={() => step(-7)}>
            ←
          </Button>
          <Button kind="quiet" disabled={at.from === null} onClick={() => put({ from: null })}>
            Today
          </Button>
          <Button kind="quiet" aria-label="The week after" onClick={() => step(7)}>
            →
          </Button>
          <span>
            {dayName(view.days[0]!)} to {dayName(view.days.at(-1)!)}
          </span>
          <Button
            className="ml-auto"
            onClick={() => {
              close()
              setAgreeing(true)
            }}
          >
            Standing collections …
          </Button>
        </div>
        {/* While another week comes, no day of this one can be taken by mistake. */}
        <div
          className="min-h-0 flex-1 overflow-auto px-5 pb-8"
          tabIndex={0}
          role="region"
          aria-label="Calendar"
          aria-busy={isPlaceholderData}
          inert={isPlaceholderData}
        >
          <Calendar
            view={view}
            names={names}
            chosen={cell && lane ? `${lane.location} ${lane.carrier} ${cell.day}` : ''}
            onChoose={({ carrier, location }, { day }) => {
              setAgreeing(false)
              void put({ carrier, location, day })
            }}
          />
          <Standing view={view} names={names} />
        </div>
      </div>
      {agreeing && <Agreements view={view} names={names} onClose={close} />}
      {lane && cell && !agreeing && (
        <CollectionDay
          key={`${lane.carrier} ${lane.location} ${cell.day}`}
          lane={lane}
          cell={cell}
          today={view.today}
          names={names}
          onClose={close}
        />
      )}
    </div>
  )
}

function Calendar({
  view,
  names,
  chosen,
  onChoose,
}: {
  view: CollectionsView
  names: DeskNames
  chosen: string
  onChoose: (lane: CollectionLane, cell: CollectionCell) => void
}) {
  return (
    <table className="mt-3 w-full min-w-[52rem] table-fixed bg-sheet">
      <thead>
        <tr className="border-y border-hair text-small text-soft">
          <th className="w-44 px-3 py-1.5 text-left font-normal">From, by</th>
          {view.days.map((day) => (
            <th
              key={day}
              className={`px-2 text-left font-normal ${day === view.today ? 'font-semibold text-ink' : ''}`}
              aria-current={day === view.today ? 'date' : undefined}
            >
              {day === view.today ? 'Today' : dayName(day)}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {view.lanes.map((lane) => (
          <tr key={`${lane.location} ${lane.carrier}`} className="border-b border-hair/70">
            <th scope="row" className="px-3 py-1 text-left font-normal">
              {names.carriers[lane.carrier] ?? lane.carrier}
              <span className="block text-small text-soft">{names.locations[lane.location] ?? lane.location}</span>
            </th>
            {lane.cells.map((cell) => (
              <td key={cell.day} className={`border-l border-hair/60 p-0 ${cell.closed ? 'bg-tint/60' : ''}`}>
                <button
                  type="button"
                  aria-label={`${names.carriers[lane.carrier] ?? lane.carrier}, ${names.locations[lane.location] ?? lane.location}, ${dayName(cell.day)}: ${wordsOf(cell)}`}
                  aria-pressed={chosen === `${lane.location} ${lane.carrier} ${cell.day}`}
                  className={`block min-h-11 w-full px-2 py-1 text-left text-small hover:bg-act-soft ${chosen === `${lane.location} ${lane.carrier} ${cell.day}` ? 'bg-act-soft' : ''}`}
                  onClick={() => onChoose(lane, cell)}
                >
                  <CellWords cell={cell} />
                </button>
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  )
}

/** A day in a word, for readers who do not see the cell. */
function wordsOf({ collections, agreed, there, warning }: CollectionCell): string {
  if (warning !== null) return warning
  const words = collections.map(({ state, wish }) => `${stateWords[state][1]} ${wish.from} to ${wish.until}`)
  const regular = agreed.map(({ from, until }) => `comes ${from} to ${until}`)
  const here = there.parcels > 0 ? [`${there.parcels} here`] : []
  return [...words, ...regular, ...here].join(', ') || 'nothing booked'
}

function CellWords({ cell }: { cell: CollectionCell }) {
  const { collections, agreed, there, warning, closed } = cell
  return (
    <>
      {agreed.map(({ id, from, until }) => (
        <Window key={id} mark="✓" tone="text-done" from={from} until={until} />
      ))}
      {collections.map(({ id, state, wish }) => (
        <Window
          key={id}
          mark={stateWords[state][0]}
          tone={stateWords[state][2]}
          from={wish.from}
          until={wish.until}
          gone={state === 'cancelled'}
        />
      ))}
      {warning !== null && <span className="line-clamp-2 text-wait">△ {warning}</span>}
      {warning === null && there.parcels > 0 && <span className="block text-soft">{count(there.parcels)} here</span>}
      {collections.length === 0 && agreed.length === 0 && warning === null && there.parcels === 0 && (
        <span className="text-soft">{closed ? 'closed' : '·'}</span>
      )}
    </>
  )
}

/** A time window, on two lines where the column is narrow. */
function Window({
  mark,
  tone,
  from,
  until,
  gone = false,
}: {
  mark: string
  tone: string
  from: string
  until: string
  gone?: boolean
}) {
  return (
    <span className={`block ${gone ? 'text-soft line-through' : ''}`}>
      <span className="inline-block">
        <span className={tone}>{mark}</span> {from}–
      </span>
      <span className="inline-block">{until}</span>
    </span>
  )
}

/** What comes again and again, in words. */
function Standing({ view, names }: { view: CollectionsView; names: DeskNames }) {
  const days = weekdayNames()
  if (view.agreements.length === 0) return null
  return (
    <section aria-label="Standing collections">
      <h2 className="mt-5 mb-1 text-lead">Standing collections</h2>
      <ul className="bg-sheet">
        {view.agreements.map((one) => (
          <li key={one.id} className="flex gap-4 border-b border-hair/70 px-3 py-1">
            <span className="w-56">
              {names.carriers[one.carrier] ?? one.carrier}{' '}
              <span className="text-soft">{names.locations[one.location] ?? one.location}</span>
            </span>
            <span className="w-64">
              {one.weekdays.length === 7
                ? 'every day'
                : days
                    .filter(([day]) => one.weekdays.includes(day))
                    .map(([, name]) => name)
                    .join(', ')}
            </span>
            <span className="w-28 whitespace-nowrap">
              {one.from}–{one.until}
            </span>
            <span className="text-soft">
              {[one.unasked ? 'comes unasked' : 'booked for each day', one.place].filter(Boolean).join(', ')}
            </span>
          </li>
        ))}
      </ul>
    </section>
  )
}

const plusDays = (day: string, days: number): string =>
  new Date(Date.parse(`${day}T00:00:00Z`) + days * 86_400_000).toISOString().slice(0, 10)
