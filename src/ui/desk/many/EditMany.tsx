'use client'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import type { HandEdit } from '@/core/rulebook/change'
import type { World } from '@/core/world'
import type { LeftOut } from '@/usecases/desk/manyEdit'
import type { EditPreview } from '@/usecases/desk/previewEdit'
import type { DeskNames } from '@/usecases/desk/showDesk'
import { call, sentenceOf } from '../../kit/api'
import { Beside } from '../../kit/Beside'
import { Button } from '../../kit/Button'
import { count, homeMoney, orderCount, shortDay, toneOfCost } from '../../kit/format'
import { DecideField } from '../deciding/DecideField'
import { useDecide } from '../deciding/useDecide'
import { WaysOut } from '../deciding/WaysOut'
import { LeftOutOrders } from './LeftOutOrders'
import { NewestEdits } from './NewestEdits'
import { PasteColumn } from './PasteColumn'

interface Chosen {
  readonly edit: HandEdit
  readonly said: string
}

/** Decides by hand for many orders: what, what comes of it for each, and then all at once, with one undo. */
export function EditMany({
  orders,
  names,
  world,
  pasted,
  onClose,
}: {
  /** In the order in which the list shows them. */
  orders: readonly number[]
  names: DeskNames
  world: World
  /** A column of a spreadsheet that was pasted into the list. */
  pasted: string
  onClose: () => void
}) {
  const [chosen, setChosen] = useState<readonly Chosen[]>([])
  const decide = useDecide()
  const edits = chosen.map(({ edit }) => edit)
  // While it is being chosen what is decided, the server gets to know the orders: the first look is quick then.
  useQuery({
    queryKey: ['edits', 'first look', orders],
    queryFn: () => call('POST /api/desk/edits/preview', { body: { orders, edits: [] } }),
    retry: false,
    gcTime: 0,
    staleTime: Infinity,
    meta: { quiet: true },
  })
  const { data, error, isFetching } = useQuery({
    queryKey: ['edits', 'preview', orders, edits],
    queryFn: () => call('POST /api/desk/edits/preview', { body: { orders, edits } }),
    enabled: edits.length > 0,
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 0,
    meta: { quiet: true },
  })
  const add = (edit: HandEdit, said: string): void =>
    setChosen((before) => [...before.filter((one) => !isSame(one.edit, edit)), { edit, said }])
  const apply = async (): Promise<void> => {
    if (await decide(orders, edits, chosen.map(({ said }) => said).join(', '))) setChosen([])
  }
  const seen = edits.length > 0 ? data : undefined
  return (
    <Beside label="Decide for several orders" title={`Decide for ${orderCount(orders.length)}`} onClose={onClose}>
      <div className="min-h-0 flex-1 overflow-auto px-4 py-3" tabIndex={0} role="region" aria-label="What is decided">
        <DecideField world={world} onDecide={add} autoFocus={pasted === ''} />
        <PasteColumn key={pasted} orders={orders} world={world} pasted={pasted} onTake={add} />
        {chosen.length > 0 && (
          <ul aria-label="Decided by hand" className="mt-3 border-t border-hair">
            {chosen.map(({ edit, said }) => (
              <li key={said} className="flex items-baseline gap-2 border-b border-hair/60 py-1">
                <b className="min-w-0 flex-1 font-semibold">{said}</b>
                <Button
                  kind="quiet"
                  aria-label={`Leave out ${said}`}
                  onClick={() => setChosen(chosen.filter((one) => one.edit !== edit))}
                >
                  Leave out
                </Button>
              </li>
            ))}
          </ul>
        )}
        {error && (
          <p role="alert" className="mt-3 text-lost">
            {sentenceOf(error)}
          </p>
        )}
        {seen && !error && <Preview seen={seen} names={names} of={orders.length} stale={isFetching} />}
        {edits.length === 0 && <WaysOut orders={orders} names={names} stamp="" />}
        {chosen.length === 0 && <NewestEdits />}
      </div>
      {chosen.length > 0 && (
        <p className="flex items-center gap-3 border-t border-hair px-4 py-2.5">
          <Button kind="filled" calls="POST /api/desk/edits" disabled={!seen || error !== null} onClick={apply}>
            Decide for {orderCount(orders.length - leftIn(seen?.left))}
          </Button>
          <span className="text-soft">It can be undone in one go.</span>
        </p>
      )}
    </Beside>
  )
}

