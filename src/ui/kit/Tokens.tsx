'use client'
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/react'
import { X } from 'lucide-react'
import { useState, type KeyboardEvent } from 'react'
import { count } from './format'
import { useSay } from './Toast'

interface Token {
  readonly id: string
  readonly name: string
}

// More are shown only when they are searched for.
const maxShown = 300

/**
 * A list of short texts, each with its own button to take it out. New ones are typed, chosen from what is offered, or
 * pasted: several at once with a comma, semicolon or new line between them. What `take` gives null for is said and not
 * taken.
 */
export function Tokens({
  label,
  members,
  hint,
  choices = [],
  nameOf = (id) => id,
  take,
  onChange,
}: {
  label: string
  members: readonly string[]
  hint: string
  choices?: readonly Token[]
  nameOf?: (id: string) => string
  take: (text: string) => string | null
  onChange: (members: readonly string[]) => void
}) {
  const [text, setText] = useState('')
  const say = useSay()
  const wanted = text.trim().toLowerCase()
  const offered =
    wanted === ''
      ? []
      : choices
          .filter(({ id, name }) => `${id} ${name}`.toLowerCase().includes(wanted) && !members.includes(id))
          .slice(0, 12)
  const shown = members.length <= maxShown ? members : members.filter((id) => nameOf(id).toLowerCase().includes(wanted))
  const add = (typed: string): void => {
    const parts = typed.split(/[\n;,]+/).flatMap((part) => (part.trim() === '' ? [] : [part.trim()]))
    // “BE NL LU”: several where each of them is known and all together are not.
    const words = (part: string): string[] => part.split(/\s+/)
    const single = parts.flatMap((part) =>
      take(part) === null && words(part).every((word) => take(word) !== null) ? words(part) : [part],
    )
    const taken = single.map((part) => ({ part, id: take(part) }))
    const wrong = taken.filter(({ id }) => id === null).map(({ part }) => `“${part}”`)
    const fresh = taken.flatMap(({ id }) => (id === null || members.includes(id) ? [] : [id]))
    if (fresh.length > 0) onChange([...members, ...new Set(fresh)])
    if (wrong.length > 0)
      say(`${wrong.slice(0, 5).join(', ')} ${wrong.length === 1 ? 'is' : 'are'} not known and not added.`, {
        tone: 'bad',
      })
    setText(wrong.length > 0 && fresh.length === 0 ? typed : '')
  }
  const keys = (event: KeyboardEvent): void => {
    if (event.key === 'Backspace' && text === '' && members.length > 0) onChange(members.slice(0, -1))
    if (event.key === 'Enter' && offered.length === 0 && wanted !== '') {
      event.preventDefault()
      add(text)
    }
  }
  return (
    <Combobox<Token | null> value={null} onChange={(token) => token && add(token.id)} immediate>
      <div className="flex flex-wrap items-center gap-1 rounded-[3px] border border-hair bg-paper p-1 focus-within:border-act">
        <ul className="contents" aria-label={label}>
          {shown.slice(0, maxShown).map((id) => (
            <li key={id} className="flex items-center rounded-[3px] bg-tint pl-2">
              {nameOf(id)}
              <button
                aria-label={`Take out ${nameOf(id)}`}
                className="min-h-[24px] px-1.5 text-soft hover:text-lost"
                onClick={() => onChange(members.filter((other) => other !== id))}
              >
                <X className="size-3" />
              </button>
            </li>
          ))}
        </ul>
        {members.length > maxShown && (
          <span className="px-1 text-small text-soft">
            {count(Math.min(maxShown, shown.length))} of {count(members.length)} shown; type to search them
          </span>
        )}
        <ComboboxInput
          aria-label={`Add to ${label}`}
          placeholder={hint}
          value={text}
          displayValue={() => text}
          onChange={(event) => setText(event.target.value)}
          onKeyDown={keys}
          onPaste={(event) => {
            const pasted = event.clipboardData.getData('text')
            if (!/[\n;,]/.test(pasted)) return
            event.preventDefault()
            add(pasted)
          }}
          className="min-w-40 flex-1 bg-transparent px-1 py-0.5 outline-none placeholder:text-soft"
        />
      </div>
      {offered.length > 0 && (
        <ComboboxOptions
          anchor="bottom start"
          className="z-40 w-64 rounded-[3px] border border-hair bg-sheet py-1 shadow-lg"
        >
          {offered.map((token) => (
            <ComboboxOption key={token.id} value={token} className="cursor-default px-2 py-1 data-focus:bg-act-soft">
              {token.name} <span className="text-small text-soft">{token.id}</span>
            </ComboboxOption>
          ))}
        </ComboboxOptions>
      )}
    </Combobox>
  )
}
