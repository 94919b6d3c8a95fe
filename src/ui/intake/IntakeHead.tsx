import { PartsNav } from '../kit/PartsNav'
import { ScreenHead } from '../kit/Screen'

const parts = [['imports', '/intake', 'Channels and imports'], ['wordings', '/intake/wordings', 'Wording tables']] as const

/** The head of Intake with its surfaces. */
export function IntakeHead({ at }: { at: 'imports' | 'wordings' }) {
  return (
    <ScreenHead title="Intake" about={at === 'imports' ? 'Orders come in here, from channels and from files' : 'What the checkout’s wording means for each channel'}>
      <PartsNav of="Intake" parts={parts} at={at} />
    </ScreenHead>
  )
}
