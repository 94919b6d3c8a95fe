'use client'
import { useEffect, useEffectEvent, useId, useRef, useState, type KeyboardEvent } from 'react'
import { useTry } from './trying'

export interface Choice {
  readonly id: string
  readonly name: string
  readonly hint?: string
  /** Words by which it is found too; they are not shown. */
  readonly also?: string
}

/**
 * Type to find, arrows to move, Enter to take. With `free`, what was typed can be taken too; with `onDone`, Enter alone
 * says that nothing more is wanted. With `onTry`, what is pointed at is tried before it is taken.
 */
export function Chooser({
  label,
  choices,
  chosen,
  free = false,
  read,
  hint = '',
  onDone,
  done,
  onTry,
  onChoose,
}: {
  label: string
  choices: readonly Choice[]
  chosen?: string
  free?: boolean
  /** What was typed, when it says more than a name: shown first, and chosen by its text. */
  read?: (text: string) => string | undefined
  /** What to type, said where nothing matches. */
  hint?: string
  onDone?: () => void
  /** What Enter alone does, said below the list. */
  done?: string
  onTry?: (id: string) => void
  onChoose: (id: string) => void
}) {
  const [text, setText] = useState('')
  const [at, setAt] = useState(onDone ? -1 : 0)
  const list = useId()
  const words = text.toLowerCase().split(/\s+/).filter(Boolean)
  const wanted = text.trim().toLowerCase()
  // What was typed exactly comes first, then what begins with it, then the rest in its own order.
  const closeness = (choice: Choice): number => {
    if (choice.name.toLowerCase() === wanted) return 0
    if (choice.name.toLowerCase().startsWith(wanted)) return 1
    return choice.also?.includes(wanted) ? 2 : 3
  }
  const found = choices
    .filter((choice) =>
      words.every((word) => `${choice.name} ${choice.hint ?? ''} ${choice.also ?? ''}`.toLowerCase().includes(word)),
    )
    .sort((a, b) => (wanted === '' ? 0 : closeness(a) - closeness(b)))
  const typed = free && text.trim() !== '' && !found.some((choice) => choice.name.toLowerCase() === wanted)
  const said = text.trim() === '' ? undefined : read?.(text.trim())
  const all: readonly Choice[] = [
    ...(said === undefined ? [] : [{ id: text.trim(), name: said, hint: 'as typed' }]),
    ...(typed && said === undefined ? [{ id: text.trim(), name: text.trim(), hint: 'as typed' }] : []),
    ...found,
  ]
  const tryOut = useTry()
  const touched = useRef(false)
  const pointed = all[at]?.id
  const tryPointed = useEffectEvent((id: string | undefined) => {
    if (onTry && touched.current) tryOut(id === undefined ? null : () => onTry(id))
  })
  useEffect(() => tryPointed(pointed), [pointed])
  const point = (to: number): void => {
    touched.current = true
    setAt(to)
  }
  const keys = (event: KeyboardEvent): void => {
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault()
      point(Math.max(0, Math.min(all.length - 1, at + (event.key === 'ArrowDown' ? 1 : -1))))
    } else if (event.key === 'Enter' || (event.key === 'Tab' && !event.shiftKey && text !== '')) {
      const choice = all[at]
      if (!choice && !(at < 0 && onDone)) return
      event.preventDefault()
      if (choice) onChoose(choice.id)
      else onDone?.()
    }
  }
  return (
    <div>
      <input
        autoFocus
        role="combobox"
        aria-label={label}
        aria-expanded
        aria-controls={list}
        aria-activedescendant={`${list}-${at}`}
        value={text}
        placeholder={`${label} …`}
        onChange={(event) => {
          setText(event.target.value)
          point(0)
        }}
        onKeyDown={keys}
        className="w-full border-b border-hair bg-sheet px-2 py-1.5 outline-none placeholder:text-soft"
      />
      <ul id={list} role="listbox" aria-label={label} className="max-h-64 overflow-auto py-1">
        {all.length === 0 && <li className="px-2 py-1 text-soft">No matches. {hint}</li>}
        {all.slice(0, 80).map((choice, i) => (
          <li
            key={choice.id}
            ref={i === at ? intoView : undefined}
            id={`${list}-${i}`}
            role="option"
            aria-selected={i === at}
            onMouseMove={() => {
              if (i !== at) point(i)
            }}
            onMouseDown={(event) => {
              event.preventDefault()
              onChoose(choice.id)
            }}
            className={`cursor-default px-2 py-1 ${i === at ? 'bg-act-soft' : ''}`}
          >
            <span className={choice.id === chosen ? 'font-semibold' : ''}>{choice.name}</span>
            {choice.hint && <span className="ml-2 whitespace-nowrap text-small text-soft">{choice.hint}</span>}
          </li>
        ))}
      </ul>
      {onDone && done && text === '' && <DoneButton done={done} onDone={onDone} />}
    </div>
  )
}

