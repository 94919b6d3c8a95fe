import type { ReactNode } from 'react'

/** The head of a working surface: what it is, one line about it, and what can be done. */
export function ScreenHead({ title, about, children }: { title: string; about?: ReactNode; children?: ReactNode }) {
  return (
    <header className="flex min-h-12 flex-wrap items-center gap-x-4 gap-y-1 px-5 pt-3 pb-2 max-[899px]:pt-2">
      <h1 className="text-title leading-none">{title}</h1>
      {about && <p className="min-w-0 truncate text-soft">{about}</p>}
      <div className="ml-auto flex flex-wrap items-center justify-end gap-2">{children}</div>
    </header>
  )
}

/** What is shown where there is nothing, or where something failed: what it is, and what to do next. */
export function Plain({ title, children }: { title: string; children?: ReactNode }) {
  return (
    <div className="mx-auto max-w-md py-16 text-center">
      <p className="text-lead font-semibold">{title}</p>
      {children && <div className="mt-1 text-soft">{children}</div>}
    </div>
  )
}
