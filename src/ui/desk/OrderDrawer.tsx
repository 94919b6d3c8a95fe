'use client'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { X } from 'lucide-react'
import dynamic from 'next/dynamic'
import { useState, type ReactNode } from 'react'
import { parcelsPhrase } from '@/core/packing'
import { formatMoney, formatWeight } from '@/core/units'
import type { World } from '@/core/world'
import type { DeskNames } from '@/usecases/desk/showDesk'
import type { OrderView, TrailLine } from '@/usecases/desk/showOrder'
import { call, sentenceOf } from '../kit/api'
import { Button } from '../kit/Button'
import { Confirm } from '../kit/Confirm'
import { amount, euros, shortDay, shortTime, toneOfCost } from '../kit/format'
import { Plain } from '../kit/Screen'
import { StateMark } from '../kit/StateMark'
import { useSay } from '../kit/Toast'
import { PrintButton } from '../dispatch/PrintButton'
import { usePrintProfile } from '../dispatch/printProfile'
import { Packing } from './Packing'
import { pinnable } from './pinnable'
import { Together } from './Together'
import { useChange } from '../kit/useChange'

// The whole rule engine comes with it, so it is fetched when it is asked for.
const AddressPart = dynamic(() => import('./AddressPart').then((module) => module.AddressPart), {
  ssr: false,
  loading: () => <p className="text-soft">Looking at the address …</p>,
})
const PinEditor = dynamic(() => import('./PinEditor').then((module) => module.PinEditor), { ssr: false })
const WhatIf = dynamic(() => import('./WhatIf').then((module) => module.WhatIf), {
  loading: () => <p className="text-soft">Fetching the rule engine …</p>,
})

/** Everything about one order: why it is where it is, what was decided and by which rule, and what happened. */
export function OrderDrawer({
  id,
  names,
  world,
  onClose,
  onOpen,
}: {
  id: number
  names: DeskNames
  world: World
  onClose: () => void
  onOpen: (order: number) => void
}) {
  const { data, error } = useQuery({
    queryKey: ['order', id],
    queryFn: () => call('GET /api/desk/orders/:id', { path: { id: String(id) } }),
    refetchInterval: 5000,
    placeholderData: (before) => (before?.row.id === id ? before : undefined),
  })
  return (
    <aside aria-label="Order" className="flex w-[452px] shrink-0 flex-col border-l border-hair bg-sheet">
      {data && <Order view={data} names={names} world={world} onClose={onClose} onOpen={onOpen} />}
      {!data && error && <Plain title="The order cannot be shown">{sentenceOf(error)}</Plain>}
      {!data && !error && <p className="p-5 text-soft">Fetching the order …</p>}
    </aside>
  )
}

