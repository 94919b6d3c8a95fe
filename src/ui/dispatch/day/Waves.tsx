'use client'
import { useState } from 'react'
import type { ProposedWave } from '@/core/waves'
import type { DayView } from '@/usecases/dispatch/waves'
import type { DeskNames } from '@/usecases/desk/showDesk'
import { Button } from '../../kit/Button'
import { count, homeMoney } from '../../kit/format'
import { When } from '../../kit/When'

/** So many are shown at first: what leaves soonest. */
const few = 8
const most = 300

/** A wave as its batch is called, and until when it has to leave. */
export interface WaveName {
  readonly name: string
  readonly leavesBy: string | null
}

/** The waves that the ready orders make: what leaves first comes first, each to be planned and bought. */
export function Waves({
  day,
  names,
  onPlan,
  onRules,
}: {
  day: DayView
  names: DeskNames
  onPlan: (orders: readonly number[], wave: WaveName) => void
  onRules: () => void
}) {
  const [all, setAll] = useState(false)
  return (
    <section aria-label="Waves" className="mt-4">
      <h2 className="flex items-baseline gap-3 text-lead">
        Waves
        <span className="text-small font-normal text-soft">
          {day.waves.length === 0 ? 'Nothing is ready to be bought.' : 'orders that are ready, as they leave together'}
        </span>
        <Button kind="quiet" className="ml-auto text-data font-normal" onClick={onRules}>
          How orders are gathered
        </Button>
      </h2>
      {day.waves.length > 0 && (
        <table className="mt-1 w-full bg-sheet">
          <thead>
            <tr className="border-y border-hair text-small text-soft">
              <th className="px-3 py-1.5">Wave</th>
              <th>From</th>
              <th>Leaves by</th>
              <th className="text-right">Orders</th>
              <th className="px-3 text-right">Labels</th>
              <th className="w-24">
                <span className="sr-only">Plan</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {day.waves.slice(0, all ? most : few).map((wave) => (
              <tr key={`${wave.rule} ${wave.orders[0]}`} className="border-b border-hair/70 hover:bg-tint">
                <td className="px-3 py-1">
                  {wave.name}
                  {wave.single && <span className="ml-2 font-mono text-small text-soft">{wave.single}</span>}
                </td>
                <td>{names.locations[wave.location] ?? wave.location}</td>
                <td className="whitespace-nowrap">
                  {wave.cutOff === null ? (
                    <span className="text-soft">no collection</span>
                  ) : (
                    <When at={new Date(wave.cutOff).toISOString()} />
                  )}
                </td>
                <td className="text-right">{count(wave.orders.length)}</td>
                <td className="px-3 text-right whitespace-nowrap">{homeMoney(wave.cost)}</td>
                <td className="pr-2 text-right">
                  <Button
                    kind="quiet"
                    aria-label={`Plan ${nameOf(wave, names)}`}
                    onClick={() =>
                      onPlan(wave.orders, {
                        name: nameOf(wave, names),
                        leavesBy: wave.cutOff === null ? null : new Date(wave.cutOff).toISOString(),
                      })
                    }
                  >
                    Plan
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {day.waves.length > few && (
        <Button kind="quiet" className="mt-1" onClick={() => setAll(!all)}>
          {all ? 'Show the first alone' : `Show all ${count(day.waves.length)} waves`}
        </Button>
      )}
    </section>
  )
}

const nameOf = ({ name, location, single }: ProposedWave, names: DeskNames): string =>
  [name, names.locations[location] ?? location, single].filter(Boolean).join(', ')
