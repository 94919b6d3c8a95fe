/** @jest-environment jsdom */
import { render } from '@testing-library/react'
import { emptySummary, type TrialSummary } from '@/core/rulebook/change'
import { Effect, EffectOf } from './Effect'

const said = (more: Partial<TrialSummary>): string | null =>
  render(<Effect summary={{ ...emptySummary(), ...more }} />).container.textContent
const saidOf = (summary: TrialSummary | null, failed: string | null = null): string | null =>
  render(<EffectOf what="this" summary={summary} failed={failed} />).container.textContent

test('many change, or one changes', () => {
  expect(said({ orders: 1196, changed: 412, serviceChanges: 3, newlyLate: 2, newlyStuck: 5 })).toBe(
    '412 of 1,196 orders change3 change service2 arrive late5 need attention',
  )
  expect(said({ orders: 1, changed: 1, serviceChanges: 1, newlyLate: 1, noLongerStuck: 1 })).toBe(
    '1 of 1 order changes1 changes service1 arrives late1 no longer needs attention',
  )
})

test('what it costs or saves, and what is better than before', () => {
  expect(said({ orders: 20, changed: 2, costDifference: -120410, noLongerLate: 4 })).toMatch(
    /^2 of 20 orders change€1,204\.10 saved4 no longer late$/,
  )
  expect(said({ orders: 20, changed: 2, costDifference: 50 })).toMatch(/€0\.50 dearer$/)
})

test('while it is tried, when it fails, and when nothing changes, that is said', () => {
  expect(saidOf(null)).toBe('Trying this …')
  expect(saidOf(null, 'The trial has failed.')).toBe('The trial has failed.')
  expect(saidOf({ ...emptySummary(), orders: 1 })).toBe('This changes none of 1 order.')
  expect(saidOf({ ...emptySummary(), orders: 9, changed: 1 })).toBe('1 of 9 orders changes')
})