function Order({
  view,
  names,
  world,
  onClose,
  onOpen,
}: {
  view: OrderView
  names: DeskNames
  world: World
  onClose: () => void
  onOpen: (order: number) => void
}) {
  const { row, order } = view
  const [trying, setTrying] = useState(false)
  const [looking, setLooking] = useState(false)
  const say = useSay()
  const change = useChange()
  const pinIt = (): Promise<boolean> =>
    change(
      () =>
        call('POST /api/desk/orders/:id/example', {
          path: { id: String(row.id) },
          body: { name: `${row.number}, ${row.buyer}`.slice(0, 120) },
        }),
      () => say('Pinned as an example: a draft that decides it differently cannot be published unnoticed'),
    )
  const waiting = row.state === 'attention' || row.state === 'held' || row.state === 'ready'
  // A blocker is shown where it can be corrected.
  const addressFirst =
    waiting &&
    view.problems.some(
      ({ code }) =>
        code.startsWith('address-') || code === 'unknown-country' || code === 'no-street' || code === 'no-city',
    )
  // The address says its own problems below.
  const told = [
    ...(row.problem && !view.problems.some((problem) => problem.sentence === row.problem)
      ? [{ code: 'row', sentence: row.problem }]
      : []),
    ...view.problems.filter(({ code }) => !code.startsWith('address-')),
  ]
  const shipsTo = (
    <Section title="Ships to">
      <AddressPart order={row.id} waiting={waiting} />
    </Section>
  )
  return (
    <>
      <header className="flex flex-wrap items-start gap-x-3 gap-y-0.5 border-b border-hair px-4 py-3">
        <div>
          <h2 className="font-mono text-lead">{row.number}</h2>
        </div>
        <Button
          kind="quiet"
          className="ml-auto"
          title="The rulebook must go on deciding for this order as it does now"
          onClick={() => void pinIt()}
        >
          Pin as an example
        </Button>
        <button aria-label="Close the order" className="p-1 text-soft hover:text-act" onClick={onClose}>
          <X className="size-4" />
        </button>
        <p className="flex w-full items-center gap-2 whitespace-nowrap">
          <StateMark state={row.state} />
          <span className="truncate text-soft">
            {names.channels[row.channel_id] ?? row.channel_id}, placed {shortTime(row.placed_at)}
          </span>
        </p>
      </header>
      <div
        className="relative min-h-0 flex-1 overflow-auto px-4 pb-8"
        tabIndex={0}
        aria-label="Details of the order"
        role="region"
      >
        {row.flag && <p className="mt-3 bg-lost-soft p-2.5 text-lost">{row.flag}</p>}
        {told.length > 0 && waiting && (
          <ul className="mt-3 bg-wait-soft p-2.5">
            {told.map((problem) => (
              <li key={problem.code + problem.sentence} className="py-0.5">
                {problem.sentence}
              </li>
            ))}
          </ul>
        )}
        {view.problems.length === 0 && row.state === 'attention' && row.problem && (
          <p className="mt-3 bg-wait-soft p-2.5">{row.problem}</p>
        )}
        {addressFirst && shipsTo}
        <Together view={view} names={names} waiting={waiting} onOpen={onOpen} />
        <Trail view={view} names={names} world={world} waiting={waiting} />
        <Quotes view={view} names={names} />
        <Labels view={view} names={names} />
        {waiting && (
          <details className="mt-4" onToggle={(event) => setTrying((event.target as HTMLDetailsElement).open)}>
            <summary className="cursor-pointer border-b border-hair pb-1 text-small text-act">
              What if, and why not
            </summary>
            <div className="pt-2">{trying && <WhatIf id={row.id} order={order} />}</div>
          </details>
        )}
        {!addressFirst && shipsTo}
        <Section title="Facts">
          <Facts
            rows={[
              [
                'Buyer',
                [order.buyer.name, order.buyer.email, order.buyer.phone, order.buyer.returning ? 'returning' : 'new']
                  .filter(Boolean)
                  .join(', '),
              ],
              ['Checkout wording', order.wording ? `“${order.wording}”` : 'none'],
              ['Promised by', shortDay(order.promisedBy)],
              ['Value', `${formatMoney(order.value)}${order.value.currency === 'EUR' ? '' : ` = ${euros(row.value)}`}`],
              ['Shipping paid', formatMoney(order.shippingPaid)],
              ...(view.duties
                ? [
                    [
                      'Customs',
                      `${view.duties.incoterm}, ${view.duties.incoterm === 'DDP' ? 'we pay' : 'the buyer pays'} ${view.duties.estimate ? `about ${euros(view.duties.estimate.duty)} duty and ${euros(view.duties.estimate.tax)} tax` : 'duty and tax (no rates are known for this country)'}`,
                    ] as [string, string],
                  ]
                : []),
              ['Payment', order.paymentMethod],
            ]}
          />
        </Section>
        {view.parcels.length > 0 && (
          <details className="mt-4" onToggle={(event) => setLooking((event.target as HTMLDetailsElement).open)}>
            <summary className="cursor-pointer border-b border-hair pb-1 text-small text-act">
              How it is packed: {parcelsPhrase(view.parcels, (preset) => names.presets[preset] ?? preset)}
            </summary>
            <div className="pt-2">
              {view.packings.length > 1 && <Weighed view={view} names={names} />}
              {looking && <Packing order={row.id} />}
            </div>
          </details>
        )}
        <Section title="Items">
          <table className="w-full">
            <tbody>
              {order.items.map((item) => (
                <tr key={item.line} className="border-b border-hair/60 align-top">
                  <td className="w-8 py-1 text-right font-semibold">{item.quantity} ×</td>
                  <td className="px-2 py-1">
                    {item.title || item.sku}
                    <span className="block font-mono text-small text-soft">
                      {item.sku}
                      {item.dangerousGoods && ` · ${item.dangerousGoods}`}
                      {item.tags.length > 0 && ` · ${item.tags.join(', ')}`}
                    </span>
                  </td>
                  <td className="py-1 text-right">
                    {item.unitWeight === null ? (
                      <span className="text-lost">no weight</span>
                    ) : (
                      formatWeight(item.unitWeight)
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </Section>
        {(view.posts.length > 0 || view.notices.length > 0) && (
          <Section title="Notifications">
            {view.posts.map((post) => (
              <p key={`p${post.id}`} className="flex gap-2 py-0.5">
                <StateMark state={post.state} />{' '}
                {post.kind === 'fulfil' ? 'channel: tracking number' : 'channel: taken back'}{' '}
                <span className="text-soft">{post.problem}</span>
              </p>
            ))}
            {view.notices.map((notice) => (
              <p key={`n${notice.id}`} className="flex gap-2 py-0.5">
                <StateMark state={notice.state} /> customer: on its way{' '}
                <span className="text-soft">{notice.problem}</span>
              </p>
            ))}
          </Section>
        )}
        <Section title="What happened">
          <p className="py-0.5 text-soft">
            Imported {shortTime(row.imported_at)}. Last decided {shortTime(view.decidedAt)} by edition {view.edition}.
          </p>
          {view.log.map((entry, i) => (
            <p key={i} className="py-0.5">
              <span className="text-soft">
                {shortTime(entry.at)} {entry.author}:
              </span>{' '}
              {entry.sentence}
            </p>
          ))}
          {view.events.map((event) => (
            <p key={event.remote_id} className="py-0.5">
              <span className="text-soft">{shortTime(event.at)} carrier:</span> {event.text}
              {event.place && `, ${event.place}`}
            </p>
          ))}
        </Section>
      </div>
    </>
  )
}

function Section({ title, children, action }: { title: string; children: ReactNode; action?: ReactNode }) {
  return (
    <section className="mt-4">
      <h3 className="flex items-center border-b border-hair pb-1 text-small text-soft">
        {title}
        <span className="ml-auto">{action}</span>
      </h3>
      <div className="pt-1">{children}</div>
    </section>
  )
}

function Facts({ rows }: { rows: readonly (readonly [string, ReactNode])[] }) {
  return (
    <dl className="grid grid-cols-[7.5rem_1fr] gap-y-0.5">
      {rows.map(([name, value]) => (
        <div key={name} className="contents">
          <dt className="text-soft">{name}</dt>
          <dd className="break-words">{value}</dd>
        </div>
      ))}
    </dl>
  )
}

function Trail({ view, names, world, waiting }: { view: OrderView; names: DeskNames; world: World; waiting: boolean }) {
  const [editing, setEditing] = useState<string | null>(null)
  const path = { id: String(view.row.id) }
  const change = useChange(['order', view.row.id], ['desk'])
  const done = (): void => setEditing(null)
  const pin = (decision: string, value: unknown): Promise<boolean> =>
    change(() => call('POST /api/desk/orders/:id/pins', { path, body: { decision, value } }), done)
  const release = (decision: string): Promise<boolean> =>
    change(() => call('DELETE /api/desk/orders/:id/pins', { path, body: { decision } }), done)
  const missing = pinnable.filter((kind) => !view.trail.some((line) => line.decision === kind.id))
  return (
    <Section
      title="Decisions"
      action={
        view.row.hold && waiting ? (
          <Button kind="quiet" onClick={() => void pin('hold', null)}>
            Release the hold
          </Button>
        ) : undefined
      }
    >
      {view.trail.map((line) => (
        <div key={line.decision} className="border-b border-hair/60 py-1.5">
          <div className="flex items-baseline gap-2">
            <span className="w-28 shrink-0 text-soft">{line.name}</span>
            <b className="min-w-0 flex-1 font-semibold break-words">{line.value}</b>
            {waiting && line.pinned && (
              <Button kind="quiet" onClick={() => void release(line.decision)}>
                Release
              </Button>
            )}
            {waiting && pinnable.some((kind) => kind.id === line.decision) && (
              <Button
                kind="quiet"
                aria-label={`Override ${line.name}`}
                onClick={() => setEditing(editing === line.decision ? null : line.decision)}
              >
                Override
              </Button>
            )}
          </div>
          <Why line={line} />
          {editing === line.decision && (
            <PinEditor
              decision={line.decision}
              world={world}
              onCancel={() => setEditing(null)}
              onPin={(value) => void pin(line.decision, value)}
            />
          )}
        </div>
      ))}
      {waiting && missing.length > 0 && (
        <div className="flex flex-wrap items-center gap-1 pt-2">
          <span className="text-soft">Decide by hand:</span>
          {missing.map((kind) => (
            <Button key={kind.id} kind="quiet" onClick={() => setEditing(editing === kind.id ? null : kind.id)}>
              {kind.name}
            </Button>
          ))}
        </div>
      )}
      {editing && missing.some((kind) => kind.id === editing) && (
        <PinEditor
          decision={editing}
          world={world}
          onCancel={() => setEditing(null)}
          onPin={(value) => void pin(editing, value)}
        />
      )}
      {view.stages.some((stage) => stage.finishedBy) &&
        view.stages
          .filter((stage) => stage.finishedBy)
          .map((stage) => (
            <p key={stage.stage} className="pt-1 text-small text-soft">
              “{stage.finishedBy}” finished the stage {stage.stage}: later rules there were not looked at.
            </p>
          ))}
      {Object.keys(names.services).length === 0 && <p className="text-soft">There are no services yet.</p>}
    </Section>
  )
}

function Why({ line }: { line: TrailLine }) {
  return (
    <div className="pl-30 text-small text-soft">
      {line.parts.length > 0 ? (
        line.parts.map((part) => (
          <p key={part.rule}>
            {part.value}: {part.rule}
          </p>
        ))
      ) : (
        <p className={line.pinned ? 'text-wait' : ''}>
          {line.by}
          {line.why && `, because ${line.why}`}
        </p>
      )}
      {line.others.map((other) => (
        <p key={other.rule + other.value}>
          <span className="line-through">{other.value}</span> wanted by {other.rule}, but {other.why}
        </p>
      ))}
    </div>
  )
}

/** Ways to pack that were weighed by their price: each with the sum of label and packaging. */
function Weighed({ view, names }: { view: OrderView; names: DeskNames }) {
  const packed = view.parcels.map((parcel) => parcel.preset).join()
  return (
    <table className="mb-2 w-full">
      <thead className="sr-only">
        <tr>
          <th>Packed in</th>
          <th>Label and packaging, €</th>
        </tr>
      </thead>
      <tbody>
        {view.packings.map((way, i) => (
          <tr
            key={i}
            className={`border-b border-hair/60 ${way.presets.join() === packed ? 'bg-done-soft font-semibold' : 'text-soft'}`}
          >
            <td className="py-1 pl-1">
              {way.presets.join() === packed && '● '}
              {way.presets.map((preset) => names.presets[preset] ?? 'own box').join(' + ')}
            </td>
            <td className="py-1 pr-1 text-right">{way.cost === null ? 'nobody takes it' : euros(way.cost)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

function Quotes({ view, names }: { view: OrderView; names: DeskNames }) {
  if (view.quotes.length + view.refusals.length === 0) return null
  const chosen = view.quotes.find((quote) => quote.service === view.chosen)
  return (
    <Section title="Services for this parcel">
      <p className="pb-1">
        The buyer chose {view.order.wording ? <b>“{view.order.wording}”</b> : 'nothing'} and paid{' '}
        <b>{formatMoney(view.order.shippingPaid)}</b> for shipping
        {chosen && view.shippingPaid !== null && <Margin paid={view.shippingPaid} cost={chosen.cost} />}.
      </p>
      <table className="w-full">
        <thead className="sr-only">
          <tr>
            <th>Service</th>
            <th>Arrives</th>
            <th>Cost €</th>
          </tr>
        </thead>
        <tbody>
          {view.quotes.map((quote) => (
            <tr
              key={quote.service}
              className={`border-b border-hair/60 ${quote.service === view.chosen ? 'bg-done-soft font-semibold' : ''}`}
            >
              <td className="py-1 pl-1">
                {quote.service === view.chosen ? '● ' : ''}
                {names.services[quote.service] ?? quote.service}
                <span className="block text-small font-normal text-soft">
                  {quote.lines.map((line) => `${line.what} ${amount(line.minor)}`).join(' + ')}, zone {quote.zone},{' '}
                  {formatWeight(quote.billable)}
                </span>
              </td>
              <td className="py-1 text-right whitespace-nowrap">{shortDay(quote.arrivesOn)}</td>
              <td className="w-20 py-1 pr-1 text-right">{euros(quote.cost)}</td>
            </tr>
          ))}
          {view.refusals.map((refusal) => (
            <tr key={refusal.service} className="border-b border-hair/60 text-soft">
              <td className="py-1 pl-1" colSpan={3}>
                {names.services[refusal.service] ?? refusal.service} {refusal.sentence}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Section>
  )
}

/** What the label costs beside what the buyer paid for it. */
function Margin({ paid, cost }: { paid: number; cost: number }) {
  if (paid === cost) return <>, as much as the label costs</>
  return (
    <>
      ,{' '}
      <span className={toneOfCost(cost - paid)}>
        {euros(Math.abs(cost - paid))} {cost > paid ? 'less' : 'more'}
      </span>{' '}
      than the label costs
    </>
  )
}

function Labels({ view, names }: { view: OrderView; names: DeskNames }) {
  const [asking, setAsking] = useState<number | null>(null)
  const print = usePrintProfile()
  const client = useQueryClient()
  const change = useChange(['order', view.row.id])
  const say = useSay()
  if (view.labels.length === 0) return null
  const label = view.labels.find((candidate) => candidate.id === asking)
  const voidIt = async (): Promise<void> => {
    await change(
      () => call('POST /api/dispatch/labels/:id/void', { path: { id: String(asking) }, body: {} }),
      () => say('The carrier is asked to void the label'),
    )
    setAsking(null)
  }
  return (
    <Section title="Labels">
      {view.labels.map((row) => (
        <div key={row.id} className="border-b border-hair/60 py-1.5">
          <p className="flex items-center gap-2">
            <StateMark state={row.state} />
            <span>{names.services[row.service] ?? row.service}</span>
            <b className="ml-auto">{euros(row.charged ?? row.quoted)}</b>
          </p>
          {row.parcels.map((parcel, i) => (
            <p key={parcel.number} className="font-mono text-small">
              {row.parcels.length > 1 && (
                <span className="font-sans text-soft">
                  {i + 1} of {row.parcels.length}{' '}
                </span>
              )}
              {parcel.number}
              <span className="font-sans text-soft"> {parcel.status}</span>
              {parcel.returnNumber && (
                <span className="block">
                  <span className="font-sans text-soft">return label </span>
                  {parcel.returnNumber}
                </span>
              )}
            </p>
          ))}
          {row.problem && <p className="text-wait">{row.problem}</p>}
          {row.state === 'bought' && (
            <p className="mt-1 flex gap-2">
              <PrintButton
                className="rounded-[3px] border border-act px-2.5 py-0.5 text-act hover:bg-act-soft"
                endpoint="POST /api/dispatch/labels/:id/print"
                id={row.id}
                profile={print.profile}
                onPrinted={() => void client.invalidateQueries({ queryKey: ['order', view.row.id] })}
              >
                {row.printed_at ? 'Print again' : 'Print slip and label'}
              </PrintButton>
              {(row.status ?? 'announced') === 'announced' && (
                <Button kind="danger" className="py-0.5" onClick={() => setAsking(row.id)}>
                  Void
                </Button>
              )}
            </p>
          )}
        </div>
      ))}
      <Confirm
        open={label !== undefined}
        danger
        title={`Void the label of ${view.row.number}?`}
        action={`Void, ${euros(label?.charged)} back`}
        onClose={() => setAsking(null)}
        onConfirm={() => void voidIt()}
      >
        The carrier is asked to take back <span className="font-mono">{label?.tracking_number}</span>. The order returns
        to the Desk, {euros(label?.charged)} stand as a pending refund, and nothing more is sent for this label.
      </Confirm>
    </Section>
  )
}
