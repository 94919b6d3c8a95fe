import type { ComponentProps, ReactNode, SelectHTMLAttributes } from 'react'

const box = 'border border-hair bg-sheet px-2 py-1 text-ink rounded-[3px] placeholder:text-soft'

export function TextInput({ className = '', ...rest }: ComponentProps<'input'>) {
  return <input className={`${box} ${className}`} {...rest} />
}

export function Select({ className = '', ...rest }: SelectHTMLAttributes<HTMLSelectElement>) {
  return <select className={`${box} ${className}`} {...rest} />
}

/** A label over its field, with what is wrong with it beneath. */
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
  return (
    <label className={`grid content-start gap-1 ${className}`}>
      <span className="text-small text-soft">{label}</span>
      {children}
      {hint && <span className="text-small text-soft">{hint}</span>}
      {wrong && (
        <span role="alert" className="text-small text-lost">
          {wrong}
        </span>
      )}
    </label>
  )
}
