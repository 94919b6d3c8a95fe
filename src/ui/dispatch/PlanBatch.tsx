'use client'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import Link from 'next/link'
import { useState } from 'react'
import type { DeskNames } from '@/usecases/desk/showDesk'
import { call, sentenceOf } from '../kit/api'
import { Button } from '../kit/Button'
import { TextInput } from '../kit/Field'
import { Confirm } from '../kit/Confirm'
import { count, homeMoney } from '../kit/format'
import { Plain } from '../kit/Screen'
import { useSay } from '../kit/Toast'
import type { WaveName } from './day/Waves'
import { PlanRows } from './PlanRows'
import { shortOf } from './shortOf'

/** What buying the chosen orders would cost, each of them, and what cannot be bought and why; then one confirmation. */
export function PlanBatch({
  orders,
  wave,
  names,
  onClose,
  onBought,
  onOrders,
}: {
  orders: readonly number[]
  /** What the batch is called, and until when it leaves. */
  wave: WaveName | null
  names: DeskNames
  onClose: () => void
  onBought: (batch: number) => void
  onOrders: (orders: readonly number[]) => void
}) {
  const say = useSay()
  const client = useQueryClient()
  const [left, setLeft] = useState<ReadonlySet<number>>(new Set())
  const [asking, setAsking] = useState(false)
  const [busy, setBusy] = useState(false)
  const [approval, setApproval] = useState('')
  const { data, error, refetch } = useQuery({
    queryKey: ['plan', orders],
    queryFn: () => call('POST /api/dispatch/plan', { body: { orders } }),
    staleTime: 30_000,
    refetchOnWindowFocus: false,
  })
  if (error)
    return (
      <Plain title="The batch cannot be planned">
        {sentenceOf(error)}{' '}
        <button className="text-act underline" onClick={onClose}>
          Leave it
        </button>
      </Plain>
    )
  if (!data) return <p className="py-8 text-center text-soft">Looking at {count(orders.length)} orders …</p>
  const labels = data.labels.filter((label) => !left.has(label.order))
  const total = labels.reduce((sum, label) => sum + label.cost, 0)
  const labelCount = `${count(labels.length)} ${labels.length === 1 ? 'label' : 'labels'}`
  const short = shortOf(labels, data.balances)
  const above = Math.max(0, data.above - (data.total - total))
  const buy = async (): Promise<void> => {
    setBusy(true)
    try {
      const { batch } = await call('POST /api/dispatch/batches', {
        body: { orders: labels.map((label) => label.order), expected: total, approval, wave },
      })
      await client.invalidateQueries({ queryKey: ['batches'] })
      onBought(batch)
    } catch (failure) {
      say(sentenceOf(failure), { tone: 'bad' })
      setAsking(false)
      await refetch()
    }
    setBusy(false)
  }
  const together = data.together.flat().length
  const combine = async (): Promise<void> => {
    setBusy(true)
    try {
      const { made, refused } = await call('POST /api/desk/orders/combine', { body: { groups: data.together } })
      const gone = new Set(made.flatMap(({ of }) => of))
      onOrders([...orders.filter((order) => !gone.has(order)), ...made.map(({ order }) => order)])
      say(
        refused[0]
          ? `${count(made.length)} combined. ${refused[0]}`
          : `${count(gone.size)} orders go as ${count(made.length)} ${made.length === 1 ? 'shipment' : 'shipments'} now`,
        refused[0] ? { tone: 'bad' } : undefined,
      )
    } catch (failure) {
      say(sentenceOf(failure), { tone: 'bad' })
    }
    setBusy(false)
  }
  return (
    <section aria-label="Plan of a batch" className="flex min-h-0 flex-1 flex-col border border-hair bg-sheet">
      <header className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-hair px-3 py-2">
        <h2 className="text-lead">
          {labelCount} for {homeMoney(total)}
        </h2>
        {data.blocked.length > 0 && <span className="text-wait">{count(data.blocked.length)} cannot be bought</span>}
        {data.moved > 0 && (
          <span className="text-soft" title="A cut-off has passed since they were routed">
            {count(data.moved)} decided again for this moment
          </span>
        )}
        <span className="ml-auto flex gap-2">
          <Button kind="quiet" onClick={onClose}>
            Leave it
          </Button>
          <Button
            kind="filled"
            calls="POST /api/dispatch/batches"
            disabled={labels.length === 0}
            onClick={() => setAsking(true)}
          >
            Buy {labelCount}
          </Button>
        </span>
      </header>
      {together > 0 && (
        <p className="flex items-center gap-3 border-b border-hair bg-wait-soft px-3 py-1">
          {count(together)} of them share buyer and address with another one: they could go as{' '}
          {count(data.together.length)} {data.together.length === 1 ? 'shipment' : 'shipments'}.
          <Button kind="quiet" className="ml-auto" disabled={busy} onClick={() => combine()}>
            Combine them
          </Button>
        </p>
      )}
      {short.length > 0 && (
        <ul aria-label="Balances that are short" className="border-b border-hair bg-wait-soft px-3 py-1">
          {short.map(({ carrier, by, leave }) => (
            <li key={carrier} className="flex flex-wrap items-center gap-x-3">
              <span>
                △ {names.carriers[carrier] ?? carrier}: <b>{homeMoney(by)}</b> short.
              </span>
              <Link
                href="/ledger/balance"
                className="flex min-h-[24px] items-center text-act underline decoration-hair underline-offset-4"
              >
                Top up
              </Link>
              <Button kind="quiet" className="min-h-[24px]" onClick={() => setLeft(new Set([...left, ...leave]))}>
                Leave {count(leave.length)} out
              </Button>
            </li>
          ))}
        </ul>
      )}
      <div className="flex flex-wrap gap-x-6 gap-y-1 border-b border-hair px-3 py-1.5">
        {data.byService.map(({ service }) => {
          const own = labels.filter((label) => label.service === service)
          return (
            <span key={service} className={own.length === 0 ? 'text-soft line-through' : ''}>
              {names.services[service] ?? service} <b>{count(own.length)}</b>{' '}
              <span className="text-soft">{homeMoney(own.reduce((sum, { cost }) => sum + cost, 0))}</span>
            </span>
          )
        })}
      </div>
      <PlanRows
        plan={data}
        names={names}
        left={left}
        onToggle={(order) =>
          setLeft((before) => {
            const next = new Set(before)
            if (!next.delete(order)) next.add(order)
            return next
          })
        }
      />
      <Confirm
        open={asking}
        busy={busy}
        title={`Buy ${labelCount} for ${homeMoney(total)}?`}
        action={`Buy for ${homeMoney(total)}`}
        onClose={() => setAsking(false)}
        onConfirm={() => buy()}
      >
        <p>
          {data.byService
            .map(
              (group) =>
                `${count(labels.filter((label) => label.service === group.service).length)} × ${names.services[group.service] ?? group.service}`,
            )
            .join(', ')}
          .
        </p>
        {above > 0 && (
          <label className="mt-2 grid gap-1 bg-wait-soft p-2">
            This is {homeMoney(above)} above what may be spent today without approval. Why is it bought all the same?
            <TextInput value={approval} onChange={(event) => setApproval(event.target.value)} className="w-full" />
          </label>
        )}
        <p className="mt-2">
          You may leave the page: Gharry goes on, and buys each label once. A label can be voided until the carrier has
          collected it.
        </p>
      </Confirm>
    </section>
  )
}
