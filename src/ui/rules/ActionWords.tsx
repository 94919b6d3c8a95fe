'use client'
import { useState } from 'react'
import { speeds } from '@/core/rating'
import {
  type Action,
  addressKinds,
  decisionById,
  type DecisionKind,
  decisionKinds,
  decisionPhrase,
  type Hold,
  needs,
  pickPhrase,
  priorities,
  readLimits,
  readUntil,
  splits,
  type Stage,
  stageIndex,
  untilPhrase,
  weekdays,
  type Wordings,
} from '@/core/rulebook/language'
import { money } from '@/core/units'
import { typedLength, typedWeight } from '../kit/read'
import { Chooser, ListChooser, TextWord, YesNoChooser, type Choice } from './Chooser'
import { readQuantity } from './values'
import { openWhatComes, Word } from './Word'

/** The actions of a rule as words. */
export function ActionWords({
  actions,
  stage,
  words,
  onChange,
}: {
  actions: readonly Action[]
  stage: Stage
  words: Wordings
  onChange: (next: readonly Action[]) => void
}) {
  const put = (i: number, next: Action | null): void =>
    onChange(
      next === null
        ? actions.filter((_, other) => other !== i)
        : actions.map((before, other) => (other === i ? next : before)),
    )
  const choices = decisionKinds
    .filter((kind) => stageIndex(kind.stage) >= stageIndex(stage))
    .map((kind) => ({ id: kind.id, name: kind.verb.replace(/:$/, ''), hint: kind.description }))
  return (
    <span>
      {actions.map((action, i) => {
        const kind = decisionById.get(action.set)
        return (
          <span key={i}>
            {i > 0 && <span className="text-soft">, </span>}
            <Word
              tone="fact"
              label={kind?.verb ?? `${action.set} (unknown)`}
              title={kind?.description}
              onRemove={() => put(i, null)}
            >
              {(close) => (
                <Chooser
                  label="Action"
                  chosen={action.set}
                  choices={choices}
                  onChoose={(id) => {
                    if (id !== action.set) put(i, newAction(id, words))
                    close()
                  }}
                />
              )}
            </Word>{' '}
            {kind && (
              <ActionValue
                kind={kind}
                value={action.to}
                words={words}
                onSet={(to) => put(i, { set: action.set, to })}
              />
            )}
          </span>
        )
      })}{' '}
      <Word tone="add" label={actions.length === 0 ? 'add an action' : '+'} title="Add an action">
        {(close) => (
          <Chooser
            label="Add an action"
            choices={choices}
            onChoose={(id) => {
              openWhatComes()
              onChange([...actions, newAction(id, words)])
              close()
            }}
          />
        )}
      </Word>
    </span>
  )
}

function newAction(id: string, { world }: Wordings): Action {
  const kind = decisionById.get(id)!
  const first: Readonly<Record<DecisionKind['type'], unknown>> = {
    tags: ['new tag'],
    text: '{number}',
    hold: 'look at it first',
    grams: 50,
    speed: 'express',
    priority: 'urgent',
    size: [400, 300, 200],
    inserts: [{ name: 'Leaflet', weight: 0 }],
    duties: 'DDP',
    needs: ['tracking'],
    'item tags': ['live'],
    limits: { weight: 15_000 },
    split: 'when cheaper',
    'address kind': 'company',
    days: 2,
    money: money(1000, world.rates.home),
    moment: 'dispatched',
    preset: world.presets[0]?.id ?? '',
    location: world.locations[0]?.id ?? '',
    insurance: { cover: 'order value' },
    'yes/no': true,
    picks: [{ by: 'cheapest' }],
    services: [world.services[0]?.id ?? ''],
    slip: world.slips[0]?.id ?? '',
    slips: [world.slips[0]?.id ?? ''],
  }
  return { set: kind.id, to: first[kind.type] }
}

const plain = (list: readonly string[]): Choice[] => list.map((name) => ({ id: name, name }))
const named = (list: readonly { readonly id: string; readonly name: string }[]): Choice[] =>
  list.map(({ id, name }) => ({ id, name }))

