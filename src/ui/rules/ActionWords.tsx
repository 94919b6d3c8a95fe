'use client'
import { useState } from 'react'
import {
  type Action,
  actionPhrase,
  decisionById,
  type DecisionKind,
  decisionPhrase,
  type Hold,
  pickPhrase,
  readUntil,
  type Stage,
  untilPhrase,
  weekdays,
  type Wordings,
} from '@/core/rulebook/language'
import {
  covers,
  editing,
  kindsAt,
  newAction,
  pickChoices,
  readCover,
  readPick,
  readTypedAction,
  verbOf,
} from './actionValues'
import { Chooser, ListChooser, TextWord, YesNoChooser, type Choice } from './Chooser'
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
  const choices = kindsAt(stage).map((kind) => ({
    id: kind.id,
    name: verbOf(kind),
    hint: kind.description,
    also: [kind.name, ...(kind.also ?? [])].join(' '),
  }))
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
      <Word tone="add" next label={actions.length === 0 ? 'add an action' : '+'} title="Add an action">
        {(close) => (
          <Chooser
            label="Add an action"
            choices={choices}
            hint="Try: hold too heavy"
            read={(text) => {
              const action = readTypedAction(text, stage, words)
              return action && actionPhrase(action, words)
            }}
            onChoose={(id) => {
              const typed = readTypedAction(id, stage, words)
              if (!typed) openWhatComes()
              onChange([...actions, typed ?? newAction(id, words)])
              close()
            }}
          />
        )}
      </Word>
    </span>
  )
}

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
  if (kind.type === 'picks')
    return <PickWords picks={value as readonly { by: string; service?: string }[]} words={words} onSet={onSet} />
  const way = editing[kind.type]
  return (
    <Word opens={kind.type !== 'yes/no'} label={label}>
      {(close) => {
        const done = (next: unknown): void => {
          onSet(next)
          close()
        }
        if (kind.type === 'hold') return <HoldEditor value={value as Hold} onDone={done} />
        if (kind.type === 'yes/no') return <YesNoChooser onTry={onSet} onChoose={done} />
        if (kind.type === 'insurance') return <CoverChooser onTry={onSet} onChoose={done} />
        switch (way.by) {
          case 'choice':
            return (
              <Chooser
                label={way.label}
                choices={way.choices(words)}
                chosen={String(value)}
                onTry={onSet}
                onChoose={done}
              />
            )
          case 'list':
            return (
              <MemberList
                value={value as readonly string[]}
                choices={way.choices(words)}
                add={way.label}
                onSet={onSet}
                close={close}
              />
            )
          case 'text':
            return (
              <TextWord
                label={way.label}
                initial={writtenValue(kind, value, label)}
                hint={way.hint}
                read={(text) => way.read(text, words)}
                onTry={onSet}
                onDone={done}
              />
            )
          case 'own':
            return null
        }
      }}
    </Word>
  )
}

/** A value as it is typed, where the sentence says it otherwise. */
function writtenValue(kind: DecisionKind, value: unknown, phrase: string): string {
  if (kind.type === 'days' || kind.type === 'text') return String(value)
  if (kind.type === 'grams') return `${String(value)} g`
  return kind.type === 'tags' || kind.type === 'item tags' ? (value as readonly string[]).join(', ') : phrase
}

/** The order value, an amount that is typed, or nothing. */
function CoverChooser({ onTry, onChoose }: { onTry: (value: unknown) => void; onChoose: (value: unknown) => void }) {
  const set = (typed: string, take: (value: unknown) => void): void => {
    const cover = readCover(typed)
    if (cover !== undefined) take(cover)
  }
  return (
    <Chooser
      free
      label="Amount"
      choices={covers}
      onTry={(typed) => set(typed, onTry)}
      onChoose={(typed) => set(typed, onChoose)}
    />
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
  const choices = pickChoices(words)
  const put = (at: number, id: string): void => onSet([...picks.slice(0, at), readPick(id), ...picks.slice(at + 1)])
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
