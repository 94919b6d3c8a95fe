/** @jest-environment jsdom */
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { render, screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { SetupView } from '@/usecases/setup/showSetup'
import { Demands } from './Demands'

const asked: unknown[] = []
jest.mock('../../kit/api', () => ({
  call: (endpoint: string, { body }: { body: unknown }) => {
    asked.push([endpoint, body])
    return Promise.resolve({ ok: true })
  },
}))
jest.mock('../../kit/Toast', () => ({ useSay: () => () => undefined }))
beforeEach(() => void (asked.length = 0))

const carrier = (id: string, name: string, retired = false) => ({ id, name, retired })
/** What the screen reads of all that is set up. */
const viewOf = (codes: readonly string[] | null, carriers: readonly string[]): SetupView =>
  ({
    carriers: [carrier('heron', 'Heron'), carrier('corvid', 'Corvid'), carrier('old', 'Old Post', true)],
    channels: [{ id: 'lane', name: 'Tallow Lane', codes }],
    demands: [{ channel: 'lane', offers: ['tracking'], carriers }],
  }) as unknown as SetupView
const draw = (view: SetupView): void =>
  void render(
    <QueryClientProvider client={new QueryClient()}>
      <Demands view={view} />
    </QueryClientProvider>,
  )
const take = (): HTMLElement | null => screen.queryByRole('button', { name: 'Tick those that Tallow Lane knows' })

test('carriers that its connection has codes for are offered, and taken with all else as it was', async () => {
  draw(viewOf(['heron', 'old'], []))
  expect(screen.getByText(/has codes of Heron: parcels of others cannot be told/)).toBeTruthy()
  await userEvent.click(take()!)
  const demand = { channel: 'lane', offers: ['tracking'], byPromise: false, protected: false, carriers: ['heron'] }
  await waitFor(() => expect(asked).toEqual([['PUT /api/setup/demands', { demand }]]))
})

test('nothing is offered where the ticks say the same, or the channel takes any', () => {
  draw(viewOf(['heron'], ['heron']))
  expect(take()).toBeNull()
  draw(viewOf(null, ['corvid']))
  expect(take()).toBeNull()
})

test('one more carrier is ticked; those that are gone are not asked about', async () => {
  draw(viewOf(['heron', 'corvid'], ['heron', 'old']))
  expect(screen.queryByLabelText('Tallow Lane knows Old Post')).toBeNull()
  await userEvent.click(screen.getByLabelText('Tallow Lane knows Corvid'))
  await waitFor(() => expect(asked).toHaveLength(1))
  expect(asked[0]).toMatchObject(['PUT /api/setup/demands', { demand: { carriers: ['heron', 'corvid'] } }])
})