function ActionValue({
  kind,
  value,
  words,
  onSet,
}: {
  kind: DecisionKind
  value: unknown
  words: Wordings
  onSet: (value: unknown) => void
}) {
  const label = decisionPhrase(kind.id, value, words)
  const { world } = words
  if (kind.type === 'picks')
    return <PickWords picks={value as readonly { by: string; service?: string }[]} words={words} onSet={onSet} />
  return (
    <Word opens={kind.type !== 'yes/no'} label={label}>
      {(close) => {
        const done = (next: unknown): void => {
          onSet(next)
          close()
        }
        switch (kind.type) {
          case 'preset':
            return (
              <Chooser
                label="Package preset"
                choices={named(world.presets)}
                chosen={String(value)}
                onTry={onSet}
                onChoose={done}
              />
            )
          case 'location':
            return (
              <Chooser
                label="Location"
                choices={[
                  ...named(world.locations),
                  { id: 'nearest with stock', name: 'the nearest location with stock' },
                  { id: 'cheapest', name: 'the cheapest location', hint: 'by its cheapest service' },
                ]}
                chosen={String(value)}
                onTry={onSet}
                onChoose={done}
              />
            )
          case 'slip':
            return (
              <Chooser
                label="Slip template"
                choices={named(world.slips)}
                chosen={String(value)}
                onTry={onSet}
                onChoose={done}
              />
            )
          case 'slips':
            return (
              <MemberList
                value={value as readonly string[]}
                choices={named(world.slips)}
                add="Add a document"
                onSet={onSet}
                close={close}
              />
            )
          case 'yes/no':
            return <YesNoChooser onTry={onSet} onChoose={done} />
          case 'speed':
            return (
              <Chooser label="Speed" choices={plain(speeds)} chosen={String(value)} onTry={onSet} onChoose={done} />
            )
          case 'priority':
            return (
              <Chooser
                label="Priority"
                choices={plain(priorities)}
                chosen={String(value)}
                onTry={onSet}
                onChoose={done}
              />
            )
          case 'duties':
            return (
              <Chooser
                label="Duties"
                choices={[
                  { id: 'DAP', name: 'DAP', hint: 'the buyer pays duties and tax' },
                  { id: 'DDP', name: 'DDP', hint: 'we pay them' },
                ]}
                chosen={String(value)}
                onTry={onSet}
                onChoose={done}
              />
            )
          case 'moment':
            return (
              <Chooser
                label="When"
                choices={[
                  { id: 'bought', name: 'bought' },
                  { id: 'dispatched', name: 'handed over' },
                ]}
                chosen={String(value)}
                onTry={onSet}
                onChoose={done}
              />
            )
          case 'needs':
            return (
              <MemberList
                value={value as readonly string[]}
                choices={plain(needs)}
                add="Add something it must offer"
                onSet={onSet}
                close={close}
              />
            )
          case 'hold':
            return <HoldEditor value={value as Hold} onDone={done} />
          case 'size':
            return (
              <TextWord
                label="Size"
                initial={label}
                hint="Length × width × height, such as 40 × 30 × 20 cm."
                read={readSize}
                onTry={onSet}
                onDone={done}
              />
            )
          case 'inserts':
            return (
              <TextWord
                label="Inserts"
                initial={label}
                hint="Each with its weight, commas between: Heat pack 60 g, Leaflet 5 g."
                read={readInserts}
                onTry={onSet}
                onDone={done}
              />
            )
          case 'days':
            return (
              <TextWord
                label="Days"
                initial={String(value)}
                hint="A whole number of days."
                read={(text) => (/^\d{1,3}\s*(days?)?$/.test(text.trim()) ? parseInt(text, 10) : undefined)}
                onTry={onSet}
                onDone={done}
              />
            )
          case 'money':
            return (
              <TextWord
                label="Amount"
                initial={label}
                hint={`An amount such as 12.50 ${world.rates.home}.`}
                read={(text) => readQuantity('money', text)}
                onTry={onSet}
                onDone={done}
              />
            )
          case 'insurance': {
            const set = (id: string, take: (value: unknown) => void): void => {
              const amount = readQuantity('money', id)
              if (id === 'order value' || id === 'none') take({ cover: id })
              else if (amount !== undefined) take({ cover: 'amount', amount })
            }
            return (
              <Chooser
                free
                label="Amount"
                choices={[
                  { id: 'order value', name: 'the order value' },
                  { id: 'none', name: 'nothing' },
                ]}
                onTry={(id) => set(id, onSet)}
                onChoose={(id) => set(id, done)}
              />
            )
          }
          case 'grams':
            return (
              <TextWord
                label="Grams"
                initial={`${String(value)} g`}
                hint="A weight such as 60 g, or -20 g."
                read={(text) => typedWeight(text) ?? undefined}
                onTry={onSet}
                onDone={done}
              />
            )
          case 'split':
            return <Chooser label="When" choices={plain(splits)} chosen={String(value)} onTry={onSet} onChoose={done} />
          case 'address kind':
            return (
              <Chooser
                label="Address"
                choices={plain(addressKinds)}
                chosen={String(value)}
                onTry={onSet}
                onChoose={done}
              />
            )
          case 'limits':
            return (
              <TextWord
                label="Limits"
                initial={label}
                hint="Weight, longest side and pieces of one parcel, such as 15 kg, 60 cm, 4 pieces."
                read={readLimits}
                onTry={onSet}
                onDone={done}
              />
            )
          case 'tags':
          case 'item tags':
            return (
              <TextWord
                label="Tags"
                initial={(value as readonly string[]).join(', ')}
                hint="Tags with commas between them."
                read={(text) => {
                  const tags = text
                    .split(',')
                    .map((tag) => tag.trim())
                    .filter(Boolean)
                  return tags.length > 0 ? tags : undefined
                }}
                onTry={onSet}
                onDone={done}
              />
            )
          case 'services':
            return (
              <MemberList
                value={value as readonly string[]}
                choices={[
                  ...named(world.services),
                  ...world.carriers.map(({ id, name }) => ({ id, name, hint: 'all services of the carrier' })),
                ]}
                add="Add a service or carrier"
                onSet={onSet}
                close={close}
              />
            )
          default:
            return (
              <TextWord
                label={kind.name}
                initial={String(value)}
                hint={kind.description}
                read={(text) => text.trim() || undefined}
                onTry={onSet}
                onDone={done}
              />
            )
        }
      }}
    </Word>
  )
}

