'use client'
import { useState } from 'react'
import type { StandingParcel } from '@/data'
import type { DeskNames } from '@/usecases/desk/showDesk'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Confirm } from '../../kit/Confirm'
import { homeMoney, shortDay } from '../../kit/format'
import { Tick } from '../../kit/Tick'
import { useChange } from '../../kit/useChange'
import { parcelCount } from '../parcelCount'
import { useVoidMany } from '../useVoidMany'

/** The parcels of a carrier at a location, the oldest first. */
interface Group {
  readonly key: string
  readonly title: string
  readonly parcels: readonly StandingParcel[]
}

/** What was bought to leave before today and was not handed over: what became of it is asked. */
export function LeftBehind({ parcels, names }: { parcels: readonly StandingParcel[]; names: DeskNames }) {
  if (parcels.length === 0) return null
  const groups = new Map<string, StandingParcel[]>()
  for (const parcel of parcels) {
    const key = `${parcel.location} ${parcel.carrier}`
    groups.set(key, [...(groups.get(key) ?? []), parcel])
  }
  const titled = [...groups].map(([key, some]): Group => {
    const { shipOn, carrier, location } = some[0]!
    return {
      key,
      title: `${parcelCount(some.length)} for ${names.carriers[carrier] ?? carrier}, ${names.locations[location] ?? location}, since ${shortDay(shipOn)}`,
      parcels: some,
    }
  })
  return (
    <section aria-label="Not handed over" className="mt-3 border-l-4 border-wait-mark bg-wait-soft px-4 py-3">
      <h2 className="text-lead text-wait">△ {parcelCount(parcels.length)} should have left before today</h2>
      <p className="text-soft">Bought, and on no manifest. What became of them?</p>
      <ul className="mt-2 grid gap-2">
        {titled.map((group) => (
          <li key={group.key}>
            <OneLorry group={group} />
          </li>
        ))}
      </ul>
    </section>
  )
}

function OneLorry({ group }: { group: Group }) {
  const [open, setOpen] = useState(false)
  const [out, setOut] = useState<ReadonlySet<number>>(new Set())
  const [voiding, setVoiding] = useState(false)
  const change = useChange(['manifests'], ['line'])
  const voidMany = useVoidMany(['manifests'], ['line'])
  const chosen = group.parcels.filter(({ labelId }) => !out.has(labelId))
  const labels = [...new Set(chosen.map(({ labelId }) => labelId))]
  const cost = labels.reduce((sum, id) => sum + (chosen.find(({ labelId }) => labelId === id)?.charged ?? 0), 0)
  const settle = (left: boolean, done: string): Promise<boolean> =>
    change(() => call('PUT /api/dispatch/manifests', { body: { labels, left } }), done)
  const voidAll = async (): Promise<void> => {
    await voidMany(labels)
    setVoiding(false)
  }
  return (
    <div>
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
        <button
          type="button"
          aria-expanded={open}
          className="min-h-[24px] text-left underline decoration-hair underline-offset-4"
          onClick={() => setOpen(!open)}
        >
          {group.title}
        </button>
        <span className="ml-auto flex flex-wrap gap-2">
          <Button
            disabled={labels.length === 0}
            onClick={() => settle(true, 'They are handed over, on a manifest of their own')}
          >
            They left
          </Button>
          <Button
            disabled={labels.length === 0}
            onClick={() => settle(false, 'They are asked about again tomorrow, should they stay')}
          >
            They leave today
          </Button>
          <Button kind="danger" disabled={labels.length === 0} onClick={() => setVoiding(true)}>
            Void, {homeMoney(cost)} back …
          </Button>
        </span>
      </div>
      {open && (
        <ul aria-label="Which of them" className="mt-1 max-h-60 overflow-auto bg-sheet px-3" tabIndex={0}>
          {group.parcels.map((parcel) => (
            <li
              key={`${parcel.labelId} ${parcel.position}`}
              className="flex items-center gap-3 border-b border-hair/60 py-1"
            >
              <Tick
                label={parcel.number}
                on={!out.has(parcel.labelId)}
                onChange={(on) =>
                  setOut((before) => {
                    const next = new Set(before)
                    if (on) next.delete(parcel.labelId)
                    else next.add(parcel.labelId)
                    return next
                  })
                }
              />
              <span className="min-w-0 flex-1 truncate font-mono text-small">{parcel.trackingNumber}</span>
              <span className="text-soft">{shortDay(parcel.shipOn)}</span>
              <span className="text-soft">{parcel.checkedAt === null ? 'not packed' : 'packed'}</span>
              <span className="text-right">{homeMoney(parcel.charged)}</span>
            </li>
          ))}
        </ul>
      )}
      <Confirm
        open={voiding}
        danger
        title={`Void ${labels.length === 1 ? '1 label' : `${labels.length} labels`}?`}
        action={`Void, ${homeMoney(cost)} back`}
        onClose={() => setVoiding(false)}
        onConfirm={voidAll}
      >
        The orders return to the Desk, {homeMoney(cost)} stand as pending refunds. A carrier that does not take one back
        says why, and its label stays.
      </Confirm>
    </div>
  )
}