const leftIn = (left: readonly LeftOut[] = []): number => left.reduce((sum, { count: n }) => sum + n, 0)

/** Whether two edits decide the same thing, so that the later takes the place of the earlier. */
function isSame(one: HandEdit, other: HandEdit): boolean {
  const thing = (edit: HandEdit): string => {
    if (edit.do === 'each') return edit.of === 'weigh' ? 'weight' : edit.of
    if (edit.do === 'weigh') return 'weight'
    return edit.do === 'tag' ? `tags ${edit.add.join()} ${edit.remove.join()}` : edit.decision
  }
  return thing(one) === thing(other)
}

/** What comes of it: in sum, and for each order that changes. */
function Preview({ seen, names, of, stale }: { seen: EditPreview; names: DeskNames; of: number; stale: boolean }) {
  const { summary, changes, left } = seen
  const service = (id: string | null): string => (id === null ? 'no service' : (names.services[id] ?? id))
  return (
    <section aria-label="What comes of it" aria-busy={stale} className="mt-4">
      <p role="status" className="flex flex-wrap gap-x-4 bg-tint px-2.5 py-1.5">
        <span>
          <b>{count(summary.changed)}</b> of {orderCount(of)} change
        </span>
        {summary.serviceChanges > 0 && <span>{count(summary.serviceChanges)} change service</span>}
        {summary.costDifference !== 0 && (
          <span className={toneOfCost(summary.costDifference)}>
            <b>{homeMoney(Math.abs(summary.costDifference))}</b> {summary.costDifference > 0 ? 'dearer' : 'saved'}
          </span>
        )}
        {summary.newlyLate > 0 && <span className="text-lost">{count(summary.newlyLate)} late</span>}
        {summary.noLongerLate > 0 && <span className="text-done">{count(summary.noLongerLate)} in time again</span>}
        {summary.newlyStuck > 0 && <span className="text-wait">{count(summary.newlyStuck)} need attention</span>}
        {summary.noLongerStuck > 0 && <span className="text-done">{count(summary.noLongerStuck)} can go</span>}
      </p>
      <LeftOutOrders left={left} said="stay as they are" />
      {changes.length > 0 && (
        <table className="mt-2 w-full">
          <thead>
            <tr className="border-b border-hair text-left text-small text-soft">
              <th className="py-1 font-normal">Order</th>
              <th className="font-normal">Goes by</th>
              <th className="pl-2 text-right font-normal">Label</th>
              <th className="pl-2 font-normal whitespace-nowrap">Arrives</th>
            </tr>
          </thead>
          <tbody>
            {changes.slice(0, 100).map(({ id, number, before, after }) => (
              <tr key={id} className="border-b border-hair/60">
                <td className="py-0.5 pr-2 font-mono text-small whitespace-nowrap">{number}</td>
                <td className="min-w-0">
                  {before.service !== after.service && <span className="text-soft">{service(before.service)} → </span>}
                  {service(after.service)}
                  {after.state !== before.state && <span className="text-soft">, {stateWords[after.state]}</span>}
                </td>
                <td className={`pl-2 text-right ${toneOfCost((after.cost ?? 0) - (before.cost ?? 0))}`}>
                  {homeMoney(after.cost)}
                </td>
                <td className={`pl-2 whitespace-nowrap ${after.late ? 'text-lost' : ''}`}>
                  {shortDay(after.arrivesOn)}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {summary.changed > 100 && (
        <p className="mt-1 text-soft">The first {count(Math.min(100, changes.length))} are shown.</p>
      )}
    </section>
  )
}

const stateWords = { attention: 'needs attention', held: 'held', ready: 'ready' } as const
