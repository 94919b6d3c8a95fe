'use client'
import { CustomerWords } from './CustomerWords'
import { ReadOut } from './ReadOut'
import { inUnits } from '../../kit/format'
import { useQuery } from '@tanstack/react-query'
import { X } from 'lucide-react'
import dynamic from 'next/dynamic'
import { useEffect, useRef, useState } from 'react'
import { parcelsPhrase } from '@/core/packing'
import type { World } from '@/core/world'
import type { DeskNames } from '@/usecases/desk/showDesk'
import type { OrderView } from '@/usecases/desk/showOrder'
import { call, Refusal, sentenceOf } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Plain } from '../../kit/Screen'
import { StateMark } from '../../kit/StateMark'
import { BuyOne } from './BuyOne'
import { DecisionTrail } from './DecisionTrail'
import { History } from './History'
import { Labels } from './Labels'
import { OrderReturns } from './OrderReturns'
import { OwnNumber } from './OwnNumber'
import { Items, OrderFacts } from './OrderFacts'
import { Packing } from './Packing'
import { PackingCosts } from './PackingCosts'
import { Quotes } from './Quotes'
import { Section } from './Section'
import { Together } from './Together'
import { WaysOut } from '../deciding/WaysOut'
import { useChange } from '../../kit/useChange'
import { When } from '../../kit/When'

// The whole rule engine comes with it, so it is fetched when it is asked for.
const AddressPart = dynamic(() => import('./AddressPart').then((module) => module.AddressPart), {
  ssr: false,
  loading: () => <p className="text-soft">Looking at the address …</p>,
})
const WhatIf = dynamic(() => import('./WhatIf').then((module) => module.WhatIf), {
  loading: () => <p className="text-soft">Fetching the rule engine …</p>,
})

