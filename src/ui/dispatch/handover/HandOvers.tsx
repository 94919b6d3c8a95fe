'use client'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import Link from 'next/link'
import type { DeskNames } from '@/usecases/desk/showDesk'
import type { DoorLine, ManifestLine, ManifestsView } from '@/usecases/dispatch/door/showManifests'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { count, shortDay, weightText } from '../../kit/format'
import { Pager } from '../../kit/Pager'
import { Plain } from '../../kit/Screen'
import { StateMark } from '../../kit/StateMark'
import { useSkip } from '../../kit/useSkip'
import { useChange } from '../../kit/useChange'
import { When } from '../../kit/When'
import { DispatchHead } from '../DispatchHead'
import { PrintButton } from '../PrintButton'
import { usePrintProfile } from '../printProfile'
import { LeftBehind } from './LeftBehind'

/** The lorries of today, what should have left before, and the manifests that were closed. */
export function HandOvers({ initial, names }: { initial: ManifestsView; names: DeskNames }) {
  const [skip, setSkip] = useSkip()
  const { data = initial } = useQuery({
    queryKey: ['manifests', skip],
    queryFn: () => call('GET /api/dispatch/manifests', { query: { skip: String(skip) } }),
    initialData: skip === 0 ? initial : undefined,
    placeholderData: keepPreviousData,
    refetchInterval: (query) => (query.state.data?.manifests.some(({ state }) => state === 'queued') ? 1000 : 5000),
  })
  return (
    <div className="flex h-full flex-col">
      <DispatchHead at="handover" about="Load a lorry by scan, and close its manifest" />
      <div className="min-h-0 flex-1 overflow-auto px-5 pb-8" tabIndex={0} role="region" aria-label="Hand-over">
        <LeftBehind parcels={data.leftBehind} names={names} />
        <Doors doors={data.doors} names={names} />
        <h2 className="mt-5 mb-1 text-lead">Closed manifests</h2>
        {data.closed === 0 ? (
          <Plain title="No manifest yet">
            Open the door of a lorry, scan what leaves with it, and close it: its list goes to the carrier.
          </Plain>
        ) : (
          <>
            <Manifests manifests={data.manifests} names={names} />
            <Pager {...{ skip, size: data.pageSize, total: data.closed }} onSkip={setSkip} />
          </>
        )}
      </div>
    </div>
  )
}

function Doors({ doors, names }: { doors: readonly DoorLine[]; names: DeskNames }) {
  return (
    <section aria-label="Lorries">
      <h2 className="mt-3 mb-1 text-lead">To be handed over</h2>
      {doors.length === 0 ? (
        <p className="border-y border-hair py-3 text-soft">
          Nothing that is bought stands here.{' '}
          <Link className="text-act underline" href="/door">
            Open a door
          </Link>{' '}
          all the same.
        </p>
      ) : (
        <table className="w-full bg-sheet">
          <thead>
            <tr className="border-y border-hair text-small text-soft">
              <th className="px-3 py-1.5">From</th>
              <th>Carrier</th>
              <th className="text-right">By today</th>
              <th className="px-6 text-right">Later</th>
              <th className="px-6 text-right">On the lorry</th>
              <th>
                <span className="sr-only">Open</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {doors.map(({ carrier, location, manifest, parcels, waiting, later, next }) => (
              <tr key={`${carrier} ${location}`} className="border-b border-hair/70 hover:bg-tint">
                <td className="px-3 py-1">{names.locations[location] ?? location}</td>
                <td>{names.carriers[carrier] ?? carrier}</td>
                <td className="text-right">{count(waiting)}</td>
                <td className="px-6 text-right whitespace-nowrap">
                  {later === 0 ? (
                    <span className="text-soft">–</span>
                  ) : (
                    <>
                      <span className="text-soft">from {shortDay(next)}</span> {count(later)}
                    </>
                  )}
                </td>
                <td className="px-6 text-right">{manifest === null ? '–' : count(parcels)}</td>
                <td className="pr-3 text-right">
                  <Link
                    className="inline-flex min-h-[24px] items-center text-act underline decoration-hair underline-offset-4"
                    href={`/door?${new URLSearchParams({ carrier, location }).toString()}`}
                  >
                    {manifest === null ? 'Open the door' : 'Go on loading'}
                  </Link>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  )
}

function Manifests({ manifests, names }: { manifests: readonly ManifestLine[]; names: DeskNames }) {
  const print = usePrintProfile()
  return (
    <table className="w-full bg-sheet">
      <thead>
        <tr className="border-y border-hair text-small text-soft">
          <th className="px-3 py-1.5">Manifest</th>
          <th>Closed</th>
          <th>From, by</th>
          <th className="text-right">Parcels</th>
          <th className="px-3 text-right">Weight</th>
          <th>Driver</th>
          <th className="px-3">At the carrier</th>
          <th>
            <span className="sr-only">Print</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {manifests.map((row) => (
          <tr key={row.id} className="border-b border-hair/70 hover:bg-tint">
            <td className="px-3 py-1 font-semibold">M{row.id}</td>
            <td className="whitespace-nowrap">
              <When at={row.closedAt} />
            </td>
            <td>
              {names.locations[row.location] ?? row.location}{' '}
              <span className="text-soft">{names.carriers[row.carrier] ?? row.carrier}</span>
            </td>
            <td className="text-right">{count(row.parcels)}</td>
            <td className="px-3 text-right whitespace-nowrap">{weightText(row.weight)}</td>
            <td>
              {row.driver || <span className="text-soft">–</span>}
              {row.signed && <span className="text-soft">, signed</span>}
            </td>
            <td className="px-3">
              <AtCarrier row={row} />
            </td>
            <td className="pr-3 text-right">
              <PrintButton
                endpoint="POST /api/dispatch/manifests/:id/print"
                id={row.id}
                profile={print.profile}
                className="min-h-[24px] px-1.5 text-act hover:bg-act-soft"
              >
                Print
              </PrintButton>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

/** Whether the carrier has the list, and what it calls it. */
function AtCarrier({ row }: { row: ManifestLine }) {
  const change = useChange(['manifests'], ['line'])
  if (row.state === 'kept') return <span className="text-soft">on paper</span>
  if (row.state === 'sent') return <span className="font-mono text-small">{row.confirmation}</span>
  if (row.state === 'queued')
    return <span className="text-soft">{row.problem ? `being sent: ${row.problem}` : 'being sent …'}</span>
  return (
    <span className="flex items-center gap-2">
      <StateMark state="failed" />
      <span className="text-lost">{row.problem}</span>
      <Button
        kind="quiet"
        onClick={() =>
          change(() => call('POST /api/dispatch/manifests', { body: { again: row.id } }), 'It is sent again')
        }
      >
        Send again
      </Button>
    </span>
  )
}
