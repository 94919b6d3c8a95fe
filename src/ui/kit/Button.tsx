'use client'
import type { Endpoint } from '@/usecases/endpoints'
import { useBarred } from './person'
import { useState, type ButtonHTMLAttributes, type MouseEvent } from 'react'

type Kind = 'filled' | 'plain' | 'quiet' | 'danger'
const looks: Readonly<Record<Kind, string>> = {
  filled:
    'bg-act text-on-act px-3.5 py-1.5 font-semibold hover:opacity-90 disabled:opacity-40 aria-disabled:opacity-40',
  plain: 'border border-act text-act px-3 py-1 hover:bg-act-soft disabled:opacity-40 aria-disabled:opacity-40',
  quiet: 'text-act px-1.5 py-0.5 hover:bg-act-soft disabled:opacity-40 aria-disabled:opacity-40',
  danger: 'border border-lost text-lost px-3 py-1 hover:bg-lost-soft disabled:opacity-40 aria-disabled:opacity-40',
}

type Props = Omit<ButtonHTMLAttributes<HTMLButtonElement>, 'onClick'> & {
  kind?: Kind
  /** What takes its time is done once: until it is settled, the button takes no other click. */
  onClick?: (event: MouseEvent<HTMLButtonElement>) => unknown
  /** What it asks of the server: who may not is told so, and who may. */
  calls?: Endpoint
}

/** At most one filled button a screen. */
export function Button({ kind = 'plain', className = '', onClick, disabled, calls, title, ...rest }: Props) {
  const barred = useBarred()(calls)
  const [busy, setBusy] = useState(false)
  const click = (event: MouseEvent<HTMLButtonElement>): void => {
    if (busy || barred !== null) return event.preventDefault()
    const work = onClick?.(event)
    if (!(work instanceof Promise)) return
    setBusy(true)
    void work.finally(() => setBusy(false))
  }
  return (
    <button
      type="button"
      className={`inline-flex items-center gap-1.5 whitespace-nowrap rounded-[3px] ${looks[kind]} ${className}`}
      disabled={disabled}
      // Not disabled, which would take the focus away.
      aria-disabled={busy || barred !== null || undefined}
      aria-busy={busy || undefined}
      title={barred ?? title}
      onClick={barred !== null || onClick ? click : undefined}
      {...rest}
    />
  )
}
