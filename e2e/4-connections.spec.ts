import { expect, test, type Page } from '@playwright/test'
import { shopUrl as shop } from './ports'

const form = (page: Page) => page.getByRole('complementary')

test('a shop is connected with wrong input first, tested without importing, switched off, and taken out', async ({
  page,
}) => {
  await page.goto('/intake/connections')
  const channels = page.getByRole('region', { name: 'Sales channels' })
  await expect(channels.getByRole('row').filter({ hasText: 'Mossgill Shop' })).toContainText(/works|slow/)
  await page.getByRole('button', { name: 'Connect a channel' }).click()
  await expect(form(page).getByLabel('Kind')).toBeFocused()

  await form(page).getByRole('button', { name: 'Connect', exact: true }).click()
  await expect(form(page).getByText('Enter a name.')).toBeVisible()
  await expect(form(page).getByLabel('Address of the shop')).toHaveAttribute('aria-invalid', 'true')
  await expect(form(page).getByText('Enter the secret that belongs to the key.')).toBeVisible()

  await form(page).getByLabel('Name', { exact: true }).fill('Pond shop')
  await form(page).getByLabel('Address of the shop').fill(shop)
  await form(page).getByLabel('Key', { exact: true }).fill('demo-key')
  await form(page).getByRole('textbox', { name: 'Secret' }).fill('wrong')
  await form(page).getByRole('button', { name: 'Test' }).click()
  await expect(form(page).getByRole('status')).toContainText('It refuses the credentials: Key or secret is wrong.')

  await form(page).getByRole('textbox', { name: 'Secret' }).fill('demo-secret')
  await form(page).getByRole('button', { name: 'Test' }).click()
  await expect(form(page).getByRole('status')).toContainText('These come next')
  await expect(form(page).getByRole('status').getByRole('row')).toHaveCount(6)

  await form(page).getByLabel('Fetches orders').selectOption('only on demand')
  await form(page).getByRole('button', { name: 'Connect', exact: true }).click()
  await expect(page).toHaveURL(/open=pond-shop/)
  const row = channels.getByRole('row').filter({ hasText: 'Pond shop' })
  await expect(row).toContainText('not tried')
  // The secret is kept, and no browser gets it again.
  await expect(form(page).getByRole('textbox', { name: 'Secret' })).toHaveValue('')
  await expect(form(page).getByText('It is kept, and never shown.')).toBeVisible()
  const answer = await page.request.get('/api/intake/connections')
  expect(await answer.text()).not.toContain('demo-secret')

  await form(page).getByLabel('It is used').uncheck()
  await form(page).getByRole('button', { name: 'Save' }).click()
  await expect(row).toContainText('off')

  await form(page).getByRole('button', { name: 'Take out …' }).click()
  await page.getByRole('button', { name: 'Take it out' }).click()
  await expect(row).toHaveCount(0)
  await expect(page).toHaveURL(/connections$/)
})

test('two people change the same connection: the second is told, and loses nothing', async ({ page, context }) => {
  const other = await context.newPage()
  for (const each of [page, other]) await each.goto('/intake/connections?open=trade-desk')
  await form(page).getByLabel('Language of its buyers').fill('nl')
  await form(page).getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText('The connection is saved')).toBeVisible()
  await form(other).getByLabel('Language of its buyers').fill('de')
  await form(other).getByRole('button', { name: 'Save' }).click()
  await expect(other.getByText('Somebody else has changed this connection meanwhile')).toBeVisible()
  await expect(form(other).getByLabel('Language of its buyers')).toHaveValue('de')
  await form(other).getByRole('button', { name: 'Show theirs' }).click()
  await expect(form(other).getByLabel('Language of its buyers')).toHaveValue('nl')
})
