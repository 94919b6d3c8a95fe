'use client'
import { useQuery } from '@tanstack/react-query'
import { LayoutGrid, Printer, Undo2, X } from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { count, homeMoney } from '../../kit/format'
import type { DeskNames } from '@/usecases/desk/showDesk'
import type { BenchDay } from '@/usecases/dispatch/bench/showBench'
import { Packing } from '../../desk/order/Packing'
import { PrintButton } from '../PrintButton'
import { usePrintProfile } from '../printProfile'
import { FloorBack } from '../FloorBack'
import { Band } from '../Band'
import { AsideForm } from './AsideForm'
import { BenchLines } from './BenchLines'
import { BenchName } from './BenchName'
import { BenchPrinter, LastPrint } from './BenchPrinter'
import { Places } from './Places'
import { ScanField } from '../ScanField'
import { type Bench as BenchOf, useBench } from './useBench'
import { usePrint, usePrinting } from './usePrinting'
import { WeighForm } from './WeighForm'

/** A bench, on the whole screen: what was scanned last, what belongs in the parcel, and what to watch for. */
export function Bench({ names }: { names: DeskNames }) {
  const [name, setName] = useState<string | null>(null)
  useEffect(() => setName(localStorage.getItem(keptName) ?? ''), [])
  if (name === null) return null
  return name === '' ? (
    <BenchName
      onName={(given) => {
        localStorage.setItem(keptName, given)
        setName(given)
      }}
    />
  ) : (
    <OpenBench
      key={name}
      name={name}
      names={names}
      onLeave={() => {
        localStorage.removeItem(keptName)
        setName('')
      }}
    />
  )
}

const keptName = 'gharry.bench.name.1'

function OpenBench({ name, names, onLeave }: { name: string; names: DeskNames; onLeave: () => void }) {
  const bench = useBench(name)
  const { state, offline, busy, elsewhere } = bench
  const { view, stopped } = state
  const field = useRef<HTMLInputElement>(null)
  const [asking, setAsking] = useState(false)
  const [printer, setPrinter] = useState(false)
  const day = useDay(name, `${view?.check} ${view?.state}`)
  usePrinting(name, day?.settings, view)
  return (
    <div className="flex h-dvh flex-col bg-paper">
      <header className="flex items-center gap-3 border-b border-hair bg-sheet px-4 py-2 max-[599px]:flex-wrap max-[599px]:gap-y-0 max-[599px]:px-2">
        <FloorBack to="/dispatch" name="Dispatch" />
        <h1 className="text-lead font-bold">{name}</h1>
        <Button kind="quiet" onClick={onLeave}>
          Another bench
        </Button>
        {day && (
          <span className="text-soft">
            {count(day.checked)} {day.checked === 1 ? 'parcel' : 'parcels'} checked this shift
          </span>
        )}
        <Button
          kind="quiet"
          className={`ml-auto ${state.several ? 'bg-act-soft' : ''}`}
          aria-pressed={state.several}
          disabled={state.others.length > 0}
          title={state.others.length > 0 ? 'Finish the other parcels first' : 'Each gets a place: A, B, C …'}
          onClick={() => {
            bench.setSeveral(!state.several)
            field.current?.focus()
          }}
        >
          <LayoutGrid className="size-4" /> Several at once
        </Button>
        <Button kind="quiet" onClick={() => setPrinter(true)}>
          <Printer className="size-4" /> Printer, scale
        </Button>
        {(offline || state.kept.length > 3) && (
          <span role="status" className="bg-wait-soft px-2 py-0.5 text-wait">
            △ {offline ? 'No connection: ' : ''}
            {count(state.kept.length)} {state.kept.length === 1 ? 'scan waits' : 'scans wait'} to be sent
          </span>
        )}
      </header>
      <main id="main" className="flex min-h-0 flex-1 flex-col">
        <Band said={state.said} busy={busy} />
        {day && <LastPrint prints={day.prints} />}
        {state.several && view && (
          <Places
            state={state}
            onTurn={(place) => {
              bench.turn(place)
              field.current?.focus()
            }}
          />
        )}
        <div className="min-h-0 flex-1 overflow-auto">
          {elsewhere && (
            <p className="flex justify-center gap-3 p-6">
              <Button kind="filled" onClick={bench.takeOver}>
                Take it over
              </Button>
            </p>
          )}
          {bench.offer && (
            <p className="flex flex-wrap items-center justify-center gap-4 p-6 text-head">
              Its label costs {homeMoney(bench.offer.cost)} by{' '}
              {names.services[bench.offer.service] ?? bench.offer.service}.
              <Button kind="filled" onClick={bench.buy}>
                Buy it
              </Button>
            </p>
          )}
          {stopped && (
            <p className="flex justify-center p-4">
              <Button kind="danger" className="px-6 py-3 text-head" onClick={bench.takenOut}>
                <X className="size-6" /> It is out of the parcel
              </Button>
            </p>
          )}
          {view ? (
            <Open name={name} settings={day?.settings} bench={bench} onAside={() => setAsking(true)} />
          ) : (
            <Waiting day={day} />
          )}
          {printer && day && <BenchPrinter bench={name} settings={day.settings} onClose={() => setPrinter(false)} />}
          {asking && view && (
            <AsideForm
              number={view.number}
              onAside={async (why, short) => {
                if (await bench.aside(why, short)) setAsking(false)
                field.current?.focus()
              }}
              onClose={() => setAsking(false)}
            />
          )}
        </div>
        <ScanField ref={field} typed={state.typed} onScan={bench.scan} held={asking || printer} />
      </main>
    </div>
  )
}

