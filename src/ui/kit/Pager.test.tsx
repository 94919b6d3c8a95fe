/** @jest-environment jsdom */
import { render, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { Pager } from './Pager'
import { skipInAddress } from './useSkip'

function shown(skip: number, total: number) {
  const asked: number[] = []
  const seen = jest.fn()
  render(
    <div>
      <table ref={(table) => void (table && (table.scrollIntoView = seen))} />
      <Pager {...{ skip, total, size: 50 }} onSkip={(next) => asked.push(next)} />
    </div>,
  )
  return { asked, seen, press: (name: string) => userEvent.click(screen.getByRole('button', { name })) }
}

test('one page that holds all needs no way to others', () => {
  shown(0, 50)
  expect(screen.queryByRole('button')).toBeNull()
})

test('the next page is read from its beginning, and the last has none after it', async () => {
  const { asked, seen, press } = shown(50, 120)
  screen.getByText('51 to 100 of 120')
  await press('Next')
  await press('Previous')
  expect(asked).toEqual([100, 0])
  expect(seen.mock.calls).toEqual([[{ block: 'start' }], [{ block: 'start' }]])
})

test('an address behind the last page says so, and leads back to it', async () => {
  const { asked, press } = shown(9000, 120)
  screen.getByText('There are 120 in all')
  expect(screen.getByRole('button', { name: 'Next' })).toHaveProperty('disabled', true)
  await press('Previous')
  expect(asked).toEqual([70])
})

test.each([
  ['100', 100],
  ['-5', 0],
  ['99999999999', 10_000_000],
  ['abc', null],
])('?skip=%s is read as %s', (text, skip) => {
  expect(skipInAddress.parse(text)).toBe(skip)
})
