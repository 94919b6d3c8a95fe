import type { ReactNode } from 'react'
import { PartsHead } from '../kit/PartsHead'

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
export const SetupHead = (props: { at: SetupPart; about: ReactNode; children?: ReactNode }) => (
  <PartsHead title="Set-up" parts={parts} {...props} />
)
