'use client'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useRouter, useSearchParams } from 'next/navigation'
import { useRef, useState } from 'react'
import type { DeskNames } from '@/usecases/desk/showDesk'
import type { DoorView } from '@/usecases/dispatch/door/doorView'
import { call, sentenceOf } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Field } from '../../kit/Field'
import { NamedChoice } from '../../kit/NamedChoice'
import { count, weightText } from '../../kit/format'
import { useChange } from '../../kit/useChange'
import { FloorBack } from '../FloorBack'
import { Band, type Said } from '../Band'
import { parcelCount } from '../parcelCount'
import { PrintButton } from '../PrintButton'
import { usePrintProfile } from '../printProfile'
import { ScanField } from '../ScanField'
import { sound } from '../sounds'
import { Closing } from './Closing'

/** The door to the lorry of one carrier, on the whole screen: scan what leaves, and close it. */
export function Door({ names }: { names: DeskNames }) {
  const search = useSearchParams()
  const [carrier, location] = [search.get('carrier') ?? '', search.get('location') ?? '']
  return names.carriers[carrier] !== undefined && names.locations[location] !== undefined ? (
    <OpenDoor key={`${carrier} ${location}`} carrier={carrier} location={location} names={names} />
  ) : (
    <WhichDoor names={names} />
  )
}

/** For whose lorry the door is. */
function WhichDoor({ names }: { names: DeskNames }) {
  const router = useRouter()
  const [carrier, setCarrier] = useState(Object.keys(names.carriers)[0] ?? '')
  const [location, setLocation] = useState(Object.keys(names.locations)[0] ?? '')
  return (
    <main id="main" className="relative grid h-dvh place-items-center bg-paper p-4">
      <div className="absolute top-2 left-4">
        <FloorBack to="/dispatch/handover" name="Hand-over" />
      </div>
      <form
        className="grid w-full max-w-sm gap-4 bg-sheet p-6"
        onSubmit={(event) => {
          event.preventDefault()
          router.replace(`/door?${new URLSearchParams({ carrier, location }).toString()}`)
        }}
      >
        <h1 className="text-title">Which lorry is this?</h1>
        <Field label="At">
          <NamedChoice autoFocus of={names.locations} value={location} onChange={setLocation} />
        </Field>
        <Field label="Of">
          <NamedChoice of={names.carriers} value={carrier} onChange={setCarrier} />
        </Field>
        <Button kind="filled" type="submit" className="justify-self-start">
          Open the door
        </Button>
      </form>
    </main>
  )
}

interface At {
  readonly carrier: string
  readonly location: string
}
const waitingForScan: Said = { tone: 'idle', words: 'Scan a parcel', more: 'or a pallet, to fill it' }

/** What the door shows, and what can be done at it; each scan is answered by what the server says. */
function useDoor(at: At) {
  const client = useQueryClient()
  const key = ['door', at.carrier, at.location]
  const { data: view } = useQuery({
    queryKey: key,
    queryFn: () => call('GET /api/dispatch/door', { query: { ...at } }),
    refetchInterval: 10_000,
    meta: { quiet: true },
  })
  const [said, setSaid] = useState<Said>(waitingForScan)
  const [container, setContainer] = useState<string | null>(null)
  const line = useRef<Promise<void>>(Promise.resolve())
  const put = (next: DoorView): void => void client.setQueryData(key, next)
  const say = (next: Said): void => {
    setSaid(next)
    sound(next.tone)
  }
  const held = useRef<string | null>(null)
  const scanOne = async (code: string): Promise<void> => {
    try {
      const answer = await call('POST /api/dispatch/door/scans', { body: { ...at, code, container: held.current } })
      put(answer.view)
      held.current = answer.said.container
      setContainer(answer.said.container)
      const { verdict, words, more } = answer.said
      say({
        tone: { right: 'right', again: 'ask', container: 'done', wrong: 'wrong' }[verdict] as Said['tone'],
        words,
        more,
      })
    } catch (error) {
      say({ tone: 'wrong', words: 'Not counted: scan it again', more: sentenceOf(error) })
    }
  }
  return {
    ...{ view, said, container, put, say },
    /** In the order in which they were made. */
    scan: (code: string): void => void (line.current = line.current.then(() => scanOne(code))),
    fill: (code: string | null): void => {
      held.current = code
      setContainer(code)
    },
  }
}

