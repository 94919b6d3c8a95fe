'use client'
import { useQuery } from '@tanstack/react-query'
import { Settings2 } from 'lucide-react'
import Link from 'next/link'
import { usePathname, useRouter } from 'next/navigation'
import type { LineView } from '@/usecases/shared/showLine'
import { call } from '../kit/api'
import { count } from '../kit/format'
import { KeyHelp } from '../kit/KeyHelp'
import { Find } from '../find/Find'
import { useKeys } from '../kit/useKeys'
import { keysOf } from './screenKeys'
import type { Permission } from '@/core/people'
import { PersonMenu } from '../people/PersonMenu'
import { useMay } from '../kit/person'

type InWords = readonly [one: string, several: string]
/** What is counted at a stop, in words. */
interface Stop {
  readonly id: keyof LineView
  readonly name: string
  readonly what: InWords
  readonly stuck: InWords | null
}
const stopOf = (id: Stop['id'], name: string, what: InWords, stuck: InWords | null): Stop => ({ id, name, what, stuck })
const allStops: readonly Stop[] = [
  stopOf(
    'intake',
    'Intake',
    ['import running', 'imports running'],
    ['import or connection that needs a person', 'imports or connections that need a person'],
  ),
  stopOf(
    'rules',
    'Rules',
    ['rule in the draft', 'rules in the draft'],
    ['edition to be published first', 'editions to be published first'],
  ),
  stopOf('desk', 'Desk', ['order waiting', 'orders waiting'], ['needs attention', 'need attention']),
  stopOf(
    'dispatch',
    'Dispatch',
    ['order ready or being bought', 'orders ready or being bought'],
    ['label without an answer, or refused hand-over', 'labels without an answer, or refused hand-overs'],
  ),
  stopOf(
    'tracking',
    'Tracking',
    ['parcel not delivered', 'parcels not delivered'],
    ['post, notice or hand-over failed', 'posts, notices or hand-overs failed'],
  ),
  stopOf('ledger', 'Ledger', ['refund pending', 'refunds pending'], null),
]
const counted = (n: number, [one, several]: InWords): string => `${count(n)} ${n === 1 ? one : several}`

/** What each stop needs to be seen. */
const seen: Readonly<Record<Stop['id'], Permission>> = {
  intake: 'intake.see',
  rules: 'rules.see',
  desk: 'orders.see',
  dispatch: 'labels.see',
  tracking: 'orders.see',
  ledger: 'money.see',
}

/**
 * The way of an order, which is the navigation: each stop with what waits there, and a mark where something is stuck.
 */
export function Line({ initial }: { initial: LineView }) {
  const path = usePathname()
  const may = useMay()
  const stops = allStops.filter(({ id }) => may(seen[id]))
  const router = useRouter()
  useKeys(
    Object.fromEntries(
      stops.map(({ id }) => [
        `alt+${allStops.findIndex((stop) => stop.id === id) + 1}`,
        (event: KeyboardEvent) => {
          event.preventDefault()
          router.push(`/${id}`)
        },
      ]),
    ),
  )
  const { data } = useQuery({
    queryKey: ['line'],
    queryFn: () => call('GET /api/line'),
    initialData: initial,
    refetchInterval: 4000,
    enabled: may('line.see'),
  })
  return (
    <nav
      aria-label="The line"
      className="flex h-13 shrink-0 items-center border-b border-hair bg-sheet pr-5 max-[899px]:h-10 max-[899px]:pr-2"
    >
      <a
        href="#main"
        className="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-act focus:px-3 focus:py-2 focus:text-on-act"
      >
        To the screen
      </a>
      <Link href="/desk" className="px-5 text-lead font-bold tracking-tight text-act max-[899px]:px-2">
        Gharry
      </Link>
      <ol className="flex min-w-0 flex-1 items-center">
        {stops.map((stop, i) => {
          const { count: waiting, stuck } = data[stop.id]
          const here = path.startsWith(`/${stop.id}`)
          return (
            <li key={stop.id} className={`flex items-center ${i === 0 ? '' : 'flex-1'}`}>
              {i > 0 && <span aria-hidden className="mx-1 h-px flex-1 bg-hair max-[899px]:mx-0" />}
              <Link
                href={`/${stop.id}`}
                aria-current={here ? 'page' : undefined}
                title={[counted(waiting, stop.what), stuck > 0 && stop.stuck && counted(stuck, stop.stuck)]
                  .filter(Boolean)
                  .join(', ')}
                className={`flex items-center gap-2 rounded-[3px] px-2 py-1 max-[899px]:gap-1 max-[899px]:px-1 ${here ? 'bg-act text-on-act' : 'hover:bg-act-soft'}`}
              >
                <span
                  aria-hidden
                  className={`size-2.5 shrink-0 rotate-45 border-2 max-[699px]:hidden ${here ? 'border-on-act bg-on-act' : 'border-act bg-sheet'}`}
                />
                <span className="font-semibold">{stop.name}</span>
                <span className={`max-[1023px]:hidden ${here ? '' : 'text-soft'}`}>{count(waiting)}</span>
                {stuck > 0 && stop.stuck && (
                  <span
                    role="img"
                    className="rounded-full bg-wait-mark px-1.5 text-small font-bold text-[#231a2e]"
                    aria-label={counted(stuck, stop.stuck)}
                  >
                    {count(stuck)}
                  </span>
                )}
              </Link>
            </li>
          )
        })}
      </ol>
      {may('orders.see') && <Find />}
      <Link
        href={may('setup.see') ? '/setup' : '/setup/account'}
        aria-current={path.startsWith('/setup') ? 'page' : undefined}
        className={`ml-1 flex min-h-[24px] items-center rounded-[3px] px-2 py-1 max-[899px]:px-1 ${path.startsWith('/setup') ? 'bg-act text-on-act' : 'text-soft hover:text-act'}`}
        title="Locations, carriers, services, packages, outages"
      >
        <Settings2 className="size-4.5" aria-hidden />
        <span className="sr-only">Set-up</span>
      </Link>
      <KeyHelp keys={keysOf(path)} />
      <PersonMenu />
    </nav>
  )
}
