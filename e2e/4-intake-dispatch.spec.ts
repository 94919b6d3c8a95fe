import { expect, test } from '@playwright/test'
import { message } from './message'

test('a file with bad rows: columns are shown first, good rows go in, bad ones are named', async ({ page }) => {
  await page.goto('/intake')
  await page.setInputFiles('#order-file', {
    name: 'wholesale.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(
      '\uFEFFOrder;Thing;Qty;Name;Street;Postcode;City;Country\nW-1;TLS-TWEEZ;2;Ann;Kouter 1;9000;Gent;BE\nW-2;TLS-TWEEZ;lots;Bob;Kouter 2;9000;Gent;BE\n',
    ),
  })
  const mapper = page.getByRole('region', { name: 'Columns of the file' })
  await expect(mapper).toContainText('Choose the column for: SKU.')
  await expect(mapper.getByRole('button', { name: 'Import the file' })).toBeDisabled()
  await mapper.getByLabel('What the column Thing holds').selectOption({ label: 'SKU *' })
  await mapper.getByRole('button', { name: 'Import the file' }).click()
  const row = page.getByRole('row').filter({ hasText: 'wholesale.csv' })
  await expect(row).toContainText('done')
  await row.getByRole('button', { name: '1', exact: true }).click()
  await expect(page.getByText('The quantity "lots" is no whole number from 1 to 99,999.')).toBeVisible()
  await page.setInputFiles('#order-file', { name: 'prose.csv', mimeType: 'text/csv', buffer: Buffer.from('Dear Sirs') })
  await expect(message(page, 'no columns that can be told apart')).toBeVisible()
})

test('buying, voiding and the pending refund', async ({ page }) => {
  await page.goto('/desk?state=ready&service=heron-road')
  for (const row of [1, 2, 3]) await page.getByRole('row').nth(row).getByRole('checkbox').check()
  await page.keyboard.press('b')
  await expect(page.getByRole('heading', { name: /^3 labels for/ })).toBeVisible()
  await page.getByRole('grid', { name: 'Orders of the batch' }).getByRole('checkbox').first().uncheck()
  await page.getByRole('button', { name: 'Buy 2 labels' }).click()
  await page.getByRole('button', { name: /^Buy for/ }).click()
  const batch = page.getByRole('complementary', { name: /Batch/ })
  await expect(batch).toContainText('2 of 2 bought')
  await batch
    .getByRole('button', { name: /^Void the label/ })
    .first()
    .click()
  await page.getByRole('button', { name: /^Void, .* back$/ }).click()
  await expect(batch.getByText('voided', { exact: true })).toBeVisible()
  await batch.getByRole('button', { name: 'Mark as handed over' }).click()
  await page.goto('/ledger')
  await page.getByRole('link', { name: /refunds pending/ }).click()
  await expect(page.getByText('Promised by')).toBeVisible()
  await page.goto('/tracking/told')
  await page.getByRole('button', { name: 'dropped' }).click()
  await expect(page.getByRole('region', { name: 'Notices to customers' })).toContainText('The label was voided first.')
})
