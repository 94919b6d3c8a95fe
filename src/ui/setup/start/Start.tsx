'use client'
import { useQuery } from '@tanstack/react-query'
import Link from 'next/link'
import { useRouter } from 'next/navigation'
import type { ReactNode } from 'react'
import { ruleSentence, type Rule } from '@/core/rulebook/language'
import { emptyWorld } from '@/core/world'
import { type SetupStep, type SetupView } from '@/usecases/setup/showSetup'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { useChange } from '../../kit/useChange'
import { SetupHead } from '../SetupHead'
import { useSetup } from '../useSetup'
import { starters } from './starters'

interface Step {
  readonly id: SetupStep
  readonly name: string
  readonly why: string
  readonly there: (view: SetupView) => readonly string[]
  readonly ways: readonly (readonly [href: string, name: string])[]
}

const named = (list: readonly { readonly name: string; readonly retired?: boolean }[]): string[] =>
  list.filter(({ retired }) => !retired).map(({ name }) => name)

const steps: readonly Step[] = [
  {
    id: 'seller',
    name: 'Seller',
    why: 'Your name, the currency of your books, pounds or kilograms, and the paper in your printers.',
    there: ({ seller, done }) => (done.seller ? [[seller.seller.name, seller.home].filter(Boolean).join(', ')] : []),
    ways: [['/setup/seller', 'Say who sells']],
  },
  {
    id: 'location',
    name: 'Location',
    why: 'Where parcels leave from: its address is on labels, and its clocks say what is too late for today.',
    there: ({ locations }) => named(locations),
    ways: [['/setup/locations?add=true', 'Add a location']],
  },
  {
    id: 'carrier',
    name: 'Carrier and account',
    why: 'Who takes the parcels, and the account that labels are bought with.',
    there: ({ carriers, accounts }) => named(carriers.filter(({ id }) => (accounts[id] ?? 0) > 0)),
    ways: [
      ['/setup/carriers?add=true', 'Add a carrier'],
      ['/intake/connections?open=new-carrier', 'Connect an account'],
    ],
  },
  {
    id: 'service',
    name: 'Service and prices',
    why: 'What a carrier takes, where it goes, when it collects and what it costs: asked of the carrier, from a file, or typed.',
    there: ({ services }) => named(services),
    ways: [
      ['/setup/carriers', 'Ask the carrier'],
      ['/setup/services?add=true', 'Type one'],
      ['/ledger/tariffs', 'Prices from a file'],
    ],
  },
  {
    id: 'preset',
    name: 'Packages',
    why: 'The boxes and bags at your benches: goods are packed into them, so that weights and sizes are right.',
    there: ({ presets }) => named(presets),
    ways: [['/setup/presets?add=true', 'Add a package']],
  },
  {
    id: 'channel',
    name: 'Orders',
    why: 'Where orders come from: a channel, a file, or your own hands.',
    there: ({ channels }) => channels.map(({ name }) => name),
    ways: [
      ['/intake/connections?open=new-channel', 'Connect a channel'],
      ['/intake', 'Drop a file'],
      ['/desk?new=true', 'Type an order'],
    ],
  },
  {
    id: 'rule',
    name: 'First rule',
    why: 'Without rules everything goes by the cheapest service. Take one of these, see what it does, and publish.',
    there: ({ done }) => (done.rule ? ['There are rules'] : []),
    ways: [['/rules', 'Write one']],
  },
]

/** From nothing to the first label: each step says what is there and what is missing, and can be left at any time. */
export function Start({ initial }: { initial: SetupView }) {
  const view = useSetup(initial)
  const next = steps.find(({ id }) => !view.done[id])?.id
  const done = steps.filter(({ id }) => view.done[id]).length
  return (
    <div className="flex h-full flex-col">
      <SetupHead
        at="start"
        about={next ? `${done} of ${steps.length} steps are done` : 'All is there: buy labels at the Desk'}
      />
      <div className="panes min-h-0 flex-1 [--panes:1fr_380px] border-t border-hair">
        <ol className="min-h-0 overflow-auto px-5 py-4" tabIndex={0} aria-label="Steps to the first label">
          {steps.map((step, i) => (
            <StepRow key={step.id} step={step} view={view} next={step.id === next} last={i === steps.length - 1}>
              {step.id === 'rule' && !view.done.rule && view.done.service && <Starters view={view} />}
            </StepRow>
          ))}
        </ol>
        <StandIns />
      </div>
    </div>
  )
}

