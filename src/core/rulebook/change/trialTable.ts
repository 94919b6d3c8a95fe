import type { TrialChange } from './trial'

/** The columns of a trial's changed orders as a file. */
export const trialColumns = [
  'order',
  'channel',
  'country',
  'service before',
  'service after',
  'cost before',
  'cost after',
  'arrives before',
  'arrives after',
  'late before',
  'late after',
  'state before',
  'state after',
  'differs',
] as const

/** One changed order as a row of that file; amounts in units of the home currency. */
export function trialRow({ number, channel, country, before, after, decisions }: TrialChange): string[] {
  const amount = (minor: number | null): string => (minor === null ? '' : (minor / 100).toFixed(2))
  const yes = (value: boolean): string => (value ? 'yes' : 'no')
  return [
    number,
    channel,
    country,
    before.service ?? '',
    after.service ?? '',
    amount(before.cost),
    amount(after.cost),
    before.arrivesOn ?? '',
    after.arrivesOn ?? '',
    yes(before.late),
    yes(after.late),
    before.state,
    after.state,
    decisions.join(' '),
  ]
}