/** The parcel that is open. */
function Open({
  name,
  settings,
  bench,
  onAside,
}: {
  name: string
  settings: BenchDay['settings'] | undefined
  bench: BenchOf
  onAside: () => void
}) {
  const printHere = usePrint(name)
  const { view, counted } = bench.state
  const print = usePrintProfile()
  if (!view) return null
  const { parcel } = view
  return (
    <div className="grid gap-4 p-4 min-[900px]:grid-cols-[1fr_22rem]">
      <div>
        <BenchLines lines={parcel.lines} counted={counted} pictures={view.pictures} />
        <section aria-label="How it is packed" className="mt-5">
          <h2 className="mb-2 border-b border-hair pb-1 text-small text-soft">How it is packed</h2>
          <Packing order={view.order} />
        </section>
      </div>
      <section aria-label="The parcel" className="grid content-start gap-3">
        <div>
          <p className="font-mono text-head">{view.number}</p>
          <p>{view.to}</p>
          <p className="text-soft">
            {view.service}, {parcel.preset}
            {parcel.of > 1 && `, parcel ${parcel.position} of ${parcel.of}`}
          </p>
        </div>
        {view.watch.length > 0 && (
          <ul aria-label="Watch for" className="grid gap-1">
            {view.watch.map((words) => (
              <li key={words} className="bg-wait-soft px-3 py-1.5 text-lead font-semibold text-wait">
                △ {words}
              </li>
            ))}
          </ul>
        )}
        {view.inserts.length > 0 && (
          <p className="bg-act-soft px-3 py-1.5 text-lead">
            Put in: <b className="font-semibold">{view.inserts.join(', ')}</b>
          </p>
        )}
        <WeighForm view={view} scale={settings?.scale ? name : null} onWeigh={bench.weigh} />
        <p className="flex flex-wrap gap-2">
          <Button onClick={() => bench.undo()}>
            <Undo2 className="size-4" /> Undo the last scan
          </Button>
          {view.state === 'open' && <Button onClick={onAside}>Put aside</Button>}
          {settings && settings.printer !== 'none' ? (
            <Button onClick={() => printHere(view.label)}>Print its papers</Button>
          ) : (
            <PrintButton
              endpoint="POST /api/dispatch/labels/:id/print"
              id={view.label}
              profile={print.profile}
              className="rounded-[3px] border border-act px-3 py-1 text-act hover:bg-act-soft"
            >
              Print its papers
            </PrintButton>
          )}
        </p>
      </section>
    </div>
  )
}

/** What the server knows of this bench: its shift, its printer, what was put aside. */
function useDay(name: string, stamp: string): BenchDay | undefined {
  const { data } = useQuery({
    queryKey: ['bench', name, stamp],
    queryFn: () => call('GET /api/dispatch/bench', { query: { bench: name } }),
    placeholderData: (before) => before,
    refetchInterval: (query) => (query.state.data?.prints.some(({ state }) => state === 'queued') ? 1000 : 15_000),
    meta: { quiet: true },
  })
  return data
}

/** While nothing is open: what was put aside, so that nothing is forgotten. */
function Waiting({ day }: { day: BenchDay | undefined }) {
  if (!day || day.aside.length === 0) return null
  return (
    <section aria-label="Put aside" className="p-4">
      <h2 className="border-b border-hair pb-1 text-lead">Put aside, and not checked since</h2>
      <ul>
        {day.aside.map(({ number, bench, why }) => (
          <li key={number + why} className="flex gap-3 border-b border-hair/60 py-1.5">
            <span className="font-mono">{number}</span>
            <span className="min-w-0 flex-1">{why}</span>
            <span className="text-soft">{bench}</span>
          </li>
        ))}
      </ul>
    </section>
  )
}
