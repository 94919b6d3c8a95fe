'use client'
import { useQuery } from '@tanstack/react-query'
import type { DeskNames } from '@/usecases/desk/showDesk'
import type { SharedWay } from '@/usecases/desk/waysOut'
import { call, sentenceOf } from '../../kit/api'
import { Button } from '../../kit/Button'
import { count, homeMoney, orderCount, shortDay } from '../../kit/format'
import { useChange } from '../../kit/useChange'
import { useKeys } from '../../kit/useKeys'
import { useSay } from '../../kit/Toast'
import { useUndo } from './useDecide'

/** The smallest changes that would let orders go which need attention, each tried, each taken with one key. */
export function WaysOut({ orders, names, stamp }: { orders: readonly number[]; names: DeskNames; stamp: string }) {
  const { data, error } = useQuery({
    queryKey: ['order', 'ways', orders, stamp],
    queryFn: () => call('POST /api/desk/ways', { body: { orders } }),
    retry: false,
    meta: { quiet: true },
  })
  const say = useSay()
  const undo = useUndo()
  const change = useChange(['order'], ['desk'], ['edits'])
  const ways = data?.ways ?? []
  const take = ({ orders: freed, edits, address, words }: SharedWay): Promise<boolean> =>
    change(
      () => call('PUT /api/desk/ways', { body: { key: crypto.randomUUID(), orders: freed, edits, address } }),
      ({ edit, changed }) =>
        say(`${orderCount(changed)} can go ${words}`, edit === null ? {} : { undo: () => void undo(edit) }),
    )
  useKeys(Object.fromEntries(ways.map((way, i) => [String(i + 1), () => void take(way)])))
  if (error) return <p className="mt-2 text-soft">{sentenceOf(error)}</p>
  if (!data || data.stuck === 0) return null
  const many = orders.length > 1
  return (
    <section aria-label="Ways out" className="mt-3">
      <h3 className="border-b border-hair pb-1 text-small text-soft">
        {ways.length === 0
          ? 'Nothing that can be decided by hand lets it go: correct what is named above'
          : `Ways out${many ? ` for ${orderCount(data.stuck)}` : ''}, the ${many ? 'furthest-reaching' : 'cheapest'} first`}
      </h3>
      <ol>
        {ways.map((way, i) => (
          <li key={way.key} className="flex items-baseline gap-2 border-b border-hair/60 py-1">
            <kbd className="w-5 shrink-0 rounded-[3px] border border-hair bg-paper text-center font-mono text-small text-soft">
              {i + 1}
            </kbd>
            <span className="min-w-0 flex-1">
              <b className="font-semibold">{way.words}</b>
              <span className="block text-small text-soft">
                {many && `frees ${count(way.orders.length)}, `}
                {way.services
                  .slice(0, 2)
                  .map((id) => names.services[id] ?? id)
                  .join(', ')}
                {way.services.length > 2 && ' …'}, {many ? 'the last arrives' : 'arrives'} {shortDay(way.arrivesOn)}
                {way.late > 0 && (
                  <span className="text-lost">, {many ? `${count(way.late)} late` : 'after the promised day'}</span>
                )}
                {way.holdUntil && `, held until ${shortDay(way.holdUntil)}`}
              </span>
            </span>
            <span className="shrink-0">{homeMoney(way.cost)}</span>
            <Button kind="quiet" aria-label={`Take the way out ${way.words}`} onClick={() => take(way)}>
              Take
            </Button>
          </li>
        ))}
      </ol>
      {many && data.without > 0 && (
        <p className="mt-1 text-soft">
          Nothing that can be decided by hand helps {orderCount(data.without)}: open them and correct what is wrong.
        </p>
      )}
    </section>
  )
}