function StepRow({
  step: { id, name, why, there, ways },
  view,
  next,
  last,
  children,
}: {
  step: Step
  view: SetupView
  next: boolean
  last: boolean
  children: ReactNode
}) {
  const done = view.done[id]
  const found = there(view)
  return (
    <li className="relative flex gap-4 pb-5" aria-current={next ? 'step' : undefined}>
      {!last && <span aria-hidden className="absolute top-4 bottom-0 left-[5px] w-px bg-hair" />}
      <span aria-hidden className={`z-10 mt-1.5 size-[11px] shrink-0 rotate-45 border-2 ${markOf(done, next)}`} />
      <div className="min-w-0">
        <h2 className="text-lead">
          {name}
          <span className={`ml-2 text-small font-normal ${done ? 'text-done' : 'text-soft'}`}>
            {saidOf(done, next)}
          </span>
        </h2>
        {found.length > 0 && (
          <p>
            {found.slice(0, 6).join(', ')}
            {found.length > 6 && ` and ${found.length - 6} more`}
          </p>
        )}
        {!done && <p className="max-w-prose text-soft">{why}</p>}
        {children}
        <p className="mt-1 flex flex-wrap gap-x-4">
          {ways.map(([href, way], i) => (
            <Link
              key={href}
              href={href}
              className={
                next && i === 0
                  ? 'mr-1 inline-flex rounded-[3px] bg-act px-3.5 py-1.5 font-semibold text-on-act hover:opacity-90'
                  : 'inline-flex min-h-[24px] items-center text-act underline decoration-hair underline-offset-4'
              }
            >
              {way}
            </Link>
          ))}
        </p>
      </div>
    </li>
  )
}

function saidOf(done: boolean, next: boolean): string {
  if (done) return '● there'
  return next ? 'next' : ''
}

function markOf(done: boolean, next: boolean): string {
  if (done) return 'border-done bg-done'
  return next ? 'border-act bg-act' : 'border-hair bg-paper'
}

const words = (view: SetupView) => ({
  groups: [],
  world: {
    ...emptyWorld,
    rates: { home: view.seller.home, micro: {} },
    services: view.services,
    presets: view.presets,
    locations: view.locations,
  },
  channels: view.channels,
})

/** Rules to begin with: one is taken into the draft, where the trial shows what it does. */
function Starters({ view }: { view: SetupView }) {
  const router = useRouter()
  const change = useChange(['rulebook'], ['setup'])
  const take = (rule: Omit<Rule, 'id'>): Promise<boolean> =>
    change(
      async () => {
        const { draft, revision } = await call('GET /api/rules/rulebook')
        const id = `r-${crypto.randomUUID().slice(0, 8)}`
        await call('PUT /api/rules/rulebook', {
          body: { rulebook: { ...draft, rules: [...draft.rules, { ...rule, id }] }, revision },
        })
      },
      () => router.push('/rules?trial=true'),
    )
  return (
    <ul className="my-2 max-w-2xl border-t border-hair">
      {starters(view.seller.home).map((rule) => (
        <li key={rule.name} className="flex items-baseline gap-3 border-b border-hair/60 py-1.5">
          <span className="min-w-0 flex-1">
            <b className="font-semibold">{rule.name}</b>{' '}
            <span className="text-soft">{ruleSentence({ ...rule, id: '' }, words(view))}</span>
          </span>
          <Button onClick={() => take(rule)}>Take it</Button>
        </li>
      ))}
    </ul>
  )
}

/** Simulated outsides that run here, to try everything with. */
function StandIns() {
  const { data } = useQuery({
    queryKey: ['outside'],
    queryFn: () => call('GET /api/setup/outside'),
    staleTime: 5000,
  })
  const change = useChange(['outside'], ['setup'], ['connections'])
  const offers = data?.offers ?? []
  return (
    <aside
      tabIndex={0}
      aria-label="To try with"
      className="min-h-0 overflow-auto border-l border-hair bg-sheet px-5 py-4"
    >
      <h2 className="text-lead">To try with</h2>
      {data && offers.length === 0 ? (
        <p className="text-soft">
          No simulated outside runs here. Start them with{' '}
          <code className="font-mono text-small">npm run stand-ins</code> and they can be connected with one click;
          nothing real is bought.
        </p>
      ) : (
        <p className="text-soft">Simulated outsides that run on this machine. Nothing real is bought or sent.</p>
      )}
      <ul className="mt-2">
        {offers.map(({ role, name, about, connected }) => (
          <li key={`${role} ${name}`} className="flex items-center gap-3 border-b border-hair/60 py-1.5">
            <span className="min-w-0 flex-1">
              <b className="font-semibold">{name}</b>
              <span className="block text-small text-soft">{about}</span>
            </span>
            {connected ? (
              <span className="text-done">● connected</span>
            ) : (
              <Button
                aria-label={`Connect ${name}`}
                onClick={() =>
                  change(() => call('POST /api/setup/outside', { body: { name } }), `${name} is connected`)
                }
              >
                Connect
              </Button>
            )}
          </li>
        ))}
      </ul>
    </aside>
  )
}