/** A hold: why, and until when. */
function HoldEditor({ value, onDone }: { value: Hold; onDone: (value: unknown) => void }) {
  const [reason, setReason] = useState(typeof value === 'string' ? value : value.reason)
  const [until, setUntil] = useState(typeof value === 'string' ? '' : untilPhrase(value.until))
  const [wrong, setWrong] = useState('')
  const take = (): void => {
    const moment = until.trim() === '' ? null : readUntil(until)
    if (reason.trim() === '') setWrong('A hold needs a reason.')
    else if (moment === undefined) setWrong(`“${until}” is no moment.`)
    else onDone(moment === null ? reason.trim() : { reason: reason.trim(), until: moment })
  }
  return (
    <form
      className="grid gap-2 p-2"
      onSubmit={(event) => {
        event.preventDefault()
        take()
      }}
    >
      <label className="grid gap-0.5 text-small text-soft">
        Why
        <input
          autoFocus
          value={reason}
          onFocus={(event) => event.target.select()}
          onChange={(event) => {
            setReason(event.target.value)
            setWrong('')
          }}
          className="w-full border border-hair bg-sheet px-2 py-1 text-ink"
        />
      </label>
      <label className="grid gap-0.5 text-small text-soft">
        Until
        <input
          value={until}
          list="hold-until"
          placeholder="a person releases it"
          onChange={(event) => {
            setUntil(event.target.value)
            setWrong('')
          }}
          className="w-full border border-hair bg-sheet px-2 py-1 text-ink"
        />
      </label>
      <datalist id="hold-until">
        {[...weekdays, '24 hours', '2 days'].map((moment) => (
          <option key={moment} value={moment} />
        ))}
      </datalist>
      <p role={wrong ? 'alert' : undefined} className={`text-small ${wrong ? 'text-lost' : 'text-soft'}`}>
        {wrong} A weekday (the next one after the order), a day such as 2026-12-24, or a span such as 36 hours; empty:
        until a person releases it.
      </p>
      <button className="justify-self-start text-act underline underline-offset-4">Take it</button>
    </form>
  )
}