/** What Enter alone does, for the mouse. */
function DoneButton({ done, onDone }: { done: string; onDone: () => void }) {
  return (
    <button className="w-full border-t border-hair px-2 py-1.5 text-left text-act hover:bg-act-soft" onClick={onDone}>
      {done} <span className="text-small text-soft">Enter</span>
    </button>
  )
}

/** The entry that is pointed at is seen. */
const intoView = (entry: HTMLElement | null): void => entry?.scrollIntoView({ block: 'nearest' })

/** Yes or no. */
export function YesNoChooser({ onTry, onChoose }: { onTry: (yes: boolean) => void; onChoose: (yes: boolean) => void }) {
  return (
    <Chooser
      label="Value"
      choices={[
        { id: 'yes', name: 'yes' },
        { id: 'no', name: 'no' },
      ]}
      onTry={(id) => onTry(id === 'yes')}
      onChoose={(id) => onChoose(id === 'yes')}
    />
  )
}

/** Several things: taken out, added, and Enter alone (or Done) when nothing more is wanted. At least `least` remain. */
export function ListChooser({
  label,
  entries,
  choices,
  free = false,
  least = 0,
  onRemove,
  onAdd,
  close,
}: {
  label: string
  entries: readonly string[]
  choices: readonly Choice[]
  free?: boolean
  least?: number
  onRemove: (at: number) => void
  onAdd: (id: string) => void
  close: () => void
}) {
  const locked = entries.length <= least
  return (
    <div>
      <ul className="flex flex-wrap gap-1 p-2 pb-0">
        {entries.map((entry, i) => (
          <li key={i}>
            <button
              className="bg-tint px-1.5 hover:bg-lost-soft"
              disabled={locked}
              title={locked ? 'At least one must remain' : 'Take out'}
              onClick={() => onRemove(i)}
            >
              {entry} ×
            </button>
          </li>
        ))}
      </ul>
      <Chooser
        key={entries.length}
        free={free}
        label={label}
        choices={choices}
        onChoose={onAdd}
        onTry={onAdd}
        onDone={entries.length > 0 ? close : undefined}
      />
      <DoneButton done="Done" onDone={close} />
    </div>
  )
}

/**
 * A text that is read on Enter; what cannot be read is said, and nothing is lost. What can be read is tried while it
 * is typed.
 */
export function TextWord({
  label,
  initial,
  hint,
  read,
  onTry,
  onDone,
}: {
  label: string
  initial: string
  hint: string
  read: (text: string) => unknown
  onTry?: (value: never) => void
  onDone: (value: never) => void
}) {
  const [text, setText] = useState(initial)
  const [wrong, setWrong] = useState(false)
  const tryOut = useTry()
  const type = (next: string): void => {
    setText(next)
    setWrong(false)
    const value = read(next)
    if (onTry) tryOut(value === undefined ? null : () => onTry(value as never))
  }
  const take = (): void => {
    const value = read(text)
    if (value === undefined) setWrong(true)
    else onDone(value as never)
  }
  // The mouse goes elsewhere: what can be read was meant. Escape and Shift Tab leave without taking.
  const leaves = useRef(false)
  const leave = (): void => {
    const value = text === initial || leaves.current ? undefined : read(text)
    if (value !== undefined) onTry?.(value as never)
  }
  const field = useId()
  return (
    <form
      className="p-2"
      onSubmit={(event) => {
        event.preventDefault()
        leaves.current = true
        take()
      }}
    >
      <input
        autoFocus
        aria-label={label}
        aria-invalid={wrong}
        aria-describedby={field}
        value={text}
        onBlur={leave}
        onKeyDown={(event) => {
          leaves.current = event.key === 'Escape' || event.key === 'Tab'
          if (event.key !== 'Tab' || event.shiftKey || text === initial) return
          event.preventDefault()
          take()
        }}
        onFocus={(event) => event.target.select()}
        onChange={(event) => type(event.target.value)}
        className="w-full border border-hair bg-sheet px-2 py-1"
      />
      <p
        id={field}
        role={wrong ? 'alert' : undefined}
        className={`mt-1 text-small ${wrong ? 'text-lost' : 'text-soft'}`}
      >
        {wrong ? `“${text}” cannot be read. ` : ''}
        {hint}
      </p>
    </form>
  )
}
