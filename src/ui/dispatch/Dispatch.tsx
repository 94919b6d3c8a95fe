'use client'
import { useQuery } from '@tanstack/react-query'
import { useSearchParams } from 'next/navigation'
import { useEffect, useState } from 'react'
import type { BatchLine } from '@/usecases/dispatch/showBatches'
import type { DeskNames } from '@/usecases/desk/showDesk'
import type { DayView } from '@/usecases/dispatch/waves'
import { call } from '../kit/api'
import { count, homeMoney } from '../kit/format'
import { useChange } from '../kit/useChange'
import { Plain } from '../kit/Screen'
import { BatchDetail } from './BatchDetail'
import { DayPlan } from './day/DayPlan'
import { type WaveName, Waves } from './day/Waves'
import { WaveRules } from './day/WaveRules'
import { DispatchHead } from './DispatchHead'
import { PlanBatch } from './PlanBatch'
import { keepSelection, keptSelection } from './selection'
import { Button } from '../kit/Button'
import { When } from '../kit/When'

/** Batches: plan one, see what it costs, buy it, watch it, print it, hand it over. */
export function Dispatch({
  initial,
  initialDay,
  names,
}: {
  initial: readonly BatchLine[]
  /** With it from the first moment, so that nothing below it moves when it comes. */
  initialDay: DayView
  names: DeskNames
}) {
  const search = useSearchParams()
  const open = Number(search.get('batch')) || null
  const [orders, setOrders] = useState<readonly number[]>([])
  const [wave, setWave] = useState<WaveName | null>(null)
  const [gathering, setGathering] = useState(false)
  const { data: day } = useQuery({
    queryKey: ['day'],
    queryFn: () => call('GET /api/dispatch/day'),
    initialData: initialDay,
    refetchInterval: 10_000,
  })
  useEffect(() => setOrders(search.get('from') === 'desk' ? keptSelection() : []), [search])
  const { data } = useQuery({
    queryKey: ['batches'],
    queryFn: () => call('GET /api/dispatch/batches'),
    initialData: [...initial],
    refetchInterval: (query) => (query.state.data?.some((batch) => Number(batch.queued) > 0) ? 700 : 4000),
  })
  const go = (address: string): void => window.history.pushState(null, '', address)
  const change = useChange()
  const planAllReady = (): Promise<boolean> =>
    change(
      () => call('GET /api/desk/ids', { query: { state: 'ready' } }),
      (ids) => {
        keepSelection(ids)
        setOrders(ids)
        setWave(null)
        go('/dispatch?from=desk')
      },
    )
  return (
    <div className="relative flex h-full">
      <div className="flex min-w-0 flex-1 flex-col">
        <DispatchHead at="batches" about="Buy, print and hand over in batches">
          {orders.length === 0 && (
            <Button
              kind={open === null ? 'filled' : 'plain'}
              calls="POST /api/dispatch/plan"
              onClick={() => planAllReady()}
            >
              Plan all ready orders
            </Button>
          )}
        </DispatchHead>
        <div className="min-h-0 flex-1 overflow-auto px-5 pb-8" tabIndex={0} role="region" aria-label="Batches">
          {orders.length > 0 && (
            <div className="flex h-[max(18rem,calc(100dvh-180px))] flex-col">
              <PlanBatch
                key={orders.join()}
                orders={orders}
                wave={wave}
                names={names}
                onClose={() => {
                  keepSelection([])
                  setOrders([])
                  go('/dispatch')
                }}
                onOrders={(next) => {
                  keepSelection([...next])
                  setOrders([...next])
                }}
                onBought={(batch) => {
                  keepSelection([])
                  setOrders([])
                  go(`/dispatch?batch=${batch}`)
                }}
              />
            </div>
          )}
          {orders.length === 0 && (
            <>
              <DayPlan day={day} names={names} />
              <Waves
                day={day}
                names={names}
                onPlan={(next, named) => {
                  keepSelection(next)
                  setOrders(next)
                  setWave(named)
                  go('/dispatch?from=desk')
                }}
                onRules={() => setGathering(true)}
              />
            </>
          )}
          <h2 className="mt-4 mb-1 text-lead">Batches</h2>
          {data.length === 0 ? (
            <Plain title="No batch yet">
              Select orders on the{' '}
              <a className="text-act underline" href="/desk?state=ready">
                Desk
              </a>
              , or plan all that are ready.
            </Plain>
          ) : (
            <table className="w-full bg-sheet">
              <thead>
                <tr className="border-y border-hair text-small text-soft">
                  <th className="px-3 py-1.5">Batch</th>
                  <th>Made</th>
                  <th>From, by</th>
                  <th className="px-3">Next cut-off</th>
                  <th className="text-right">Labels</th>
                  <th className="px-3">Progress</th>
                  {open === null && (
                    <>
                      <th className="text-right">Refused</th>
                      <th className="text-right">Voided</th>
                    </>
                  )}
                  <th className="text-right">Charged</th>
                  {open === null && (
                    <>
                      <th className="px-3">Printed</th>
                      <th>Handed over</th>
                    </>
                  )}
                </tr>
              </thead>
              <tbody>
                {data.map((batch) => {
                  const done = Number(batch.bought) + Number(batch.failed) + Number(batch.voided)
                  const all = Number(batch.labels)
                  return (
                    <tr
                      key={batch.id}
                      className={`border-b border-hair/70 hover:bg-tint ${open === batch.id ? 'bg-act-soft' : ''}`}
                    >
                      <td className="px-3 py-1.5">
                        <button
                          className="font-semibold whitespace-nowrap text-act underline decoration-hair underline-offset-4"
                          onClick={() => go(`/dispatch?batch=${batch.id}`)}
                        >
                          Batch {batch.id}
                        </button>
                        {batch.name && <span className="block text-small text-soft">{batch.name}</span>}
                      </td>
                      <td>
                        <When at={batch.madeAt} /> {open === null && <span className="text-soft">{batch.author}</span>}
                      </td>
                      <td className={open === null ? '' : 'max-w-40 truncate'}>
                        {batch.locations.map((id) => names.locations[id] ?? id).join(', ')}{' '}
                        <span className="text-soft">
                          {batch.carriers.map((id) => names.carriers[id] ?? id).join(', ')}
                        </span>
                      </td>
                      <td className="px-3 whitespace-nowrap">
                        {batch.cutOff === null ? (
                          <span className="text-soft">–</span>
                        ) : (
                          <time dateTime={batch.cutOff}>
                            <When at={batch.cutOff} />
                          </time>
                        )}
                      </td>
                      <td className="text-right">{count(all)}</td>
                      <td className="px-3">
                        <div className="flex items-center gap-2">
                          <div
                            role="progressbar"
                            aria-label={`Batch ${batch.id}`}
                            aria-valuenow={Math.round((100 * done) / Math.max(1, all))}
                            className="h-2 w-24 bg-tint"
                          >
                            <div
                              className="h-2 bg-done-mark"
                              style={{ width: `${(100 * done) / Math.max(1, all)}%` }}
                            />
                          </div>
                          <span>{Number(batch.queued) > 0 ? `${count(done)} of ${count(all)}` : 'done'}</span>
                        </div>
                      </td>
                      {open === null && (
                        <>
                          <td className={`text-right ${Number(batch.failed) > 0 ? 'font-semibold text-lost' : ''}`}>
                            {count(Number(batch.failed))}
                          </td>
                          <td className="text-right">{count(Number(batch.voided))}</td>
                        </>
                      )}
                      <td className="text-right whitespace-nowrap">{homeMoney(Number(batch.charged))}</td>
                      {open === null && (
                        <>
                          <td className="px-3">
                            {Number(batch.printed) > 0 ? (
                              `${count(Number(batch.printed))}`
                            ) : (
                              <span className="text-soft">not yet</span>
                            )}
                          </td>
                          <td>
                            {Number(batch.dispatched) > 0 ? (
                              count(Number(batch.dispatched))
                            ) : (
                              <span className="text-soft">not yet</span>
                            )}
                          </td>
                        </>
                      )}
                    </tr>
                  )
                })}
              </tbody>
            </table>
          )}
        </div>
      </div>
      {gathering && <WaveRules day={day} names={names} onClose={() => setGathering(false)} />}
      {open !== null && !gathering && (
        <BatchDetail key={open} id={open} names={names} onClose={() => go('/dispatch')} />
      )}
    </div>
  )
}
