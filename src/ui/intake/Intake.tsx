'use client'
import Link from 'next/link'
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import type { FilePreview } from '@/adapters'
import type { ImportRow } from '@/data'
import type { ChannelView, IntakeView } from '@/usecases/intake/showIntake'
import { call } from '../kit/api'
import { Button } from '../kit/Button'
import { Select } from '../kit/Field'
import { count } from '../kit/format'
import { Pager } from '../kit/Pager'
import { Plain } from '../kit/Screen'
import { StateMark } from '../kit/StateMark'
import { FileDrop } from './OrderFileDrop'
import { FileMapper } from './FileMapper'
import { IntakeHead } from './IntakeHead'
import { type Change, useChange } from '../kit/useChange'
import { useSkip } from '../kit/useSkip'
import { When } from '../kit/When'

export interface FieldName {
  readonly id: string
  readonly name: string
  readonly needed: boolean
}
export interface ReceivedFile {
  readonly file: string
  readonly fileName: string
  readonly preview: FilePreview
  /** The channel that files with these columns were for the last time. */
  readonly channel: string | null
}

/** Channels, imports running and finished, and files on their way in. */
export function Intake({ initial, fields }: { initial: IntakeView; fields: readonly FieldName[] }) {
  const client = useQueryClient()
  const [skip, setSkip] = useSkip()
  const { data = initial } = useQuery({
    queryKey: ['intake', skip],
    queryFn: () => call('GET /api/intake', { query: { skip: String(skip) } }),
    initialData: skip === 0 ? initial : undefined,
    placeholderData: keepPreviousData,
    refetchInterval: (query) => (query.state.data?.busy ? 700 : 3000),
  })
  const [received, setReceived] = useState<ReceivedFile | null>(null)
  const [looking, setLooking] = useState<number | null>(null)
  const act = useChange(['intake'])
  return (
    <div className="flex h-full flex-col">
      <IntakeHead at="imports" />
      <div className="min-h-0 flex-1 overflow-auto px-5 pb-8" tabIndex={0} role="region" aria-label="Intake">
        <table className="w-full border-t border-hair bg-sheet">
          <thead>
            <tr className="border-b border-hair text-small text-soft">
              <th className="px-3 py-1.5">Channel</th>
              <th>Fetches orders</th>
              <th>Is told the tracking number</th>
              <th>Last import</th>
              <td />
            </tr>
          </thead>
          <tbody>
            {data.channels.map((channel) => (
              <Channel key={channel.id} channel={channel} act={act} />
            ))}
          </tbody>
        </table>
        <FileDrop onReceived={setReceived} />
        {received && (
          <FileMapper
            received={received}
            fields={fields}
            channels={data.channels}
            onClose={() => setReceived(null)}
            onQueued={() => {
              setReceived(null)
              void client.invalidateQueries({ queryKey: ['intake'] })
            }}
          />
        )}
        <Reasons reasons={data.reasons} />
        <h2 className="mt-5 mb-1 text-lead">Imports</h2>
        {data.total === 0 ? (
          <Plain title="Nothing imported yet">Import from a channel above, or drop a file.</Plain>
        ) : (
          <>
            <table className="w-full bg-sheet">
              <thead>
                <tr className="border-y border-hair text-small text-soft">
                  <th className="px-3 py-1.5">State</th>
                  <th>From</th>
                  <th>Asked for</th>
                  <th className="text-right">Read</th>
                  <th className="text-right">New</th>
                  <th className="text-right">Changed</th>
                  <th className="text-right">Known</th>
                  <th className="text-right">Flagged</th>
                  <th className="text-right">Cancelled</th>
                  <th className="text-right">Bad rows</th>
                  <td className="w-24" />
                </tr>
              </thead>
              <tbody>
                {data.imports.map((row) => (
                  <Import
                    key={row.id}
                    row={row}
                    channels={data.channels}
                    open={looking === row.id}
                    onLook={() => setLooking(looking === row.id ? null : row.id)}
                    onCancel={() =>
                      void act(() => call('DELETE /api/intake/imports/:id', { path: { id: String(row.id) }, body: {} }))
                    }
                  />
                ))}
              </tbody>
            </table>
            <Pager {...{ skip, size: data.pageSize, total: data.total }} onSkip={setSkip} />
          </>
        )}
      </div>
    </div>
  )
}

