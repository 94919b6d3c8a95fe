import type { ButtonHTMLAttributes } from 'react'

type Kind = 'filled' | 'plain' | 'quiet' | 'danger'
const looks: Readonly<Record<Kind, string>> = {
  filled: 'bg-act text-on-act px-3.5 py-1.5 font-semibold hover:opacity-90 disabled:opacity-40',
  plain: 'border border-act text-act px-3 py-1 hover:bg-act-soft disabled:opacity-40',
  quiet: 'text-act px-1.5 py-0.5 hover:bg-act-soft disabled:opacity-40',
  danger: 'border border-lost text-lost px-3 py-1 hover:bg-lost-soft disabled:opacity-40',
}

/** At most one filled button a screen. */
export function Button({
  kind = 'plain',
  className = '',
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { kind?: Kind }) {
  return (
    <button
      type="button"
      className={`inline-flex items-center gap-1.5 whitespace-nowrap rounded-[3px] ${looks[kind]} ${className}`}
      {...rest}
    />
  )
}
