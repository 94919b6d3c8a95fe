import type { ReactNode } from 'react'
import { PartsNav } from '../kit/PartsNav'
import { ScreenHead } from '../kit/Screen'

const parts = [
  ['start', '/setup', 'First steps'],
  ['seller', '/setup/seller', 'Seller'],
  ['locations', '/setup/locations', 'Locations'],
  ['carriers', '/setup/carriers', 'Carriers'],
  ['services', '/setup/services', 'Services'],
  ['presets', '/setup/presets', 'Presets'],
  ['outages', '/setup/outages', 'Outages'],
  ['interface', '/setup/interface', 'Interface'],
  ['groups', '/rules?lists=groups', 'Groups'],
] as const
export type SetupPart = (typeof parts)[number][0]

/** The head of Set-up with its surfaces. */
export function SetupHead({ at, about, children }: { at: SetupPart; about: ReactNode; children?: ReactNode }) {
  return (
    <ScreenHead title="Set-up" about={about}>
      {children}
      <PartsNav of="Set-up" parts={parts} at={at} />
    </ScreenHead>
  )
}
