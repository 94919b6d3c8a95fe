'use client'
import { DateTime } from 'luxon'
import { useState } from 'react'
import type { Outage } from '@/core/world'
import type { ListChange } from '@/usecases/setup/lists'
import type { SetupView } from '@/usecases/setup/showSetup'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Field, Select, TextInput } from '../../kit/Field'
import { Resumed } from '../../kit/Resumed'
import { useSay } from '../../kit/Toast'
import { useChange } from '../../kit/useChange'
import { useEditForm } from '../../kit/useEditForm'
import { Rerouting } from '../../rules/Rerouting'
import { Effect } from '../Effect'
import { SetupHead } from '../SetupHead'
import { useSetup } from '../useSetup'
import { type OutageForm, outageForm, outageName, outageOf, type OutageValues } from './outageForm'

const blank: OutageForm = { of: '', from: '', until: '', note: '' }
const shown = 'ccc d LLL yyyy, HH:mm'

/** What is switched off for a while: planned with what it does to the waiting orders, and over by itself. */
export function Outages({ initial }: { initial: SetupView }) {
  const view = useSetup(initial)
  const [since] = useState(() => new Date().toISOString())
  const zone = view.locations.find(({ retired }) => !retired)?.timeZone ?? 'UTC'
  const services = Object.fromEntries(view.services.map(({ id, name }) => [id, name]))
  const change = useChange(['setup'], ['line'])
  const say = useSay()
  const { form, edit } = useEditForm<OutageForm, OutageValues>('outage', blank, outageForm)
  const [minute] = useState(() => new Date().toISOString())
  const things = thingsOf(view)
  const nameOf = ({ what, of }: Outage): string => things.find(({ id }) => id === outageName(what, of))?.name ?? of
  const parsed = edit.editing ? outageForm.safeParse(edit.value) : null
  const instant = (text: string): string => DateTime.fromISO(text, { zone }).toUTC().toISO() ?? ''
  const outage = (values: OutageValues): ListChange => ({
    list: 'outages',
    before: null,
    after: {
      id: '',
      ...outageOf(values.of),
      from: values.from === '' ? minute : instant(values.from),
      until: instant(values.until),
      note: values.note,
    },
  })
  const save = (values: OutageValues): Promise<boolean> =>
    change(
      () => call('PUT /api/setup/lists', { body: outage(values) }),
      () => {
        edit.drop()
        say('It is planned; the waiting orders are routed again when it begins, and when it ends')
      },
    )
  const end = (one: Outage): Promise<boolean> =>
    change(
      () =>
        call('PUT /api/setup/lists', {
          body: { list: 'outages', before: one as unknown as ListChange['before'], after: null },
        }),
      () => say(`${nameOf(one)} is on again; the waiting orders are routed again`),
    )
  const { errors } = form.formState
  const now = new Date().toISOString()
  const open = view.outages.filter(({ until }) => until > now)
  return (
    <div className="flex h-full flex-col">
      <SetupHead at="outages" about="What is off for a while" />
      <Rerouting since={since} services={services} />
      <div
        className="min-h-0 flex-1 overflow-auto border-t border-hair px-5 pb-6"
        tabIndex={0}
        role="region"
        aria-label="Outages"
      >
        <form noValidate className="py-3" onSubmit={(event) => void form.handleSubmit(save)(event)}>
          <h2 className="pb-2 text-lead">
            Switch something off{' '}
            <span className="pl-1 text-small font-normal text-soft">It is on again by itself.</span>
          </h2>
          <Resumed edit={edit} />
          <div className="grid items-start gap-3 min-[900px]:grid-cols-[2fr_1fr_1fr_2fr_auto]">
            <Field label="What" wrong={errors.of?.message}>
              <Select className="w-full" {...form.register('of')}>
                <option value="">Choose …</option>
                {(['carrier', 'service', 'location'] as const).map((what) => (
                  <optgroup key={what} label={`${what.slice(0, 1).toUpperCase()}${what.slice(1)}s`}>
                    {things
                      .filter((thing) => thing.what === what)
                      .map(({ id, name }) => (
                        <option key={id} value={id}>
                          {name}
                        </option>
                      ))}
                  </optgroup>
                ))}
              </Select>
            </Field>
            <Field label="From" wrong={errors.from?.message} hint="Empty: from now on.">
              <TextInput type="datetime-local" className="w-full" {...form.register('from')} />
            </Field>
            <Field label="Until" wrong={errors.until?.message} hint={`By the clocks of ${zone}.`}>
              <TextInput type="datetime-local" className="w-full" {...form.register('until')} />
            </Field>
            <Field label="Why" wrong={errors.note?.message}>
              <TextInput className="w-full" placeholder="Strike at the depot" {...form.register('note')} />
            </Field>
            <span className="flex gap-2 pt-5">
              <Button kind="filled" calls="PUT /api/setup/lists" type="submit" disabled={form.formState.isSubmitting}>
                Switch it off
              </Button>
              {edit.editing && (
                <Button kind="quiet" onClick={edit.drop}>
                  Forget it
                </Button>
              )}
            </span>
          </div>
        </form>
        <Effect change={parsed?.success ? outage(parsed.data) : null} services={services} />
        <h2 className="pt-4 pb-1 text-lead">Now and to come</h2>
        {open.length === 0 ? (
          <p className="text-soft">
            Everything is on. When a carrier strikes or a warehouse closes, plan it here: orders go another way at once,
            and back when it is over.
          </p>
        ) : (
          <table className="w-full bg-sheet">
            <thead>
              <tr className="border-y border-hair text-small text-soft">
                <th className="px-3 py-1">What</th>
                <th>From</th>
                <th>Until</th>
                <th>Why</th>
                <td />
              </tr>
            </thead>
            <tbody>
              {open
                .sort((a, b) => (a.from < b.from ? -1 : 1))
                .map((one) => (
                  <tr key={one.id} className="border-b border-hair/60">
                    <td className="px-3 py-1.5 font-semibold">
                      {nameOf(one)} {one.from <= now && <span className="font-normal text-wait">△ off</span>}
                    </td>
                    <td>{DateTime.fromISO(one.from, { zone }).toFormat(shown)}</td>
                    <td>{DateTime.fromISO(one.until, { zone }).toFormat(shown)}</td>
                    <td>{one.note}</td>
                    <td className="pr-3 text-right">
                      <Button kind="quiet" onClick={() => end(one)}>
                        {one.from <= now ? 'Switch it on now' : 'Call it off'}
                      </Button>
                    </td>
                  </tr>
                ))}
            </tbody>
          </table>
        )}
        <h2 className="pt-5 pb-1 text-lead">Closed anyway in the next weeks</h2>
        {view.closures.length === 0 ? (
          <p className="text-soft">No public holiday, and no day on which a location is closed.</p>
        ) : (
          <ul className="max-w-2xl">
            {view.closures.map(({ day, where, why }) => (
              <li key={`${day} ${where.join()} ${why}`} className="flex gap-4 border-b border-hair/60 py-1">
                <span className="w-36">{DateTime.fromISO(day).toFormat('ccc d LLL yyyy')}</span>
                <span className="min-w-0 flex-1">{where.join(', ')}</span>
                <span className="text-soft">{why}</span>
              </li>
            ))}
          </ul>
        )}
      </div>
    </div>
  )
}

/** What can be switched off. */
const thingsOf = ({ carriers, services, locations }: SetupView) =>
  (
    [
      ['carrier', carriers],
      ['service', services],
      ['location', locations],
    ] as const
  ).flatMap(([what, list]) =>
    list.filter(({ retired }) => !retired).map(({ id, name }) => ({ what, id: outageName(what, id), name })),
  )
