'use client'
import { homeSign } from '../kit/locale'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { speeds } from '@/core/rating'
import type { WordingsView } from '@/usecases/intake/wordings'
import { call } from '../kit/api'
import { Button } from '../kit/Button'
import { count } from '../kit/format'
import { EditNotes } from '../kit/EditNotes'
import { useSay } from '../kit/Toast'
import { useEdit } from '../kit/useEdit'
import { useChange } from '../kit/useChange'
import { Rerouting } from '../rules/Rerouting'
import { emptyRow, readRow, rowForm, type RowForm, rowLine } from './wordingRow'

type Channel = WordingsView['channels'][number]

/** What each channel's checkout wording means; a change routes the waiting orders again at once. */
export function Wordings({ initial }: { initial: WordingsView }) {
  const { data } = useQuery({
    queryKey: ['wordings'],
    queryFn: () => call('GET /api/intake/wordings'),
    initialData: initial,
    refetchInterval: 5000,
  })
  const [since] = useState(() => new Date().toISOString())
  return (
    <>
      <Rerouting since={since} services={Object.fromEntries(data.services.map(({ id, name }) => [id, name]))} />
      <div className="min-h-0 flex-1 overflow-auto px-5 pb-8" tabIndex={0} role="region" aria-label="Wording tables">
        {data.channels.map((channel) => (
          <ChannelTable key={channel.id} channel={channel} view={data} />
        ))}
      </div>
    </>
  )
}

function ChannelTable({ channel, view }: { channel: Channel; view: WordingsView }) {
  const client = useQueryClient()
  const say = useSay()
  const settle = useChange(['wordings'], ['rerouting'])
  const saved = channel.table.rows.map(rowForm)
  const edit = useEdit<readonly RowForm[]>(`wordings ${channel.id}`, saved)
  const rows = edit.value
  const [wrong, setWrong] = useState<{ row: number; sentence: string } | null>(null)
  const putBack = (): void => {
    edit.drop()
    setWrong(null)
  }
  const change = (next: readonly RowForm[]): void => {
    edit.put(next)
    setWrong(null)
  }
  const save = async (forms: readonly RowForm[]): Promise<void> => {
    const read = forms.map(readRow)
    for (const [row, sentence] of read.entries()) if (typeof sentence === 'string') return setWrong({ row, sentence })
    const keep = (next: unknown, version: number): Promise<unknown> =>
      call('PUT /api/intake/wordings', { body: { channel: channel.id, rows: next, version } })
    const undo = (): void =>
      void settle(async () => {
        const fresh = await client.fetchQuery({
          queryKey: ['wordings'],
          queryFn: () => call('GET /api/intake/wordings'),
        })
        await keep(channel.table.rows, fresh.version)
      })
    await settle(
      () => keep(read, view.version),
      () => {
        edit.drop()
        say('Saved; the waiting orders are routed again', { undo })
      },
    )
  }
  const put = (i: number, more: Partial<RowForm>): void =>
    change(rows.map((row, other) => (other === i ? { ...row, ...more } : row)))
  const unmapped = channel.seen.filter((row) => !row.mapped)
  const orders = (wording: string): number | undefined =>
    channel.seen.find((row) => row.wording.toLowerCase() === wording.trim().toLowerCase())?.orders
  const head = (text: string, title?: string) => (
    <th className="px-1 py-1.5" title={title}>
      {text}
    </th>
  )
  return (
    <section aria-label={channel.name} className="pt-3">
      <h2 className="flex items-baseline gap-3 pb-1">
        <span className="text-lead">{channel.name}</span>
        {unmapped.length > 0 && (
          <span className="text-small text-wait">
            △ {count(unmapped.length)} wordings of {count(unmapped.reduce((sum, row) => sum + row.orders, 0))} orders
            mean nothing yet
          </span>
        )}
        <span className="ml-auto flex items-center gap-2">
          {edit.editing && (
            <Button kind="quiet" onClick={putBack}>
              Put back
            </Button>
          )}
          <Button onClick={() => change([...rows, emptyRow])}>Add a row</Button>
          {edit.editing && (
            <Button kind="filled" calls="PUT /api/intake/wordings" disabled={edit.overtaken} onClick={() => save(rows)}>
              Save and route again
            </Button>
          )}
        </span>
      </h2>
      <EditNotes edit={edit} what="this table" mine={rows.map(rowLine)} theirs={saved.map(rowLine)} onDrop={putBack} />
      {rows.length > 0 && (
        <table className="w-full bg-sheet">
          <thead>
            <tr className="border-y border-hair text-small text-soft">
              {head('Wording', '* stands for any characters, ? for one')}
              {head('Countries', 'Codes with blanks between; empty for all')}
              {head('Weight', 'Of the items, both ends included; empty for all')}
              {head(`Value in ${homeSign()}`, 'Both ends included; empty for all')}
              {head('Means the speed')}
              {head('Service')}
              {head('Package')}
              <th className="px-1 text-right">Orders</th>
              <td className="w-20" />
            </tr>
          </thead>
          <tbody>
            {rows.map((row, i) => {
              return [
                <WordingRow
                  key={i}
                  at={i}
                  row={row}
                  saved={saved[i] ?? emptyRow}
                  view={view}
                  wrong={wrong?.row === i}
                  orders={orders(row.wording)}
                  onPut={(more) => put(i, more)}
                  onSave={() => void save(rows)}
                  onUp={() =>
                    change(
                      rows.map((other, at) => {
                        if (at === i - 1) return row
                        return at === i ? rows[i - 1]! : other
                      }),
                    )
                  }
                  onDelete={() => change(rows.filter((_, other) => other !== i))}
                />,
                wrong?.row === i ? (
                  <tr key={`${i}w`}>
                    <td colSpan={9} role="alert" className="bg-lost-soft px-2 pb-1.5 text-lost">
                      {wrong.sentence}
                    </td>
                  </tr>
                ) : null,
              ]
            })}
          </tbody>
        </table>
      )}
      {rows.length === 0 && unmapped.length === 0 && (
        <p className="text-soft">No order of this channel carries a wording yet.</p>
      )}
      {unmapped.length > 0 && (
        <Unmapped
          wordings={unmapped}
          onMeans={(wording, speed) => void save([...rows, { ...emptyRow, wording, speed }])}
          onElse={(wording) => change([...rows, { ...emptyRow, wording }])}
        />
      )}
    </section>
  )
}

