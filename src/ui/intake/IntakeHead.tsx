import { PartsHead } from '../kit/PartsHead'

const parts = [
  ['imports', '/intake', 'Channels and imports'],
  ['connections', '/intake/connections', 'Connections'],
  ['wordings', '/intake/wordings', 'Wording tables'],
  ['items', '/intake/items', 'Items'],
] as const
const about = {
  imports: 'Orders come in here, from channels and from files',
  connections: 'What links Gharry to channels, carriers and partners, and how each is',
  wordings: 'What the checkout’s wording means for each channel',
  items: 'What we sell, and what packing, customs and carriers must know of it',
} as const

/** The head of Intake with its surfaces. */
export const IntakeHead = ({ at }: { at: (typeof parts)[number][0] }) => (
  <PartsHead title="Intake" parts={parts} at={at} about={about[at]} />
)
