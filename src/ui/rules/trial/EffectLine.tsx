'use client'
import { useState } from 'react'
import { movesOf, type TrialChange, type TrialSummary } from '@/core/rulebook/change'
import { count } from '../../kit/format'
import { Moved } from '../Rerouting'
import { TrialBody } from './TrialBody'

/** What something would do to waiting orders, in one line; opened, each order that changes. */
export function EffectLine({
  lead,
  waits,
  wrong,
  effect,
  none,
  note,
  services,
}: {
  lead: string
  /** Said while there is nothing to show yet. */
  waits: string
  /** Why it cannot be tried; null when it can. */
  wrong: string | null
  effect: { readonly summary: TrialSummary; readonly changes: readonly TrialChange[] } | undefined
  /** Said when no order changes. */
  none: string
  note: string
  services: Readonly<Record<string, string>>
}) {
  const [open, setOpen] = useState(false)
  const found = wrong === null ? effect : undefined
  return (
    <section
      aria-label="What it does to waiting orders"
      className={`border-t border-hair bg-tint ${open ? 'flex max-h-[65%] min-h-0 flex-col' : ''}`}
    >
      <p className="flex flex-wrap items-baseline gap-x-4 px-5 py-1.5" role="status">
        <span className="text-soft">{lead}</span>
        {wrong && <span className="text-lost">{wrong}</span>}
        {wrong === null && !effect && <span className="text-soft">{waits}</span>}
        {found?.summary.changed === 0 && <span>{none}</span>}
        {found && found.summary.changed > 0 && (
          <>
            <Moved summary={found.summary} verb="change" />
            {found.summary.newlyLate > 0 && (
              <span className="text-lost">
                <b>{count(found.summary.newlyLate)}</b> late
              </span>
            )}
            <button
              type="button"
              className="min-h-[24px] text-act underline decoration-hair underline-offset-4"
              aria-expanded={open}
              onClick={() => setOpen(!open)}
            >
              {open ? 'Close' : 'See them'}
            </button>
            {!open && (
              <span className="min-w-0 truncate text-soft">
                {movesOf(found.summary)
                  .slice(0, 3)
                  .map(({ from, to, count: n }) => `${count(n)} ${nameIn(services, from)} → ${nameIn(services, to)}`)
                  .join(', ')}
              </span>
            )}
          </>
        )}
      </p>
      {open && found && (
        <TrialBody
          summary={found.summary}
          changes={found.changes}
          services={services}
          trial={null}
          note={note}
          looks={false}
        />
      )}
    </section>
  )
}

const nameIn = (services: Readonly<Record<string, string>>, id: string | null): string =>
  id === null ? 'no service' : (services[id] ?? id)
