'use client'
import {
  type ComponentProps,
  createContext,
  type ReactNode,
  type SelectHTMLAttributes,
  useContext,
  useId,
  useImperativeHandle,
  useRef,
} from 'react'
import { useEarlyTyping } from './useEarlyTyping'

const box =
  'border border-hair bg-sheet px-2 py-1 text-ink rounded-[3px] placeholder:text-soft aria-invalid:border-lost'

/** What is said of the field that these are in: where, and whether it is wrong. */
const Said = createContext<{ 'aria-describedby'?: string; 'aria-invalid'?: true }>({})

export function TextInput({ className = '', ref, ...rest }: ComponentProps<'input'>) {
  const input = useRef<HTMLInputElement>(null)
  useImperativeHandle(ref, () => input.current!)
  const { type = 'text', value } = rest
  useEarlyTyping(input, (type === 'text' || type === 'search') && typeof value === 'string' ? value : undefined)
  return <input ref={input} className={`${box} ${className}`} {...useContext(Said)} {...rest} />
}

export function TextArea({ className = '', ...rest }: ComponentProps<'textarea'>) {
  return <textarea className={`${box} ${className}`} {...useContext(Said)} {...rest} />
}

export function Select({ className = '', ...rest }: SelectHTMLAttributes<HTMLSelectElement>) {
  return <select className={`${box} ${className}`} {...useContext(Said)} {...rest} />
}

/** A label over its field, with a hint or what is wrong with it beneath, which belongs to the field for all readers. */
export function Field({
  label,
  children,
  hint,
  wrong,
  className = '',
}: {
  label: string
  children: ReactNode
  hint?: string
  wrong?: string | undefined
  className?: string
}) {
  const id = useId()
  return (
    <div className={`grid content-start gap-1 ${className}`}>
      <Said.Provider
        value={{
          ...(hint || wrong ? { 'aria-describedby': id } : {}),
          ...(wrong ? { 'aria-invalid': true as const } : {}),
        }}
      >
        <label className="grid content-start gap-1">
          <span className="text-small text-soft">{label}</span>
          {children}
        </label>
      </Said.Provider>
      {(hint || wrong) && (
        <span id={id} role={wrong ? 'alert' : undefined} className={`text-small ${wrong ? 'text-lost' : 'text-soft'}`}>
          {wrong ?? hint}
        </span>
      )}
    </div>
  )
}
