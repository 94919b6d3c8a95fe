import { render, screen } from '@testing-library/react'
import userEvent, { type UserEvent } from '@testing-library/user-event'
import { type ReactElement, useState } from 'react'
import type { Action, Condition, Stage, Wordings } from '@/core/rulebook/language'
import { testWorld } from '../../core/rulebook/language/arbitraries.test-help'
import { ActionWords } from './ActionWords'
import { ConditionWords } from './ConditionWords'

// The document of these tests has no window that could scroll.
Element.prototype.scrollIntoView = () => {}

export const words: Wordings = {
  world: testWorld,
  groups: [{ id: 'north', name: 'North' }],
  conditions: [{ id: 'big', name: 'Big' }],
  channels: [{ id: 'shop', name: 'The shop' }],
}

/** A part of a sentence with a memory, as the page has it: what it says last is kept, and can be asked for. */
function kept<T>(
  first: T,
  draw: (value: T, put: (next: T) => void) => ReactElement,
): { now: () => T; hands: UserEvent } {
  let last = first
  function Kept(): ReactElement {
    const [value, put] = useState(first)
    return draw(value, (next) => {
      last = next
      put(next)
    })
  }
  render(<Kept />)
  return { now: () => last, hands: userEvent.setup() }
}

export const conditionWords = (first: Condition, stage: Stage = 'service') =>
  kept<Condition>(first, (condition, put) => (
    <ConditionWords
      top
      condition={condition}
      context={{ stage, words, seen: { wording: [{ id: 'Express', name: 'Express' }] } }}
      onChange={(next) => put(next ?? { all: [] })}
    />
  ))

export const actionWords = (first: readonly Action[], stage: Stage = 'triage') =>
  kept<readonly Action[]>(first, (actions, put) => (
    <ActionWords actions={actions} stage={stage} words={words} onChange={put} />
  ))

/** Opens a word by what it says. */
export async function open(hands: UserEvent, name: string | RegExp): Promise<void> {
  await hands.click(screen.getAllByRole('button', { name })[0]!)
}
