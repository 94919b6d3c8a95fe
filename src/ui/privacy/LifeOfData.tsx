'use client'
import { useState } from 'react'
import { call } from '../kit/api'
import { Button } from '../kit/Button'
import { countryCodes, countryName } from '../kit/countryName'
import { EditNotes } from '../kit/EditNotes'
import { Field, Select, TextInput } from '../kit/Field'
import { useSay } from '../kit/Toast'
import { useChange } from '../kit/useChange'
import { useInBrowser } from '../kit/useInBrowser'
import { useEdit } from '../kit/useEdit'
import type { PrivacyView } from './Privacy'

interface Row {
  readonly scope: string
  readonly days: string
}
const typed = (view: PrivacyView): Row[] => view.life.map(({ scope, days }) => ({ scope, days: String(days) }))
const wrongDays = (days: string): string | undefined =>
  /^\d{1,4}$/.test(days.trim()) && Number(days) >= 1 && Number(days) <= 3650
    ? undefined
    : 'Enter a number of days from 1 to 3,650.'

/** For how many days: in all, and other times for channels and countries. The shortest that applies counts. */
export function LifeOfData({ view }: { view: PrivacyView }) {
  const saved = typed(view)
  const edit = useEdit<Row[]>('life of personal data', saved)
  const [tried, setTried] = useState(false)
  const change = useChange(['privacy'])
  const say = useSay()
  const rows = edit.value
  const all = rows.find(({ scope }) => scope === 'all')?.days ?? ''
  const put = (scope: string, days: string | null): void =>
    edit.put(
      [...rows.filter((row) => row.scope !== scope), ...(days === null ? [] : [{ scope, days }])].sort((a, b) =>
        a.scope.localeCompare(b.scope),
      ),
    )
  const nameOf = (scope: string): string =>
    scope.startsWith('country ')
      ? `Orders to ${countryName(scope.slice(8))}`
      : `Orders of ${view.channels.find(({ id }) => id === scope.slice(8))?.name ?? scope.slice(8)}`
  const lines = (of: readonly Row[]): string[] =>
    of.map(({ scope, days }) => `${scope === 'all' ? 'All orders' : nameOf(scope)}: ${days} days`)
  const save = (): Promise<boolean> => {
    setTried(true)
    if (rows.some(({ days }) => wrongDays(days))) return Promise.resolve(false)
    return change(
      () =>
        call('PUT /api/setup/privacy', {
          body: { before: view.life, after: rows.map(({ scope, days }) => ({ scope, days: Number(days) })) },
        }),
      () => {
        edit.drop()
        say('Saved. What is older is taken out within the hour')
      },
    )
  }
  // The names of countries are the browser's.
  const inBrowser = useInBrowser()
  const others = rows.filter(({ scope }) => scope !== 'all')
  const free = [
    ...view.channels.map(({ id }) => `channel ${id}`),
    ...(inBrowser ? [...countryCodes] : [])
      .sort((a, b) => countryName(a).localeCompare(countryName(b)))
      .map((country) => `country ${country}`),
  ].filter((scope) => !rows.some((row) => row.scope === scope))
  return (
    <section aria-label="How long">
      <h2 className="text-lead font-semibold">How long</h2>
      <p className="mt-1 max-w-prose text-soft">
        Once an order is over, names, addresses, telephone numbers, letters, photographs and labels’ papers are taken
        out after so many days. Country, items, weights, money and days stay, so that reports and trials stay true. What
        something is still open about is kept.
      </p>
      <EditNotes edit={edit} what="these days" mine={lines(rows)} theirs={lines(saved)} />
      <div className="mt-3 flex flex-col gap-2">
        <Field
          label="All orders, days"
          hint="Empty: for ever."
          wrong={tried && all !== '' ? wrongDays(all) : undefined}
        >
          <TextInput
            inputMode="numeric"
            className="w-28"
            value={all}
            onChange={(event) => put('all', event.target.value === '' ? null : event.target.value)}
          />
        </Field>
        {others.map(({ scope, days }) => (
          <div key={scope} className="flex items-end gap-3">
            <Field label={`${nameOf(scope)}, days`} wrong={tried ? wrongDays(days) : undefined}>
              <TextInput
                inputMode="numeric"
                className="w-28"
                value={days}
                onChange={(event) => put(scope, event.target.value)}
              />
            </Field>
            <Button kind="quiet" onClick={() => put(scope, null)}>
              Remove
            </Button>
          </div>
        ))}
        <Select
          aria-label="Other days for"
          className="w-72"
          value=""
          onChange={(event) => event.target.value !== '' && put(event.target.value, '')}
        >
          <option value="">Other days for …</option>
          {free.map((scope) => (
            <option key={scope} value={scope}>
              {nameOf(scope)}
            </option>
          ))}
        </Select>
      </div>
      <div className="mt-4 flex gap-3">
        <Button kind="filled" calls="PUT /api/setup/privacy" disabled={!edit.editing} onClick={save}>
          Save
        </Button>
        {edit.editing && (
          <Button kind="quiet" onClick={edit.drop}>
            Put back
          </Button>
        )}
      </div>
    </section>
  )
}