/** What keeps orders that came in, so that the same fault of many is seen at once. */
function Reasons({ reasons }: { reasons: IntakeView['reasons'] }) {
  if (reasons.length === 0) return null
  const most = Math.max(...reasons.map(({ orders }) => orders))
  return (
    <section aria-label="What came in and needs a person">
      <h2 className="mt-5 mb-1 flex items-baseline gap-3 text-lead">
        Needs a person
        <Link href="/desk?state=attention" className="text-data text-act underline decoration-hair underline-offset-4">
          See them on the Desk
        </Link>
      </h2>
      <table className="w-full max-w-3xl border-t border-hair bg-sheet">
        <thead className="sr-only">
          <tr>
            <th>Reason</th>
            <th>Orders</th>
            <th>Share</th>
          </tr>
        </thead>
        <tbody>
          {reasons.map(({ reason, orders }) => (
            <tr key={reason} className="border-b border-hair/60">
              <td className="w-72 px-3 py-1">{reason}</td>
              <td className="w-16 text-right">{count(orders)}</td>
              <td className="px-3">
                <span aria-hidden className="block h-2 bg-wait-mark" style={{ width: `${(100 * orders) / most}%` }} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}

function Channel({ channel, act }: { channel: ChannelView; act: Change }) {
  const change = (body: object): Promise<boolean> =>
    act(() => call('PATCH /api/intake/channels/:id', { path: { id: channel.id }, body }))
  return (
    <tr className="border-b border-hair">
      <td className="px-3 py-1.5 font-semibold">{channel.name}</td>
      <td>
        {!channel.can.fetch ? (
          <span className="text-soft">{channel.can.files ? 'from files' : 'typed at the Desk'}</span>
        ) : (
          <Select
            aria-label={`How often ${channel.name} is asked`}
            value={channel.everyMinutes}
            onChange={(event) => void change({ everyMinutes: Number(event.target.value) })}
          >
            {[0, 1, 5, 15, 60].map((n) => (
              <option key={n} value={n}>
                {rhythms[n] ?? `every ${n} minutes`}
              </option>
            ))}
          </Select>
        )}
      </td>
      <td>
        <Select
          aria-label={`When ${channel.name} is told`}
          value={channel.tellWhen}
          onChange={(event) => void change({ tellWhen: event.target.value })}
        >
          <option value="bought">when the label is bought</option>
          <option value="dispatched">when it is handed over</option>
        </Select>
      </td>
      <td>
        <When at={channel.lastImportAt} />
      </td>
      <td className="pr-3 text-right">
        {channel.can.fetch && (
          <Button
            aria-label={`${channel.fetching ? 'Importing …' : 'Import now'} from ${channel.name}`}
            className="py-0.5"
            disabled={channel.fetching}
            onClick={() =>
              act(() => call('POST /api/intake/channels/:id/import', { path: { id: channel.id }, body: {} }))
            }
          >
            {channel.fetching ? 'Importing …' : 'Import now'}
          </Button>
        )}
      </td>
    </tr>
  )
}

function Import({
  row,
  channels,
  open,
  onLook,
  onCancel,
}: {
  row: ImportRow
  channels: readonly ChannelView[]
  open: boolean
  onLook: () => void
  onCancel: () => void
}) {
  const running = row.state === 'running' || row.state === 'queued'
  const share = row.bytesTotal > 0 ? Math.min(1, row.bytesDone / row.bytesTotal) : null
  return (
    <>
      <tr className="border-b border-hair/70">
        <td className="px-3 py-1.5">
          <StateMark state={row.state} />
        </td>
        <td>
          {channels.find((channel) => channel.id === row.channelId)?.name}
          {row.fileName && <span className="text-soft"> {row.fileName}</span>}
        </td>
        <td>
          <When at={row.requestedAt} />
        </td>
        {([row.fetched, row.created, row.updated, row.unchanged, row.flagged, row.cancelled] as const).map((n, i) => (
          <td key={i} className="text-right">
            {count(n)}
          </td>
        ))}
        <td className="text-right">
          {row.bad > 0 ? (
            <button className="font-semibold text-lost underline" aria-expanded={open} onClick={onLook}>
              {count(row.bad)}
            </button>
          ) : (
            '0'
          )}
        </td>
        <td className="pr-3 text-right">
          {running && (
            <Button kind="quiet" onClick={onCancel}>
              Stop
            </Button>
          )}
        </td>
      </tr>
      {running && share !== null && (
        <tr>
          <td colSpan={11}>
            <div
              className="h-1 bg-tint"
              role="progressbar"
              aria-label="Progress of the file"
              aria-valuenow={Math.round(share * 100)}
            >
              <div className="h-1 bg-act" style={{ width: `${share * 100}%` }} />
            </div>
          </td>
        </tr>
      )}
      {row.problem && (
        <tr className="border-b border-hair/70">
          <td />
          <td colSpan={10} className={row.state === 'failed' ? 'pb-1.5 text-lost' : 'pb-1.5 text-wait'}>
            {row.problem}
          </td>
        </tr>
      )}
      {open && (
        <tr>
          <td colSpan={11}>
            {row.kind === 'file' && row.bad > 0 && (
              <p className="bg-lost-soft/40 px-3 py-2">
                <a
                  className="text-act underline underline-offset-4"
                  href={`/api/intake/files/left?id=${row.id}`}
                  download
                >
                  The rows that were not taken, as a file
                </a>
                : correct them and drop it here. What is in already is not taken twice.
              </p>
            )}
            <Problems id={row.id} />
          </td>
        </tr>
      )}
    </>
  )
}

function Problems({ id }: { id: number }) {
  const { data } = useQuery({
    queryKey: ['import problems', id],
    queryFn: () => call('GET /api/intake/imports/:id', { path: { id: String(id) } }),
  })
  return (
    <table className="w-full bg-lost-soft/40">
      <thead className="sr-only">
        <tr>
          <th>Line</th>
          <th>Reason</th>
          <th>Row</th>
        </tr>
      </thead>
      <tbody>
        {data?.map((problem, i) => (
          <tr key={i} className="border-b border-hair/60 align-top">
            <td className="w-24 px-3 py-1 text-right">{problem.line > 0 ? `line ${count(problem.line)}` : ''}</td>
            <td className="w-1/2 py-1 pr-4">{problem.reason}</td>
            <td className="max-w-0 truncate py-1 font-mono text-small text-soft" title={problem.row}>
              {problem.row}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

const rhythms: Readonly<Record<number, string>> = { 0: 'only on demand', 1: 'every minute' }