/** One row of a wording table, edited in place. */
function WordingRow({
  at,
  row,
  saved,
  view,
  wrong,
  orders,
  onPut,
  onSave,
  onUp,
  onDelete,
}: {
  at: number
  row: RowForm
  /** As it is saved: what Escape goes back to. */
  saved: RowForm
  view: WordingsView
  wrong: boolean
  orders: number | undefined
  onPut: (more: Partial<RowForm>) => void
  onSave: () => void
  onUp: () => void
  onDelete: () => void
}) {
  const cell = (
    key: 'wording' | 'countries' | 'weight' | 'value',
    label: string,
    placeholder: string,
    width: string,
  ) => (
    <td className="p-0.5">
      <input
        aria-label={`${label}, row ${at + 1}`}
        value={row[key]}
        placeholder={placeholder}
        onChange={(event) => onPut({ [key]: event.target.value })}
        onKeyDown={(event) => {
          if (event.key === 'Enter') onSave()
          if (event.key === 'Escape') onPut({ [key]: saved[key] })
        }}
        className={`h-[26px] border border-transparent bg-transparent px-1.5 placeholder:text-soft/70 hover:border-hair focus:border-act ${width}`}
      />
    </td>
  )
  return (
    <tr className={`border-b border-hair/70 ${wrong ? 'bg-lost-soft' : ''}`}>
      {cell('wording', 'Wording', 'Exp. 2-day', 'w-full min-w-36 font-semibold')}
      {cell('countries', 'Countries', 'all', 'w-28')}
      {cell('weight', 'Weight', 'any', 'w-28')}
      {cell('value', 'Value', 'any', 'w-28')}
      <td className="p-0.5">
        <select
          aria-label={`Speed, row ${at + 1}`}
          value={row.speed}
          onChange={(event) => onPut({ speed: event.target.value as RowForm['speed'] })}
          className="h-[26px] bg-transparent"
        >
          <option value="">–</option>
          {speeds.map((speed) => (
            <option key={speed}>{speed}</option>
          ))}
        </select>
      </td>
      <td className="p-0.5">
        <select
          aria-label={`Service, row ${at + 1}`}
          value={row.pick}
          onChange={(event) => onPut({ pick: event.target.value })}
          className="h-[26px] max-w-44 bg-transparent"
        >
          <option value="">–</option>
          <option value="cheapest">the cheapest</option>
          <option value="fastest">the fastest</option>
          <option value="cheapest by promise">the cheapest by the promised day</option>
          {view.services.map(({ id, name }) => (
            <option key={id} value={`:${id}`}>
              {name}
            </option>
          ))}
        </select>
      </td>
      <td className="p-0.5">
        <select
          aria-label={`Package, row ${at + 1}`}
          value={row.preset}
          onChange={(event) => onPut({ preset: event.target.value })}
          className="h-[26px] max-w-36 bg-transparent"
        >
          <option value="">–</option>
          {view.presets.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      </td>
      <td className="px-1 text-right text-soft">{orders === undefined ? '' : count(orders)}</td>
      <td className="whitespace-nowrap pr-2 text-right text-soft">
        <button
          aria-label={`Move row ${at + 1} up`}
          disabled={at === 0}
          className="size-[24px] hover:text-act disabled:opacity-30"
          onClick={onUp}
        >
          ↑
        </button>
        <button aria-label={`Delete row ${at + 1}`} className="size-[24px] hover:text-lost" onClick={onDelete}>
          ×
        </button>
      </td>
    </tr>
  )
}

/** What buyers chose and no row gives a meaning to: one click does. */
function Unmapped({
  wordings,
  onMeans,
  onElse,
}: {
  wordings: Channel['seen']
  onMeans: (wording: string, speed: (typeof speeds)[number]) => void
  onElse: (wording: string) => void
}) {
  return (
    <table className="mt-2 bg-wait-soft/60">
      <thead>
        <tr className="border-b border-hair text-small text-soft">
          <th className="px-2 py-1">Unmapped wordings</th>
          <th className="px-2 text-right">Orders in 90 days</th>
          <th className="px-2">It means</th>
        </tr>
      </thead>
      <tbody>
        {wordings.slice(0, 40).map(({ wording, orders: n }) => (
          <tr key={wording} className="border-b border-hair/60">
            <td className="max-w-72 truncate px-2 py-0.5 font-semibold">{wording}</td>
            <td className="px-2 text-right">{count(n)}</td>
            <td className="px-2">
              {speeds.map((speed) => (
                <button
                  key={speed}
                  className="min-h-[24px] px-1.5 text-act hover:bg-act-soft"
                  aria-label={`${wording} means ${speed}`}
                  onClick={() => onMeans(wording, speed)}
                >
                  {speed}
                </button>
              ))}
              <button
                className="min-h-[24px] px-1.5 text-soft hover:text-act"
                aria-label={`Something else for ${wording}`}
                onClick={() => onElse(wording)}
              >
                something else …
              </button>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
