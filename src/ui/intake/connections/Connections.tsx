'use client'
import { useQuery } from '@tanstack/react-query'
import { parseAsString, parseAsStringLiteral, useQueryState } from 'nuqs'
import type { ConnectionsView, ConnectionView, KindView } from '@/usecases/intake/connections'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { useAnnounced } from '../../kit/Announcer'
import { Plain } from '../../kit/Screen'
import { useChange } from '../../kit/useChange'
import { useSay } from '../../kit/Toast'
import { When } from '../../kit/When'
import { IntakeHead } from '../IntakeHead'
import { ConnectionForm } from './ConnectionForm'
import { HealthMark, Hours } from './HealthMark'
import { count } from '../../kit/format'
import { aStep } from '../../kit/step'

const newOnes: Readonly<Record<string, ConnectionView['role']>> = {
  'new-channel': 'channel',
  'new-carrier': 'carrier',
  'new-partner': 'partner',
  'new-messenger': 'messenger',
}

/** How an authorisation at the other side ended, for who comes back from there. */
const returns: Readonly<Record<string, { readonly good: boolean; readonly sentence: string }>> = {
  done: { good: true, sentence: 'It is authorised: test it, or import now.' },
  denied: { good: false, sentence: 'It was not allowed there. Nothing has changed: authorise it when it may be.' },
  failed: { good: false, sentence: 'The other side did not complete it. Nothing has changed: authorise it once more.' },
  unknown: {
    good: false,
    sentence:
      'This return belongs to no authorisation that was begun here, or it was used before: authorise it once more.',
  },
}

/** What links Gharry to channels, carriers and partners: how each is, and its settings beside the list. */
export function Connections({ initial }: { initial: ConnectionsView }) {
  const { data } = useQuery({
    queryKey: ['connections'],
    queryFn: () => call('GET /api/intake/connections'),
    initialData: initial,
    refetchInterval: 5000,
  })
  const [open, setOpen] = useQueryState('open', parseAsString.withDefault('').withOptions(aStep))
  const [of] = useQueryState('of', parseAsString.withDefault(''))
  const [authorised, setAuthorised] = useQueryState('authorised', parseAsStringLiteral(Object.keys(returns)))
  const say = useSay()
  const act = useChange(['connections'], ['intake'], ['line'])
  const chosen = data.connections.find(({ id }) => id === open)
  const role = newOnes[open]
  const list = (of: ConnectionView['role'], title: string, empty: string) => (
    <ConnectionTable
      title={title}
      empty={empty}
      rows={data.connections.filter((connection) => connection.role === of)}
      kinds={data.kinds}
      open={open}
      onOpen={(id) => void setOpen(id)}
    />
  )
  return (
    <div className="flex h-full flex-col">
      <IntakeHead at="connections" />
      <div className="flex min-h-0 flex-1 max-[899px]:flex-col">
        <div
          className="min-h-0 min-w-0 flex-1 overflow-auto px-5 pb-8"
          tabIndex={0}
          role="region"
          aria-label="All connections"
        >
          {authorised && (
            <p
              role="status"
              className={`mb-2 flex items-center gap-3 px-3 py-2 ${returns[authorised]!.good ? 'bg-done-soft' : 'bg-wait-soft'}`}
            >
              {returns[authorised]!.good ? '●' : '△'} {returns[authorised]!.sentence}
              <Button kind="quiet" className="ml-auto" onClick={() => setAuthorised(null)}>
                Understood
              </Button>
            </p>
          )}
          <p className="mb-2 flex flex-wrap gap-2">
            <Button
              kind={chosen || role ? 'plain' : 'filled'}
              calls="POST /api/intake/connections"
              onClick={() => setOpen('new-channel')}
            >
              Connect a channel
            </Button>
            <Button onClick={() => setOpen('new-carrier')}>Connect a carrier</Button>
            <Button onClick={() => setOpen('new-partner')}>Connect a partner</Button>
            <Button onClick={() => setOpen('new-messenger')}>Connect text messages</Button>
            <Button
              onClick={() =>
                act(
                  () => call('POST /api/intake/imports/all', { body: {} }),
                  ({ channels }) =>
                    say(`Imports from ${count(channels)} ${channels === 1 ? 'channel' : 'channels'} are queued`),
                )
              }
            >
              Import from all now
            </Button>
          </p>
          {list('channel', 'Sales channels', 'Connect a channel, and its orders come in.')}
          {list('carrier', 'Carriers', 'Connect a carrier, and its labels can be bought.')}
          {list(
            'partner',
            'Partners',
            'A warehouse of somebody else? Connect it, and papers and orders are handed over to it.',
          )}
          {list('messenger', 'Text messages', 'Connect a gateway, and customers can be told by text message, too.')}
        </div>
        {(chosen || role) && (
          <ConnectionForm
            key={open}
            connection={chosen}
            role={chosen?.role ?? role!}
            kinds={data.kinds}
            carriers={data.carriers}
            locations={data.locations}
            carrier={data.carriers.length === 1 ? data.carriers[0]!.id : of}
            onSaved={(id) => void setOpen(id)}
            onClose={() => void setOpen('')}
          />
        )}
      </div>
    </div>
  )
}

function ConnectionTable({
  title,
  empty,
  rows,
  kinds,
  open,
  onOpen,
}: {
  title: string
  empty: string
  rows: readonly ConnectionView[]
  kinds: readonly KindView[]
  open: string
  onOpen: (id: string) => void
}) {
  const announced = useAnnounced<HTMLParagraphElement>()
  const ill = rows.filter(
    ({ health }) => health.sentence !== '' && health.state !== 'off' && health.state !== 'not tried',
  )
  return (
    <section aria-label={title} className="relative mt-3">
      <h2 className="mb-1 text-lead">{title}</h2>
      <p ref={announced} aria-live="off" className="sr-only">
        {ill.map(({ name, health }) => `${name}: ${health.sentence}`).join(' ')}
      </p>
      {rows.length === 0 ? (
        <Plain title="None yet">{empty}</Plain>
      ) : (
        <table className="w-full border-t border-hair bg-sheet">
          <thead>
            <tr className="border-b border-hair text-small text-soft">
              <th className="w-60 px-3 py-1.5">Name</th>
              <th className="w-48">State</th>
              <th>What is said</th>
              <th className="w-32 max-[1199px]:hidden">Last success</th>
              <th className="w-36 max-[1023px]:hidden">Last 24 hours</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr key={row.id} className={`border-b border-hair align-top ${row.id === open ? 'bg-act-soft' : ''}`}>
                <td className="px-3 py-1.5">
                  <button
                    className="min-h-6 text-left font-semibold hover:text-act"
                    aria-pressed={row.id === open}
                    onClick={() => onOpen(row.id === open ? '' : row.id)}
                  >
                    {row.name}
                  </button>
                  <span className="block text-small text-soft">
                    {kinds.find(({ id, role }) => id === row.kind && role === row.role)?.name}
                  </span>
                </td>
                <td className="py-1.5">
                  <HealthMark state={row.health.state} />
                </td>
                <td className="py-1.5 pr-3">{row.health.sentence}</td>
                <td className="py-1.5 max-[1199px]:hidden">
                  <When at={row.lastSuccessAt} />
                </td>
                <td className="py-1.5 max-[1023px]:hidden">
                  <Hours hours={row.hours} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  )
}
