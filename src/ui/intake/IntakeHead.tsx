import Link from 'next/link'
import { ScreenHead } from '../kit/Screen'

const parts = [['imports', '/intake', 'Channels and imports'], ['wordings', '/intake/wordings', 'Wording tables']] as const

/** The head of Intake with its two surfaces. */
export function IntakeHead({ at }: { at: 'imports' | 'wordings' }) {
  return (
    <ScreenHead title="Intake" about={at === 'imports' ? 'Orders come in here, from channels and from files' : 'What the checkout’s wording means for each channel'}>
      <nav aria-label="Parts of Intake" className="flex gap-1">{parts.map(([id, href, name]) => <Link key={id} href={href} aria-current={id === at ? 'page' : undefined} className={`px-2 py-1 ${id === at ? 'border-b-2 border-act font-semibold' : 'text-soft hover:text-act'}`}>{name}</Link>)}</nav>
    </ScreenHead>
  )
}
