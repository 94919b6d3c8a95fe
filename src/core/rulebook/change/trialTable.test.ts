import { minorUnits } from '@/core/units'
import type { TrialChange } from './trial'
import { trialColumns, trialRow } from './trialTable'

test('a changed order as a row: amounts in units, nothing where nothing was decided, late as yes or no', () => {
  const change: TrialChange = {
    id: 7,
    number: 'MG-7',
    channel: 'shop',
    country: 'BE',
    decisions: ['picks', 'preset'],
    before: {
      service: 'a-slow',
      carrier: 'a',
      cost: minorUnits(405),
      arrivesOn: '2026-11-27',
      late: true,
      state: 'ready',
    },
    after: { service: null, carrier: null, cost: null, arrivesOn: null, late: false, state: 'attention' },
  }
  expect(trialRow(change)).toHaveLength(trialColumns.length)
  expect(Object.fromEntries(trialRow(change).map((cell, i) => [trialColumns[i], cell]))).toEqual({
    order: 'MG-7',
    channel: 'shop',
    country: 'BE',
    'service before': 'a-slow',
    'service after': '',
    'cost before': '4.05',
    'cost after': '',
    'arrives before': '2026-11-27',
    'arrives after': '',
    'late before': 'yes',
    'late after': 'no',
    'state before': 'ready',
    'state after': 'attention',
    differs: 'picks preset',
  })
})
