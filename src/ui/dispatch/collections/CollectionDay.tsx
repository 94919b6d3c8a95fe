'use client'
import { useState } from 'react'
import type { CollectionRow } from '@/data'
import type { DeskNames } from '@/usecases/desk/showDesk'
import type { CollectionCell, CollectionLane } from '@/usecases/dispatch/collections/showCollections'
import { call } from '../../kit/api'
import { Beside } from '../../kit/Beside'
import { Button } from '../../kit/Button'
import { Confirm } from '../../kit/Confirm'
import { count, homeMoney, weightText } from '../../kit/format'
import { useChange } from '../../kit/useChange'
import { parcelCount } from '../parcelCount'
import { CollectionForm } from './CollectionForm'
import { dayName, stateWords } from './words'

/** One day of a carrier at a location: what is booked, what stands there, and what can be done. */
export function CollectionDay({
  lane,
  cell,
  today,
  names,
  onClose,
}: {
  lane: CollectionLane
  cell: CollectionCell
  today: string
  names: DeskNames
  onClose: () => void
}) {
  const [changing, setChanging] = useState<CollectionRow | null>(null)
  const [cancelling, setCancelling] = useState<CollectionRow | null>(null)
  const [more, setMore] = useState(false)
  const change = useChange(['collections'], ['line'])
  const carrier = names.carriers[lane.carrier] ?? lane.carrier
  const title = `${carrier}, ${names.locations[lane.location] ?? lane.location}`
  const coming = cell.collections.filter(({ state }) => state !== 'cancelled' && state !== 'failed')
  const isOver = cell.day < today
  const asks = !isOver && ((coming.length === 0 && cell.agreed.length === 0) || more)
  return (
    <Beside label={`Collection of ${dayName(cell.day)}`} title={`${dayName(cell.day)}: ${title}`} onClose={onClose}>
      <div className="min-h-0 flex-1 overflow-auto px-4 py-3" tabIndex={0} role="region" aria-label="The day">
        {cell.warning && <p className="mb-2 bg-wait-soft px-3 py-1.5 text-wait">△ {cell.warning}</p>}
        <p>
          {cell.there.parcels === 0 ? (
            <span className="text-soft">Nothing that is bought leaves on this day yet.</span>
          ) : (
            <>
              {parcelCount(cell.there.parcels)}, {weightText(cell.there.weight)}{' '}
              <span className="text-soft">{cell.day === today ? 'stand here' : 'are bought for this day'}</span>
            </>
          )}
          {!cell.usual && <span className="text-soft"> None of its services collects on this weekday.</span>}
          {cell.closed && <span className="text-wait"> The place is closed, or it is a holiday.</span>}
        </p>
        {cell.agreed.map((one) => (
          <p key={one.id} className="mt-3 border-l-2 border-done-mark pl-3">
            Comes unasked from {one.from} to {one.until}
            {one.place && <>, {one.place}</>}
            {one.notes && <span className="block text-soft">{one.notes}</span>}
          </p>
        ))}
        <ul className="mt-2 grid gap-3">
          {cell.collections.map((row) => (
            <li key={row.id} className="border-l-2 border-hair pl-3">
              <p className="flex items-baseline gap-2">
                <b className="font-semibold">
                  {row.wish.from}–{row.wish.until}
                </b>
                <span className={stateWords[row.state][2]}>
                  {stateWords[row.state][0]} {stateWords[row.state][1]}
                </span>
                {row.confirmation && <span className="ml-auto font-mono text-small">{row.confirmation}</span>}
              </p>
              <p className="text-soft">
                {[
                  parcelCount(row.wish.parcels),
                  row.wish.pallets > 0
                    ? `${count(row.wish.pallets)} ${row.wish.pallets === 1 ? 'pallet' : 'pallets'}`
                    : '',
                  weightText(row.wish.weight),
                  row.wish.place,
                  row.cost > 0 ? homeMoney(row.cost) : '',
                  row.agreement === null ? `by ${row.author}` : 'of the standing collection',
                ]
                  .filter(Boolean)
                  .join(', ')}
              </p>
              {row.wish.notes && <p className="text-soft">“{row.wish.notes}”</p>}
              {row.change && (
                <p className="text-act">
                  to {row.change.from}–{row.change.until}, {parcelCount(row.change.parcels)}
                </p>
              )}
              {(row.problem ?? row.note) && <p className="text-wait">{row.problem ?? row.note}</p>}
              {!isOver && (row.state === 'booked' || row.state === 'own') && changing?.id !== row.id && (
                <p className="mt-1 flex gap-2">
                  <Button onClick={() => setChanging(row)}>Change …</Button>
                  <Button kind="danger" onClick={() => setCancelling(row)}>
                    Cancel it …
                  </Button>
                </p>
              )}
              {changing?.id === row.id && (
                <CollectionForm
                  lane={lane}
                  cell={cell}
                  row={row}
                  onDone={() => setChanging(null)}
                  onBack={() => setChanging(null)}
                />
              )}
            </li>
          ))}
        </ul>
        {asks ? (
          <CollectionForm lane={lane} cell={cell} row={null} onDone={() => setMore(false)} onBack={null} />
        ) : (
          !isOver && (
            <Button className="mt-3" onClick={() => setMore(true)}>
              Book another one …
            </Button>
          )
        )}
      </div>
      <Confirm
        open={cancelling !== null}
        danger
        title={`Cancel the collection of ${dayName(cell.day)}?`}
        action="Cancel it"
        onClose={() => setCancelling(null)}
        onConfirm={async () => {
          await change(() => call('DELETE /api/dispatch/collections', { body: { id: cancelling!.id } }))
          setCancelling(null)
        }}
      >
        Nobody comes for {parcelCount(cancelling?.wish.parcels ?? 0)} then
        {cancelling && cancelling.cost > 0 ? `; ${homeMoney(cancelling.cost)} are given back` : ''}.
      </Confirm>
    </Beside>
  )
}
