import type { ComponentProps, ReactNode, SelectHTMLAttributes } from 'react'

const box = 'border border-hair bg-sheet px-2 py-1 text-ink rounded-[3px] placeholder:text-soft'

export function TextInput({ className = '', ...rest }: ComponentProps<'input'>) {
  return <input className={`${box} ${className}`} {...rest} />
}

export function Select({ className = '', ...rest }: SelectHTMLAttributes<HTMLSelectElement>) {
  return <select className={`${box} ${className}`} {...rest} />
}

export function Field({ label, children, hint }: { label: string; children: ReactNode; hint?: string }) {
  return (
    <label className="grid gap-1">
      <span className="text-small text-soft">{label}</span>
      {children}
      {hint && <span className="text-small text-soft">{hint}</span>}
    </label>
  )
}