/** Everything about one order: why it is where it is, what was decided and by which rule, and what happened. */
export function OrderDrawer({
  id,
  names,
  world,
  entered,
  onClose,
  onOpen,
  onAgain,
  onWrite,
}: {
  id: number
  names: DeskNames
  world: World
  /** The keyboard opened it: the focus goes in. */
  entered: boolean
  onClose: () => void
  onOpen: (order: number) => void
  /** Types another order to the same address. */
  onAgain: () => void
  onWrite: () => void
}) {
  const { data, error, dataUpdatedAt, refetch } = useQuery({
    queryKey: ['order', id],
    queryFn: () => call('GET /api/desk/orders/:id', { path: { id: String(id) } }),
    refetchInterval: 5000,
    placeholderData: (before) => (before?.row.id === id ? before : undefined),
  })
  const gone = error instanceof Refusal && error.code === 'not-found'
  const drawer = useRef<HTMLElement>(null)
  useEffect(() => {
    if (entered) drawer.current?.focus()
  }, [entered, id])
  return (
    <aside
      ref={drawer}
      tabIndex={-1}
      aria-label="Order"
      onKeyDown={(event) => {
        // Not from a question or a list that is open above it.
        if (event.key === 'Escape' && drawer.current?.contains(event.target as Node)) onClose()
      }}
      className="beside outline-offset-[-2px]"
    >
      {data && !gone && (
        <Order
          view={data}
          names={names}
          world={world}
          onClose={onClose}
          onOpen={onOpen}
          onAgain={onAgain}
          onWrite={onWrite}
        />
      )}
      {data && !gone && error && (
        <p role="alert" className="order-first bg-lost-soft px-4 py-1.5 text-lost">
          Not fetched again since <When at={new Date(dataUpdatedAt).toISOString()} />: {sentenceOf(error)}
        </p>
      )}
      {(gone || (!data && error)) && (
        <Plain title={gone ? 'This order is gone' : 'The order cannot be shown'}>
          {error && sentenceOf(error)} <Button onClick={() => refetch()}>Try again</Button>{' '}
          <Button kind="quiet" onClick={onClose}>
            Close
          </Button>
        </Plain>
      )}
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
  onAgain,
  onWrite,
}: {
  view: OrderView
  names: DeskNames
  world: World
  onClose: () => void
  onOpen: (order: number) => void
  /** Types another order to the same address. */
  onAgain: () => void
  /** Writes to its buyer. */
  onWrite: () => void
}) {
  const { row, order } = view
  const [trying, setTrying] = useState(false)
  const [looking, setLooking] = useState(false)
  const change = useChange()
  const pinIt = (): Promise<boolean> =>
    change(
      () =>
        call('POST /api/desk/orders/:id/example', {
          path: { id: String(row.id) },
          body: { name: `${row.number}, ${row.buyer}`.slice(0, 120) },
        }),
      'Pinned as an example: a draft that decides it differently cannot be published unnoticed',
    )
  const waiting = row.state === 'attention' || row.state === 'held' || row.state === 'ready'
  const told = [
    ...(row.problem && !view.problems.some((problem) => problem.sentence === row.problem)
      ? [{ code: 'row', sentence: row.problem }]
      : []),
    ...view.problems,
  ]
  return (
    <>
      <header className="border-b border-hair px-4 py-3">
        <div className="flex items-start gap-x-2">
          <h2 className="min-w-[12ch] font-mono text-lead">{row.number}</h2>
          <span className="ml-auto flex flex-wrap items-center justify-end gap-x-1">
            {row.state === 'ready' && <BuyOne view={view} names={names} />}
            <Button kind="quiet" title="Ask or tell the buyer something by letter" onClick={onWrite}>
              Write
            </Button>
            <Button kind="quiet" title="Type another order with this address and buyer" onClick={onAgain}>
              Send again
            </Button>
            <Button
              kind="quiet"
              title="The rulebook must go on deciding for this order as it does now"
              onClick={() => pinIt()}
            >
              Pin as an example
            </Button>
          </span>
          <button
            aria-label="Close the order"
            className="grid size-[24px] shrink-0 place-items-center text-soft hover:text-act"
            onClick={onClose}
          >
            <X className="size-4" />
          </button>
        </div>
        <p className="mt-0.5 flex w-full items-center gap-2 whitespace-nowrap">
          <StateMark state={row.state} />
          <span className="truncate text-soft">
            {names.channels[row.channelId] ?? row.channelId}, placed <When at={row.placedAt} />
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
        <CustomerWords view={view} />
        <ReadOut view={view} names={names} />
        {told.length > 0 && waiting && (
          <ul className="mt-3 bg-wait-soft p-2.5">
            {told.map((problem) => (
              <li key={problem.code + problem.sentence} className="py-0.5">
                {inUnits(problem.sentence)}
              </li>
            ))}
          </ul>
        )}
        {view.problems.length === 0 && row.state === 'attention' && row.problem && (
          <p className="mt-3 bg-wait-soft p-2.5">{row.problem}</p>
        )}
        {row.state === 'attention' && (
          <WaysOut orders={[row.id]} names={names} stamp={`${view.decidedAt} ${row.state}`} />
        )}
        <Together view={view} names={names} waiting={waiting} onOpen={onOpen} />
        <Section title="Ships to">
          <AddressPart order={row.id} waiting={waiting} />
        </Section>
        <Items items={order.items} />
        {view.parcels.length > 0 && (
          <details className="mt-4" onToggle={(event) => setLooking((event.target as HTMLDetailsElement).open)}>
            <summary className="cursor-pointer border-b border-hair pb-1 text-small text-act">
              How it is packed: {inUnits(parcelsPhrase(view.parcels, (preset) => names.presets[preset] ?? preset))}
            </summary>
            <div className="pt-2">
              {view.packings.length > 1 && <PackingCosts view={view} names={names} />}
              {looking && <Packing order={row.id} />}
            </div>
          </details>
        )}
        <Quotes view={view} names={names} />
        <DecisionTrail view={view} names={names} world={world} waiting={waiting} />
        {waiting && (
          <details className="mt-4" onToggle={(event) => setTrying((event.target as HTMLDetailsElement).open)}>
            <summary className="cursor-pointer border-b border-hair pb-1 text-small text-act">
              What if, and why not
            </summary>
            <div className="pt-2">{trying && <WhatIf id={row.id} order={order} />}</div>
          </details>
        )}
        <Labels view={view} names={names} />
        <OrderReturns view={view} />
        {waiting && <OwnNumber order={row.id} names={names} />}
        <OrderFacts view={view} />
        <History view={view} />
      </div>
    </>
  )
}