function readSize(text: string): [number, number, number] | undefined {
  const unit = /[a-z]{1,6}$/i.exec(text.trim())?.[0] ?? 'cm'
  const sides = text.split(/[×x*]/i).map((side) => typedLength(side, unit))
  return sides.length === 3 && sides.every((side) => side !== null && side > 0)
    ? (sides as unknown as [number, number, number])
    : undefined
}

function readInserts(text: string): { name: string; weight: number }[] | undefined {
  const inserts = text.split(',').map((part) => {
    // The last word, or two, are the weight: `Heat pack 60 g`, `Leaflet (5g)`.
    const words = part.replace(/[()]/g, ' ').split(' ').filter(Boolean)
    for (const count of [2, 1]) {
      const end = words.slice(-count).join(' ')
      const weight = words.length > count && /^\d.{0,20}(?:g|kg|oz|lb)$/i.test(end) ? typedWeight(end) : null
      if (weight !== null) return { name: words.slice(0, -count).join(' '), weight }
    }
    return { name: part.trim(), weight: /^\d.{0,20}(?:g|kg|oz|lb)$/i.test(words[words.length - 1] ?? '') ? -1 : 0 }
  })
  return inserts.length > 0 && inserts.every(({ name, weight }) => name !== '' && weight >= 0) ? inserts : undefined
}

/** A list of known things: take out, or add. */
function MemberList({
  value,
  choices,
  add,
  onSet,
  close,
}: {
  value: readonly string[]
  choices: readonly Choice[]
  add: string
  onSet: (value: unknown) => void
  close: () => void
}) {
  const name = (id: string): string => choices.find((choice) => choice.id === id)?.name ?? id
  return (
    <ListChooser
      label={add}
      least={1}
      entries={value.map(name)}
      choices={choices.filter((choice) => !value.includes(choice.id))}
      onRemove={(at) => onSet(value.filter((_, other) => other !== at))}
      onAdd={(id) => onSet([...value, id])}
      close={close}
    />
  )
}

function PickWords({
  picks,
  words,
  onSet,
}: {
  picks: readonly { by: string; service?: string }[]
  words: Wordings
  onSet: (value: unknown) => void
}) {
  const choices: Choice[] = [
    { id: 'cheapest', name: 'the cheapest' },
    { id: 'fastest', name: 'the fastest' },
    { id: 'cheapest by promise', name: 'the cheapest that arrives by the promised day' },
    ...words.world.services.map(({ id, name }) => ({ id: `:${id}`, name })),
  ]
  const read = (id: string): { by: string; service?: string } =>
    id.startsWith(':') ? { by: 'service', service: id.slice(1) } : { by: id }
  const put = (at: number, id: string): void => onSet([...picks.slice(0, at), read(id), ...picks.slice(at + 1)])
  return (
    <>
      {picks.map((pick, i) => (
        <span key={i}>
          {i > 0 && <span className="text-soft">, else </span>}
          <Word
            opens={i === 0}
            label={pickPhrase(pick, words)}
            onRemove={picks.length > 1 ? () => onSet(picks.filter((_, other) => other !== i)) : undefined}
          >
            {(close) => (
              <Chooser
                label="Service"
                choices={choices}
                onTry={(id) => put(i, id)}
                onChoose={(id) => {
                  put(i, id)
                  close()
                }}
              />
            )}
          </Word>
        </span>
      ))}{' '}
      <Word tone="add" label="else …" title="What to take if none of these can carry it">
        {(close) => (
          <Chooser
            label="Otherwise"
            choices={choices}
            onTry={(id) => put(picks.length, id)}
            onChoose={(id) => {
              put(picks.length, id)
              close()
            }}
          />
        )}
      </Word>
    </>
  )
}
