'use client'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useSearchParams } from 'next/navigation'
import { useEffect, useState } from 'react'
import type { BatchesView } from '@/usecases/dispatch/showBatches'
import type { DeskNames } from '@/usecases/desk/showDesk'
import type { DayView } from '@/usecases/dispatch/waves'
import { call } from '../kit/api'
import { useChange } from '../kit/useChange'
import { Pager } from '../kit/Pager'
import { Plain } from '../kit/Screen'
import { useSkip } from '../kit/useSkip'
import { BatchDetail } from './BatchDetail'
import { BatchTable } from './BatchTable'
import { DayPlan } from './day/DayPlan'
import { type WaveName, Waves } from './day/Waves'
import { WaveRules } from './day/WaveRules'
import { DispatchHead } from './DispatchHead'
import { PlanBatch } from './PlanBatch'
import { keepSelection, keptSelection } from './selection'
import { Button } from '../kit/Button'

/** Batches: plan one, see what it costs, buy it, watch it, print it, hand it over. */
export function Dispatch({
  initial,
  initialDay,
  names,
}: {
  initial: BatchesView
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
  const [skip, setSkip] = useSkip()
  const { data = initial } = useQuery({
    queryKey: ['batches', skip],
    queryFn: () => call('GET /api/dispatch/batches', { query: { skip: String(skip) } }),
    initialData: skip === 0 ? initial : undefined,
    placeholderData: keepPreviousData,
    refetchInterval: (query) => (query.state.data?.batches.some((batch) => Number(batch.queued) > 0) ? 700 : 4000),
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
          {data.total === 0 ? (
            <Plain title="No batch yet">
              Select orders on the{' '}
              <a className="text-act underline" href="/desk?state=ready">
                Desk
              </a>
              , or plan all that are ready.
            </Plain>
          ) : (
            <>
              <BatchTable
                {...{ batches: data.batches, open, names }}
                onOpen={(batch) => go(`/dispatch?batch=${batch}${skip > 0 ? `&skip=${skip}` : ''}`)}
              />
              <Pager {...{ skip, size: data.pageSize, total: data.total }} onSkip={setSkip} />
            </>
          )}
        </div>
      </div>
      {gathering && <WaveRules day={day} names={names} onClose={() => setGathering(false)} />}
      {open !== null && !gathering && (
        <BatchDetail
          key={open}
          id={open}
          names={names}
          onClose={() => go(skip > 0 ? `/dispatch?skip=${skip}` : '/dispatch')}
        />
      )}
    </div>
  )
}
