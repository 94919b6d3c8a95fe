'use client'
import { useQuery } from '@tanstack/react-query'
import { useRef, useState } from 'react'
import type { CollectionTerms } from '@/adapters'
import type { CollectionPlan, CollectionRow } from '@/data'
import type { CollectionCell, CollectionLane } from '@/usecases/dispatch/collections/showCollections'
import { call, sentenceOf } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Field, TextArea, TextInput } from '../../kit/Field'
import { moneyText, weightText } from '../../kit/format'
import { typedWeight } from '../../kit/read'
import { useChange } from '../../kit/useChange'
import { When } from '../../kit/When'

interface Props {
  readonly lane: CollectionLane
  readonly cell: CollectionCell
  /** What is changed; null where one is booked. */
  readonly row: CollectionRow | null
  readonly onDone: () => void
  readonly onBack: (() => void) | null
}

/** Books a collection, or changes one, on the terms that the carrier says. */
export function CollectionForm(props: Props) {
  const { carrier, location, electronic } = props.lane
  const { day } = props.cell
  const { data, error } = useQuery({
    queryKey: ['collection terms', carrier, location, day],
    queryFn: () => call('POST /api/dispatch/collections/terms', { body: { carrier, location, day } }),
    enabled: electronic,
    retry: false,
    meta: { quiet: true },
  })
  if (error)
    return (
      <p className="mt-3 text-lost">The carrier does not say its terms: {sentenceOf(error)} Try again in a moment.</p>
    )
  if (electronic && !data) return <p className="mt-3 text-soft">The carrier is asked for its terms …</p>
  if (data?.terms?.windows.length === 0)
    return (
      <p className="mt-3 bg-tint px-3 py-2">It does not collect on this day: choose another one in the calendar.</p>
    )
  return <PlanForm {...props} terms={data?.terms ?? null} />
}

/** What is typed at first: what was booked, or the usual window; what stands there now is what is to be fetched. */
function firstTyped({ lane, cell: { there }, row }: Props, terms: CollectionTerms | null): Typed {
  const was = row?.wish
  const usual = terms?.windows.find(({ charge }) => charge === null) ?? terms?.windows[0]
  const afternoon = lane.electronic ? undefined : { from: '14:00', until: '17:00' }
  const { from, until } = was ?? usual ?? afternoon ?? { from: '', until: '' }
  return {
    ...{ from, until, place: was?.place ?? '', notes: was?.notes ?? '', confirmation: row?.confirmation ?? '' },
    parcels: String(there.parcels || (was?.parcels ?? 1)),
    pallets: String(was?.pallets ?? 0),
    weight: weightText(there.weight || (was?.weight ?? 0)),
  }
}

function PlanForm({ terms, ...props }: Props & { terms: CollectionTerms | null }) {
  const { lane, cell, row, onDone, onBack } = props
  const { carrier, location, electronic } = lane
  const change = useChange(['collections'], ['line'])
  const key = useRef(crypto.randomUUID())
  const [typed, setTyped] = useState(() => firstTyped(props, terms))
  const [wrong, setWrong] = useState<Fields['wrong']>({})
  const put = (more: Partial<Typed>): void => setTyped((before) => ({ ...before, ...more }))
  const save = async (): Promise<void> => {
    const read = readPlan(typed)
    setWrong('wrong' in read ? read.wrong : {})
    if ('wrong' in read) return
    const body = { plan: read.plan, confirmation: typed.confirmation }
    const done = await change(
      () =>
        row === null
          ? call('POST /api/dispatch/collections', {
              body: { ...body, carrier, location, day: cell.day, key: key.current },
            })
          : call('PUT /api/dispatch/collections', { body: { ...body, id: row.id } }),
      electronic ? 'The carrier is asked' : 'Written down',
    )
    if (!done) return
    key.current = crypto.randomUUID()
    onDone()
  }
  return (
    <form
      aria-label={row ? 'Change the collection' : 'Book a collection'}
      className="mt-3 grid gap-3 bg-tint p-3"
      onSubmit={(event) => {
        event.preventDefault()
        void save()
      }}
    >
      {terms ? (
        <Windows terms={terms} from={typed.from} until={typed.until} put={put} />
      ) : (
        <ByTelephone typed={typed} wrong={wrong} put={put} />
      )}
      <Load typed={typed} wrong={wrong} put={put} />
      <p className="flex gap-2">
        <Button kind="filled" calls="POST /api/dispatch/collections" type="submit">
          {saveWord(row !== null, electronic)}
        </Button>
        {onBack && (
          <Button kind="quiet" onClick={onBack}>
            Leave it as it is
          </Button>
        )}
      </p>
    </form>
  )
}

type Typed = Readonly<
  Record<'from' | 'until' | 'place' | 'notes' | 'parcels' | 'pallets' | 'weight' | 'confirmation', string>
