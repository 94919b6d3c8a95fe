'use client'
import type { ReactNode } from 'react'

/** A part of the order’s page, with its title. */
export function Section({ title, children, action }: { title: string; children: ReactNode; action?: ReactNode }) {
  return (
    <section className="mt-4" aria-label={title}>
      <h3 className="flex items-center border-b border-hair pb-1 text-small text-soft">
        {title}
        <span className="ml-auto">{action}</span>
      </h3>
      <div className="pt-1">{children}</div>
    </section>
  )
}
