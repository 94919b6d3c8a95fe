'use client'
import { type Ref, useEffect, useImperativeHandle, useRef, useState } from 'react'
import { type Step, typedStep } from './step'
import { useEarlyTyping } from './useEarlyTyping'

interface Props {
  readonly value: string
  readonly label: string
  readonly placeholder: string
  readonly className: string
  /** What is looked for from now on, and whether that is a step of its own. */
  readonly onChange: (text: string, step: Step) => void
  /** Escape and Enter lead back to the list. */
  readonly onLeave: () => void
  readonly ref?: Ref<HTMLInputElement>
}

/** A search that asks a moment after the last key. */
export function SearchBox({ value, label, placeholder, className, onChange, onLeave, ref }: Props) {
  const [text, setText] = useState(value)
  const [known, setKnown] = useState(value)
  // What was asked for and has not come yet: when it comes, it is not put over what was typed meanwhile.
  const [asked, setAsked] = useState<readonly string[]>([])
  if (known !== value) {
    setKnown(value)
    const own = asked.includes(value)
    setAsked(own ? asked.slice(asked.indexOf(value) + 1) : [])
    if (!own) setText(value)
  }
  // Whether a letter begins a search is told by what was asked for last: on a busy machine it has not come back yet.
  const last = useRef(value)
  useEffect(() => {
    if (asked.length === 0) last.current = value
  }, [value, asked])
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined)
  const type = (typed: string): void => {
    const next = typed.trim()
    setText(typed)
    clearTimeout(timer.current)
    timer.current = setTimeout(() => {
      if (next !== value) setAsked((before) => [...before, next])
      onChange(next, typedStep(last.current, next))
      last.current = next
    }, 120)
  }
  const input = useRef<HTMLInputElement>(null)
  useImperativeHandle(ref, () => input.current!)
  useEarlyTyping(input, text)
  return (
    <input
      ref={input}
      type="search"
      value={text}
      placeholder={placeholder}
      aria-label={label}
      className={`${className} rounded-[3px] border border-hair bg-sheet px-2 py-1 placeholder:text-soft`}
      onKeyDown={(event) => {
        if (event.key !== 'Escape' && event.key !== 'Enter') return
        event.preventDefault()
        onLeave()
      }}
      onChange={(event) => type(event.target.value)}
    />
  )
}
