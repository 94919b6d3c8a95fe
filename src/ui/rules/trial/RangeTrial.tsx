'use client'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Select, TextInput } from '../../kit/Field'
import { count, shortDay } from '../../kit/format'
import { Plain } from '../../kit/Screen'
import { TrialBody } from './TrialBody'
import { useChange } from '../../kit/useChange'

const day = (daysAgo: number): string => new Date(Date.now() - daysAgo * 86_400_000).toISOString().slice(0, 10)

/** The draft tried over any range of orders, on the server: it can be left, watched and cancelled. */
export function RangeTrial({
  channels,
  services,
}: {
  channels: readonly { readonly id: string; readonly name: string }[]
  services: Readonly<Record<string, string>>
}) {
  const change = useChange(['trial run'])
  const [form, setForm] = useState({ from: day(89), until: day(0), channel: '', everyNth: 1, asOf: '' })
  const { data: trial } = useQuery({
    queryKey: ['trial run'],
    queryFn: () => call('GET /api/rules/trials/newest').then(({ trial: newest }) => newest),
    refetchInterval: (query) => (query.state.data?.state === 'queued' ? 400 : 5000),
  })
  const done = trial?.state === 'done' && trial.result ? trial : null
  const { data: changes } = useQuery({
    queryKey: ['trial changes', done?.id],
    queryFn: () => call('GET /api/rules/trials/:id/changes', { path: { id: String(done!.id) } }),
    enabled: done !== null,
    staleTime: Infinity,
  })
  const { channel, ...range } = form
  const start = (): Promise<boolean> =>
    change(() => call('POST /api/rules/trials', { body: { ...range, channels: channel === '' ? [] : [channel] } }))
  const running = trial?.state === 'queued'
  const scope =
    trial &&
    `${shortDay(trial.options.from)} to ${shortDay(trial.options.until)}${trial.options.channels.length > 0 ? `, ${trial.options.channels.map((id) => channels.find((candidate) => candidate.id === id)?.name ?? id).join(', ')}` : ''}${trial.options.everyNth > 1 ? `, every ${trial.options.everyNth}th` : ''}${trial.options.asOf ? `, as of ${shortDay(trial.options.asOf)}` : ''}`
  return (
    <>
      <form
        className="flex flex-wrap items-end gap-3 border-b border-hair px-5 py-2"
        onSubmit={(event) => {
          event.preventDefault()
          void start()
        }}
      >
        <label className="grid gap-0.5 text-small text-soft">
          Placed from
          <TextInput
            type="date"
            required
            value={form.from}
            onChange={(event) => setForm({ ...form, from: event.target.value })}
          />
        </label>
        <label className="grid gap-0.5 text-small text-soft">
          until
          <TextInput
            type="date"
            required
            value={form.until}
            onChange={(event) => setForm({ ...form, until: event.target.value })}
          />
        </label>
        <label className="grid gap-0.5 text-small text-soft">
          Channel
          <Select value={channel} onChange={(event) => setForm({ ...form, channel: event.target.value })}>
            <option value="">all</option>
            {channels.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </Select>
        </label>
        <label className="grid gap-0.5 text-small text-soft">
          Orders
          <Select
            value={form.everyNth}
            onChange={(event) => setForm({ ...form, everyNth: Number(event.target.value) })}
          >
            <option value={1}>all</option>
            <option value={10}>every 10th</option>
            <option value={100}>every 100th</option>
          </Select>
        </label>
        <label
          className="grid gap-0.5 text-small text-soft"
          title="The orders are moved by whole weeks, so that seasons and dates of rules are met"
        >
          As of
          <TextInput
            type="date"
            value={form.asOf}
            onChange={(event) => setForm({ ...form, asOf: event.target.value })}
          />
        </label>
        <Button type="submit" kind="plain" disabled={running}>
          Try the draft
        </Button>
        {running && trial && (
          <div className="flex items-center gap-2 text-soft" role="status">
            <div
              className="h-1.5 w-40 bg-tint"
              role="progressbar"
              aria-label="Progress of the trial"
              aria-valuenow={trial.done}
              aria-valuemax={trial.total}
            >
              <div
                className="h-full bg-act"
                style={{ width: `${trial.total > 0 ? (100 * trial.done) / trial.total : 0}%` }}
              />
            </div>
            {count(trial.done)} of {count(trial.total)}
            <Button
              kind="quiet"
              onClick={() =>
                change(() => call('DELETE /api/rules/trials/:id', { path: { id: String(trial.id) }, body: {} }))
              }
            >
              Cancel
            </Button>
          </div>
        )}
        {done && (
          <p className="ml-auto flex items-center gap-3 text-small text-soft">
            {scope}, against edition {done.edition}, {(done.result!.ms / 1000).toFixed(1)} s
            <a
              className="rounded-[3px] border border-act px-2.5 py-0.5 text-act hover:bg-act-soft"
              href={`/api/rules/trials/${done.id}/file`}
              download
            >
              Save as CSV
            </a>
          </p>
        )}
        {trial?.state === 'cancelled' && (
          <p className="text-wait">
            Cancelled after {count(trial.done)} of {count(trial.total)} orders.
          </p>
        )}
        {trial?.problem && (
          <p role="alert" className="text-lost">
            {trial.problem}
          </p>
        )}
      </form>
      {done && changes ? (
        <TrialBody
          summary={done.result!.summary}
          changes={changes}
          services={services}
          trial={done.id}
          note={
            done.result!.summary.changed > changes.length
              ? `The biggest ${count(changes.length)} of ${count(done.result!.summary.changed)}; all of them are in the file.`
              : ''
          }
        />
      ) : (
        <Plain title={running ? 'Trying the draft …' : 'No trial of a range yet'}>
          {running
            ? 'You can leave this screen; it goes on.'
            : 'Choose the days, and try the draft on all their orders. As of another day, its seasons and dated rules are met.'}
        </Plain>
      )}
    </>
  )
}
