import { expect, test, type Page } from '@playwright/test'
import { laneUrl } from './ports'

const form = (page: Page) => page.getByRole('complementary', { name: 'Tallow Lane' })
const row = (page: Page) => page.getByRole('row').filter({ has: page.getByRole('button', { name: 'Tallow Lane' }) })
/** It answers, however busy its machine is. */
const works = /works|slow/
const tell = (page: Page, path: string, data: object) => page.request.post(`${laneUrl}${path}`, { data })

test('a marketplace is authorised, the authorisation ends, and is given again; what is denied changes nothing', async ({
  page,
}) => {
  await page.goto('/intake/connections')
  await expect(row(page)).toContainText(works)
  // It ends at the marketplace; the next import finds out.
  await tell(page, '/admin/authorisations', { withdrawn: true })
  await page.getByRole('button', { name: 'Import from all now' }).click()
  await expect(row(page)).toContainText('authorisation ended')
  await expect(row(page)).toContainText('authorise it again')
  await expect(page.getByRole('img', { name: /imports? or connections? that needs? a person/ })).toBeVisible()

  await page.getByRole('button', { name: 'Tallow Lane' }).click()
  await form(page).getByRole('button', { name: 'Authorise' }).click()
  await expect(page.getByRole('heading', { name: 'Gharry asks for access to your shop' })).toBeVisible()
  await page.getByRole('button', { name: 'Do not allow' }).click()
  await expect(page.getByRole('status').filter({ hasText: 'It was not allowed there' })).toBeVisible()
  await expect(row(page)).toContainText('authorisation ended')

  await form(page).getByRole('button', { name: 'Authorise' }).click()
  await page.getByLabel('Country of the shop').selectOption('NL')
  await page.getByLabel('For how long').selectOption('30')
  await page.getByRole('button', { name: 'Allow', exact: true }).click()
  await expect(page.getByRole('status').filter({ hasText: 'It is authorised' })).toBeVisible()
  expect(new URL(page.url()).searchParams.has('code')).toBe(false)
  await form(page).getByRole('button', { name: 'Test' }).click()
  await expect(form(page).getByRole('status').filter({ hasText: 'The channel answers' })).toBeVisible()
  await expect(row(page)).toContainText(works)

  // Whoever comes back with an old address is told so.
  await page.goto('/api/intake/connections/callback?code=x&state=y')
  await expect(page.getByRole('status').filter({ hasText: 'belongs to no authorisation' })).toBeVisible()
})