>
interface Fields {
  readonly typed: Typed
  readonly wrong: Readonly<Record<string, string>>
  readonly put: (more: Partial<Typed>) => void
}

/** The carrier's own windows, with what each costs. */
function Windows({
  terms,
  from,
  until,
  put,
}: {
  terms: CollectionTerms
  from: string
  until: string
  put: Fields['put']
}) {
  return (
    <>
      <fieldset className="grid gap-1">
        <legend className="text-small text-soft">When</legend>
        {terms.windows.map((window) => (
          <label key={window.from + window.until} className="flex min-h-[24px] items-center gap-2">
            <input
              type="radio"
              name="window"
              className="size-4 accent-[var(--act)]"
              checked={window.from === from && window.until === until}
              onChange={() => put({ from: window.from, until: window.until })}
            />
            {window.from}–{window.until}
            <span className={window.charge ? 'text-lost' : 'text-soft'}>
              {window.charge ? moneyText(window.charge) : 'no charge'}
            </span>
          </label>
        ))}
      </fieldset>
      <p className="text-small text-soft">
        Booked, changed and cancelled until <When at={terms.bookUntil} />
        {terms.least > 1 && `; for ${terms.least} parcels or more`}.
      </p>
    </>
  )
}

/** A carrier that takes no bookings in messages: the record of what was said on the telephone. */
function ByTelephone({ typed, wrong, put }: Fields) {
  return (
    <>
      <p className="text-soft">This carrier takes no bookings in messages: call it, and keep the record here.</p>
      <div className="flex gap-3">
        <Field label="From" wrong={wrong.from} className="w-24">
          <TextInput value={typed.from} onChange={(event) => put({ from: event.target.value })} />
        </Field>
        <Field label="Until" wrong={wrong.until} className="w-24">
          <TextInput value={typed.until} onChange={(event) => put({ until: event.target.value })} />
        </Field>
        <Field label="Its number for it" className="min-w-0 flex-1">
          <TextInput
            maxLength={60}
            className="w-full"
            value={typed.confirmation}
            onChange={(event) => put({ confirmation: event.target.value })}
          />
        </Field>
      </div>
    </>
  )
}

/** How much is to be fetched, and where it stands. */
function Load({ typed, wrong, put }: Fields) {
  return (
    <>
      <div className="flex gap-3">
        <Field label="Parcels" wrong={wrong.parcels} className="w-20">
          <TextInput
            inputMode="numeric"
            value={typed.parcels}
            onChange={(event) => put({ parcels: event.target.value })}
          />
        </Field>
        <Field label="Pallets" wrong={wrong.pallets} className="w-20">
          <TextInput
            inputMode="numeric"
            value={typed.pallets}
            onChange={(event) => put({ pallets: event.target.value })}
          />
        </Field>
        <Field label="Weight" wrong={wrong.weight} className="min-w-0 flex-1">
          <TextInput
            className="w-full"
            value={typed.weight}
            onChange={(event) => put({ weight: event.target.value })}
          />
        </Field>
      </div>
      <Field label="Where the parcels stand">
        <TextInput
          maxLength={120}
          className="w-full"
          placeholder="Door 2"
          value={typed.place}
          onChange={(event) => put({ place: event.target.value })}
        />
      </Field>
      <Field label="Note for the driver">
        <TextArea
          maxLength={300}
          rows={2}
          className="w-full"
          value={typed.notes}
          onChange={(event) => put({ notes: event.target.value })}
        />
      </Field>
    </>
  )
}

function saveWord(isChange: boolean, electronic: boolean): string {
  if (!electronic) return 'Write it down'
  return isChange ? 'Ask for the change' : 'Book it'
}

const clock = /^([01]\d|2[0-3]):[0-5]\d$/

/** The plan as it is typed, or what is wrong with it. */
function readPlan(
  typed: Readonly<Record<'from' | 'until' | 'place' | 'notes' | 'parcels' | 'pallets' | 'weight', string>>,
): { readonly plan: CollectionPlan } | { readonly wrong: Readonly<Record<string, string>> } {
  const wrong: Record<string, string> = {}
  for (const side of ['from', 'until'] as const) if (!clock.test(typed[side])) wrong[side] = 'A time such as 16:30.'
  const whole = (side: 'parcels' | 'pallets'): number => {
    const text = typed[side].trim()
    if (!/^\d{1,6}$/.test(text)) wrong[side] = 'A whole number.'
    return Number(text)
  }
  const [parcels, pallets] = [whole('parcels'), whole('pallets')]
  const weight = typedWeight(typed.weight)
  if (weight === null) wrong.weight = 'A weight such as 120 kg.'
  if (Object.keys(wrong).length > 0 || weight === null) return { wrong }
  const { from, until, place, notes } = typed
  return { plan: { from, until, place, notes, parcels, pallets, weight } }
}
