'use client'
import type { Agreement } from '@/core/collections'
import type { DeskNames } from '@/usecases/desk/showDesk'
import type { CollectionsView } from '@/usecases/dispatch/collections/showCollections'
import { call } from '../../kit/api'
import { Beside } from '../../kit/Beside'
import { Button } from '../../kit/Button'
import { EditNotes } from '../../kit/EditNotes'
import { Field, TextInput } from '../../kit/Field'
import { NamedChoice } from '../../kit/NamedChoice'
import { Tick } from '../../kit/Tick'
import { useChange } from '../../kit/useChange'
import { useEdit } from '../../kit/useEdit'
import { weekdayNames } from '../../kit/weekdays'

/** Collections that come again and again: by weekday, never on a holiday of the place. */
export function Agreements({ view, names, onClose }: { view: CollectionsView; names: DeskNames; onClose: () => void }) {
  const edit = useEdit<readonly Agreement[]>('standing collections', view.agreements)
  const change = useChange(['collections'])
  const list = edit.value
  const set = (i: number, more: Partial<Agreement>): void =>
    edit.put(list.map((one, at) => (at === i ? { ...one, ...more } : one)))
  const add = (): void =>
    edit.put([
      ...list,
      {
        ...{ id: crypto.randomUUID().slice(0, 12), from: '14:00', until: '17:00', place: '', notes: '' },
        ...{ location: view.lanes[0]?.location ?? '', carrier: view.lanes[0]?.carrier ?? '' },
        ...{ weekdays: [1, 2, 3, 4, 5], unasked: true },
      },
    ])
  const save = (): Promise<boolean> =>
    change(
      () => call('PUT /api/dispatch/collections/agreements', { body: { version: view.version, agreements: list } }),
      () => {
        edit.drop()
        onClose()
      },
    )
  const inWords = ({ location, carrier, weekdays, from, until, place, notes, unasked }: Agreement): string =>
    [
      names.carriers[carrier] ?? carrier,
      names.locations[location] ?? location,
      weekdays.join(' '),
      `${from}–${until}`,
      place,
      notes,
      unasked ? 'unasked' : 'booked',
    ]
      .filter(Boolean)
      .join(', ')
  return (
    <Beside label="Standing collections" title="Standing collections" onClose={onClose}>
      <div className="min-h-0 flex-1 overflow-auto px-4 py-3" tabIndex={0} role="region" aria-label="Agreements">
        <EditNotes
          edit={edit}
          what="the standing collections"
          mine={list.map(inWords)}
          theirs={view.agreements.map(inWords)}
        />
        <p className="text-soft">
          On their weekdays, but not on holidays of the place. What is booked already stays until it is cancelled in the
          calendar.
        </p>
        <ol className="mt-2 grid gap-4">
          {list.map((one, i) => (
            <li key={one.id} className="grid gap-2 border-l-2 border-hair pl-3">
              <div className="flex items-end gap-2">
                <Field label="Carrier" className="min-w-0 flex-1">
                  <NamedChoice of={names.carriers} value={one.carrier} onChange={(carrier) => set(i, { carrier })} />
                </Field>
                <Field label="At" className="min-w-0 flex-1">
                  <NamedChoice
                    of={names.locations}
                    value={one.location}
                    onChange={(location) => set(i, { location })}
                  />
                </Field>
                <Button
                  kind="quiet"
                  aria-label={`Delete collection ${i + 1}`}
                  onClick={() => edit.put(list.filter((_, at) => at !== i))}
                >
                  Delete
                </Button>
              </div>
              <fieldset className="flex flex-wrap gap-x-3">
                <legend className="sr-only">On</legend>
                {weekdayNames().map(([day, name]) => (
                  <Tick
                    key={day}
                    label={name}
                    on={one.weekdays.includes(day)}
                    onChange={(on) =>
                      set(i, {
                        weekdays: on ? [...one.weekdays, day].sort() : one.weekdays.filter((other) => other !== day),
                      })
                    }
                  />
                ))}
              </fieldset>
              <div className="flex gap-2">
                <Field label="From" className="w-20">
                  <TextInput value={one.from} onChange={(event) => set(i, { from: event.target.value })} />
                </Field>
                <Field label="Until" className="w-20">
                  <TextInput value={one.until} onChange={(event) => set(i, { until: event.target.value })} />
                </Field>
                <Field label="Where the parcels stand" className="min-w-0 flex-1">
                  <TextInput
                    maxLength={120}
                    className="w-full"
                    value={one.place}
                    onChange={(event) => set(i, { place: event.target.value })}
                  />
                </Field>
              </div>
              <Field label="Note for the driver">
                <TextInput
                  maxLength={300}
                  className="w-full"
                  value={one.notes}
                  onChange={(event) => set(i, { notes: event.target.value })}
                />
              </Field>
              <Tick
                label="The driver comes unasked; otherwise it is booked for each day"
                on={one.unasked}
                onChange={(unasked) => set(i, { unasked })}
              />
            </li>
          ))}
        </ol>
        <Button className="mt-3" onClick={add}>
          Add a collection
        </Button>
      </div>
      <p className="border-t border-hair px-4 py-3">
        <Button
          kind="filled"
          calls="PUT /api/dispatch/collections/agreements"
          disabled={!edit.editing || edit.overtaken}
          onClick={save}
        >
          Save
        </Button>
      </p>
    </Beside>
  )
}
