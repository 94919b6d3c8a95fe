import { expect, test } from '@playwright/test'
import { ask } from './floor'

interface Stock {
  readonly rows: readonly { readonly sku: string; readonly onHand: number; readonly reserved: number }[]
}

test('a file of counts: wrong cells are named and change nothing, then it is taken; a line is counted by the keyboard, and shows its moves', async ({
  page,
}) => {
  await page.goto('/dispatch/stock')
  const file = (text: string) => ({ name: 'counts.csv', mimeType: 'text/csv', buffer: Buffer.from(text) })
  const choose = page.locator('#stock-file')
  await choose.setInputFiles(file('sku,location,on hand\nE2E-A,ghent,many\nE2E-B,mars,3\n'))
  const shown = page.getByRole('region', { name: 'File of counts' })
  await expect(shown).toContainText('2 cells cannot be read')
  await expect(shown).toContainText('Line 3, location: There is no location “mars”.')
  await expect(shown.getByRole('button', { name: 'Take it' })).toHaveCount(0)
  await shown.getByRole('button', { name: 'Put it away' }).click()
  await choose.setInputFiles(file('sku,location,on hand\nE2E-A,ghent,5\nE2E-B,Ghent,3\n'))
  await expect(shown).toContainText('2 counts, 2 of them differ')
  await shown.getByRole('button', { name: 'Take it' }).click()
  await expect(page.getByText('2 counts are taken')).toBeVisible()

  await page.getByLabel('Find a SKU').fill('E2E-')
  const field = page.getByLabel('On hand of E2E-A')
  await expect(field).toHaveValue('5')
  await expect(page.getByLabel('On hand of E2E-B')).toHaveValue('3')
  await field.fill('some')
  await expect(field).toHaveAttribute('aria-invalid', 'true')
  await page.keyboard.press('Escape')
  await expect(field).toHaveValue('5')
  await field.fill('7')
  await page.keyboard.press('Enter')
  await expect(page.getByText('E2E-A: 7 counted')).toBeVisible()
  await page.getByRole('button', { name: 'Moves of E2E-A in Ghent' }).click()
  await expect(page.getByRole('row').filter({ hasText: '+2' }).last()).toContainText('counted')
  const stock = await ask<Stock>(page, 'get', '/api/dispatch/stock?search=E2E-A')
  expect(stock.rows).toMatchObject([{ sku: 'E2E-A', onHand: 7, reserved: 0 }])
})
