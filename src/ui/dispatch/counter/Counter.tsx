'use client'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import Link from 'next/link'
import { useEffect, useRef, useState } from 'react'
import type { PickupLine } from '@/data'
import type { DeskNames } from '@/usecases/desk/showDesk'
import type { CounterView } from '@/usecases/dispatch/counter/showCounter'
import { call, sentenceOf } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Select } from '../../kit/Field'
import { count, shortDay } from '../../kit/format'
import { Plain } from '../../kit/Screen'
import { useChange } from '../../kit/useChange'
import { FloorBack } from '../FloorBack'
import { Band, type Said } from '../Band'
import { parcelCount } from '../parcelCount'
import { ScanField } from '../ScanField'
import { sound } from '../sounds'
import { HandOut } from './HandOut'

/** The counter where buyers fetch their orders, on the whole screen: put on the shelf, find, hand out. */
export function Counter({ names, locations }: { names: DeskNames; locations: readonly string[] }) {
  const [location, setLocation] = useState(locations[0] ?? '')
  useEffect(() => {
    const kept = localStorage.getItem(keptAs)
    if (kept !== null && locations.includes(kept)) setLocation(kept)
  }, [locations])
  if (location === '')
    return (
      <main id="main" className="h-dvh bg-paper">
        <Plain title="Nothing is fetched here yet">
          Make a service that “the buyer fetches where it is packed” under{' '}
          <Link className="text-act underline" href="/setup/services">
            Set-up, Services
          </Link>
          , with the connection “Own counter”.
        </Plain>
      </main>
    )
  return (
    <OpenCounter
      key={location}
      location={location}
      choice={
        locations.length < 2 ? (
          <span>{names.locations[location] ?? location}</span>
        ) : (
          <Select
            aria-label="At"
            value={location}
            onChange={(event) => {
              localStorage.setItem(keptAs, event.target.value)
              setLocation(event.target.value)
            }}
          >
            {locations.map((id) => (
              <option key={id} value={id}>
                {names.locations[id] ?? id}
              </option>
            ))}
          </Select>
        )
      }
    />
  )
}

const keptAs = 'gharry.counter.location.1'
const begin: Said = {
  tone: 'idle',
  words: 'Scan a slip to shelve it',
  more: 'or type a code, a number or a name to hand out',
}

function OpenCounter({ location, choice }: { location: string; choice: React.ReactNode }) {
  const client = useQueryClient()
  const field = useRef<HTMLInputElement>(null)
  const [said, setSaid] = useState<Said>(begin)
  /** An order that waits for its place on the shelf. */
  const [shelving, setShelving] = useState<string | null>(null)
  const [found, setFound] = useState<readonly PickupLine[]>([])
  const [handing, setHanding] = useState<PickupLine | null>(null)
  const { data: view } = useQuery({
    queryKey: ['counter', location],
    queryFn: () => call('GET /api/dispatch/counter', { query: { location } }),
    refetchInterval: 10_000,
    meta: { quiet: true },
  })
  const refresh = (): Promise<void> => client.invalidateQueries({ queryKey: ['counter', location] })
  const say = (next: Said): void => {
    setSaid(next)
    sound(next.tone)
  }
  const askPlace = (number: string): void => {
    setShelving(number)
    say({ tone: 'ask', words: `${number}: on which shelf?`, more: 'Scan or type the place.' })
  }
  const shelve = async (place: string): Promise<void> => {
    try {
      const done = await call('PUT /api/dispatch/counter/shelf', { body: { location, code: shelving!, place } })
      setShelving(null)
      say({
        tone: 'done',
        words: `${done.number} lies in ${done.place}`,
        more: done.moved ? 'It was moved; nobody is told again.' : `Its buyer is told: code ${done.code}.`,
      })
      await refresh()
    } catch (error) {
      setShelving(null)
      say({ tone: 'wrong', words: 'Not on the shelf', more: sentenceOf(error) })
    }
  }
  const find = async (words: string): Promise<void> => {
    try {
      const answer = await call('POST /api/dispatch/counter', { body: { location, words } })
      if (answer.shelve !== null) return askPlace(answer.shelve)
      setFound(answer.found)
      const [only] = answer.found
      if (only && answer.found.length === 1) setHanding(only)
      say({
        tone: 'right',
        words: only && answer.found.length === 1 ? `${only.number}: fetch it from ${only.place}` : 'Which of them?',
        more: answer.found.length === 1 ? `For ${only!.buyer}, ${parcelCount(only!.parcels)}` : '',
      })
    } catch (error) {
      say({ tone: 'wrong', words: 'Nothing found', more: sentenceOf(error) })
    }
  }
  const scan = (text: string): void => {
    setFound([])
    setHanding(null)
    void (shelving === null ? find(text) : shelve(text))
  }
  return (
    <div className="flex h-dvh flex-col bg-paper">
      <header className="flex items-center gap-3 border-b border-hair bg-sheet px-4 py-2 max-[599px]:px-2">
        <FloorBack to="/dispatch" name="Dispatch" />
        <h1 className="text-lead font-bold">Counter</h1>
        {choice}
        {view && (
          <span className="text-soft">
            {count(view.onShelf.length)} on the shelf, {count(view.toShelve.length)} to be shelved
          </span>
        )}
      </header>
      <main id="main" className="flex min-h-0 flex-1 flex-col">
        <Band said={said} />
        <div className="min-h-0 flex-1 overflow-auto p-4" tabIndex={0} role="region" aria-label="The counter">
          {shelving !== null && (
            <Button
              kind="quiet"
              onClick={() => {
                setShelving(null)
                say(begin)
              }}
            >
              Not on the shelf now
            </Button>
          )}
          {handing && (
            <HandOut
              line={handing}
              onDone={async (number) => {
                setHanding(null)
                setFound([])
                say({ tone: 'done', words: `${number} is handed out`, more: 'The channel and the buyer are told.' })
                await refresh()
              }}
              onBack={() => {
                setHanding(null)
                say(begin)
              }}
            />
          )}
          {!handing && found.length > 1 && (
            <ul aria-label="Found" className="grid gap-1">
              {found.map((line) => (
                <li key={line.labelId}>
                  <button
                    type="button"
                    className="flex min-h-11 w-full items-center gap-4 border-b border-hair bg-sheet px-3 text-left text-lead hover:bg-act-soft"
                    onClick={() => setHanding(line)}
                  >
                    <b className="w-24 font-mono">{line.place}</b>
                    <span className="w-40 font-mono">{line.number}</span>
                    <span className="min-w-0 flex-1 truncate">
                      {line.buyer}, {line.city}
                    </span>
                  </button>
                </li>
              ))}
            </ul>
          )}
          {view && !handing && found.length === 0 && <Lists view={view} location={location} onShelve={askPlace} />}
        </div>
        <ScanField
          ref={field}
          held={handing !== null}
          words={shelving === null ? 'Scan a slip; or type a code, a number, a name' : 'Scan or type the place'}
          onScan={scan}
        />
      </main>
    </div>
  )
}

