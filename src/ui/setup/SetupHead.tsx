import type { ReactNode } from 'react'
import type { Permission } from '@/core/people'
import { PartsHead } from '../kit/PartsHead'
import { useMay } from '../kit/person'

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
  ['privacy', '/setup/privacy', 'Privacy'],
  ['health', '/setup/health', 'Health'],
  ['people', '/setup/people', 'People'],
  ['agree', '/setup/agree', 'To agree'],
  ['audit', '/setup/audit', 'Audit'],
  ['account', '/setup/account', 'You'],
] as const
export type SetupPart = (typeof parts)[number][0]

/** What a surface needs beyond seeing the set-up. */
const needs: Readonly<Partial<Record<SetupPart, Permission>>> = {
  interface: 'access.change',
  groups: 'rules.see',
  people: 'people.manage',
  agree: 'second.agree',
  audit: 'audit.see',
  account: 'own.account',
}

/** The head of Set-up with its surfaces, as far as whoever looks may see them. */
export function SetupHead(props: { at: SetupPart; about: ReactNode; children?: ReactNode }) {
  const may = useMay()
  const shown = parts.filter(([id]) => may(needs[id] ?? 'setup.see'))
  return <PartsHead title="Set-up" parts={shown} {...props} />
}