function OpenDoor({ carrier, location, names }: At & { names: DeskNames }) {
  const at = { carrier, location }
  const door = useDoor(at)
  const { view, container } = door
  const field = useRef<HTMLInputElement>(null)
  const [closing, setClosing] = useState(false)
  const change = useChange(['door', carrier, location])
  const close = (driver: string, signature: number[][]): Promise<boolean> =>
    change(
      () =>
        call('POST /api/dispatch/door', {
          body: { manifest: view!.manifest!, driver, signature, leaving: view!.leaving, parcels: view!.parcels },
        }),
      ({ parcels }) => {
        setClosing(false)
        door.fill(null)
        door.say({ tone: 'done', words: `Closed: ${parcelCount(parcels)}`, more: 'The manifest is under Hand-over.' })
      },
    )
  return (
    <div className="flex h-dvh flex-col bg-paper">
      <header className="flex items-center gap-3 border-b border-hair bg-sheet px-4 py-2 max-[599px]:flex-wrap max-[599px]:gap-y-0 max-[599px]:px-2">
        <FloorBack to="/dispatch/handover" name="Hand-over" />
        <h1 className="text-lead font-bold">
          {names.carriers[carrier]}, {names.locations[location]}
        </h1>
        {view && (
          <span className="text-soft">
            {parcelCount(view.parcels)} on the lorry, {weightText(view.weight)}; {count(view.leaving)} still here
            {view.later > 0 && `, ${count(view.later)} for later days`}
          </span>
        )}
        <Button
          className="ml-auto"
          disabled={!view || view.manifest === null || view.parcels === 0 || closing}
          onClick={() => {
            setClosing(true)
            door.say({ tone: 'idle', words: 'Close the door', more: 'What stays here, and who takes the rest' })
          }}
        >
          Close the door …
        </Button>
      </header>
      <main id="main" className="flex min-h-0 flex-1 flex-col">
        <Band said={door.said} />
        <div className="min-h-0 flex-1 overflow-auto" tabIndex={0} role="region" aria-label="The lorry">
          {view && closing && (
            <Closing
              view={view}
              onClosed={close}
              onBack={() => {
                setClosing(false)
                door.say(waitingForScan)
              }}
            />
          )}
          {view && !closing && <OnLorry at={at} view={view} filling={container} door={door} />}
        </div>
        <ScanField ref={field} held={closing} words="Scan a parcel or a container" onScan={door.scan} />
      </main>
    </div>
  )
}

function OnLorry({
  at,
  view,
  filling,
  door,
}: {
  at: At
  view: DoorView
  filling: string | null
  door: ReturnType<typeof useDoor>
}) {
  const change = useChange()
  const print = usePrintProfile()
  const add = (): Promise<boolean> =>
    change(
      () => call('POST /api/dispatch/door/containers', { body: at }),
      ({ code, view: next }) => {
        door.put(next)
        door.fill(code)
        door.say({ tone: 'done', words: `Into ${code}`, more: 'Print its label, and stick it on.' })
      },
    )
  return (
    <div className="grid gap-6 p-4 min-[900px]:grid-cols-[1fr_22rem]">
      <section aria-label="Scanned last">
        <h2 className="border-b border-hair pb-1 text-small text-soft">Scanned last</h2>
        {view.last.length === 0 ? (
          <p className="py-3 text-soft">
            Nothing is on it yet; {view.leaving === 1 ? '1 parcel is' : `${count(view.leaving)} parcels are`} to leave
            with it.
          </p>
        ) : (
          <ul>
            {view.last.map((parcel) => (
              <li
                key={`${parcel.labelId} ${parcel.position}`}
                className="flex items-center gap-3 border-b border-hair/60 py-1.5"
              >
                <span className="w-36 font-mono">{parcel.number}</span>
                <span className="min-w-0 flex-1 truncate text-soft">
                  {parcel.country} {parcel.city}
                </span>
                {parcel.container && <span className="font-mono text-small text-soft">{parcel.container}</span>}
                <Button
                  kind="quiet"
                  aria-label={`Take ${parcel.number} off`}
                  onClick={() =>
                    change(
                      () =>
                        call('DELETE /api/dispatch/door/scans', {
                          body: { manifest: view.manifest!, label: parcel.labelId, position: parcel.position },
                        }),
                      ({ view: next }) => {
                        door.put(next)
                        door.say({ tone: 'ask', words: `${parcel.number} is off`, more: 'It stays here.' })
                      },
                    )
                  }
                >
                  Take it off
                </Button>
              </li>
            ))}
          </ul>
        )}
      </section>
      <section aria-label="Containers">
        <h2 className="border-b border-hair pb-1 text-small text-soft">Pallets, cages, sacks</h2>
        <ul>
          {view.containers.map(({ id, code, parcels }) => (
            <li key={id} className="border-b border-hair/60">
              <button
                type="button"
                aria-pressed={filling === code}
                className={`flex min-h-[36px] w-full items-center gap-3 px-2 text-left hover:bg-tint ${filling === code ? 'bg-act-soft' : ''}`}
                onClick={() => door.fill(filling === code ? null : code)}
              >
                <span className="font-mono">{code}</span>
                <span className="ml-auto text-soft">
                  {parcelCount(parcels)}
                  {filling === code && <b className="ml-2 text-act">filling</b>}
                </span>
              </button>
            </li>
          ))}
        </ul>
        <p className="mt-2 flex flex-wrap gap-2">
          <Button onClick={add}>New container</Button>
          {view.containers.length > 0 && view.manifest !== null && (
            <PrintButton
              endpoint="POST /api/dispatch/manifests/:id/containers"
              id={view.manifest}
              profile={print.profile}
              className="rounded-[3px] border border-act px-3 py-1 text-act hover:bg-act-soft"
            >
              Print their labels
            </PrintButton>
          )}
        </p>
        {view.containers.length === 0 && (
          <p className="mt-2 text-small text-soft">Without one, parcels go on the lorry as they are.</p>
        )}
      </section>
    </div>
  )
}