/** What waits: late ones first, as they are asked about. */
function Lists({
  view,
  location,
  onShelve,
}: {
  view: CounterView
  location: string
  onShelve: (number: string) => void
}) {
  const change = useChange(['counter', location])
  const settle = (label: number, what: 'remind' | 'keep' | 'put back', done: string): Promise<boolean> =>
    change(() => call('PUT /api/dispatch/counter/late', { body: { label, what } }), done)
  return (
    <div className="grid gap-6 min-[900px]:grid-cols-[1fr_22rem]">
      <section aria-label="On the shelf">
        <h2 className="border-b border-hair pb-1 text-lead">On the shelf</h2>
        {view.onShelf.length === 0 && <p className="py-2 text-soft">Nothing waits here.</p>}
        <ul>
          {view.onShelf.map((line) => {
            const late = line.askOn <= view.today
            return (
              <li
                key={line.labelId}
                className={`flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-hair/60 py-1.5 ${late ? 'bg-wait-soft px-2' : ''}`}
              >
                <b className="w-16 font-mono">{line.place}</b>
                <span className="w-28 font-mono">{line.number}</span>
                <span className="min-w-0 flex-1 truncate">{line.buyer}</span>
                <span className={late ? 'text-wait' : 'text-soft'}>
                  {late ? '△ ' : ''}since {shortDay(line.shelvedAt)}
                </span>
                {late && (
                  <span className="flex gap-2">
                    <Button
                      onClick={() => settle(line.labelId, 'remind', `${line.number}: its buyer is written to again`)}
                    >
                      Remind
                    </Button>
                    <Button kind="quiet" onClick={() => settle(line.labelId, 'keep', 'Kept for a week more')}>
                      Keep it
                    </Button>
                    <Button
                      kind="danger"
                      onClick={() => settle(line.labelId, 'put back', `${line.number} returns to the Desk`)}
                    >
                      Put it back
                    </Button>
                  </span>
                )}
              </li>
            )
          })}
        </ul>
      </section>
      <div className="grid content-start gap-6">
        <section aria-label="To be shelved">
          <h2 className="border-b border-hair pb-1 text-lead">To be shelved</h2>
          {view.toShelve.length === 0 && <p className="py-2 text-soft">Nothing is bought to be fetched.</p>}
          <ul>
            {view.toShelve.map((line) => (
              <li key={line.labelId} className="flex items-center gap-3 border-b border-hair/60 py-1">
                <span className="w-28 font-mono">{line.number}</span>
                <span className="min-w-0 flex-1 truncate">{line.buyer}</span>
                <Button kind="quiet" aria-label={`Shelve ${line.number}`} onClick={() => onShelve(line.number)}>
                  Shelve
                </Button>
              </li>
            ))}
          </ul>
        </section>
        {view.handedOut.length > 0 && (
          <section aria-label="Handed out last">
            <h2 className="border-b border-hair pb-1 text-small text-soft">Handed out last</h2>
            <ul>
              {view.handedOut.map((line) => (
                <li key={line.labelId} className="flex gap-3 border-b border-hair/60 py-1 text-soft">
                  <span className="w-28 font-mono">{line.number}</span>
                  <span className="min-w-0 flex-1 truncate">{line.handedTo}</span>
                  <span>{shortDay(line.handedAt)}</span>
                </li>
              ))}
            </ul>
          </section>
        )}
      </div>
    </div>
  )
}
