import type { ReactNode } from 'react'
import { SetupHead, type SetupPart } from './SetupHead'

/** A surface of Set-up that is one sheet to scroll; `label` is how it is called for those who hear it. */
export function SetupSheet({
  at,
  about,
  label,
  children,
}: {
  at: SetupPart
  about: ReactNode
  label: string
  children: ReactNode
}) {
  return (
    <div className="flex h-full flex-col">
      <SetupHead at={at} about={about} />
      <div
        className="min-h-0 flex-1 overflow-auto border-t border-hair px-5 py-4"
        tabIndex={0}
        role="region"
        aria-label={label}
      >
        {children}
      </div>
    </div>
  )
}
