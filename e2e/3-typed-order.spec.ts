import { expect, test } from '@playwright/test'
import { message } from './message'

test('an order is typed by the keyboard with wrong input first, quoted, taken in, bought, and sent again', async ({
  page,
}) => {
  await page.goto('/desk')
  await page.getByRole('button', { name: 'New order' }).press('Enter')
  const form = page.getByRole('complementary', { name: 'New order' })
  await expect(form.getByLabel('Paste a whole address')).toBeFocused()
  await page.keyboard.insertText('Noor Van Acker\nCoupure Links 88\nnoor@vanacker.example\n9000 Gent\nBelgium')
  await page.keyboard.press('Tab')
  await page.keyboard.press('Enter')
  await expect(form.getByLabel('Street lines')).toHaveValue('Coupure Links 88')
  await expect(form.getByLabel('E-mail')).toHaveValue('noor@vanacker.example')
  await expect(form.getByLabel('Country')).toHaveValue('BE')

  await form.getByRole('button', { name: 'Take it in' }).click()
  await expect(form.getByText('Add an item, or a weight and a size.').first()).toBeVisible()
  await form.getByLabel('Item or goods, line 1').fill('A book')
  await form.getByLabel('Weight of one, line 1').fill('heavy')
  await expect(form.getByText('“heavy” is no weight such as 1.2 kg or 1 lb 4 oz.')).toBeVisible()
  await form.getByLabel('Weight of one, line 1').fill('1 lb 4 oz')
  await form.getByLabel('Size of one, line 1').fill('12 × 9 × 2 in')
  const cost = form.getByRole('region', { name: 'What it costs' })
  await expect(cost.getByRole('row').nth(1)).toContainText('€')

  // A reload loses nothing.
  await page.reload()
  await expect(form.getByLabel('Size of one, line 1')).toHaveValue('12 × 9 × 2 in')
  await expect(cost.getByRole('row').nth(1)).toContainText('€')
  await form.getByRole('button', { name: 'Take it in' }).click()

  const order = page.getByRole('complementary', { name: 'Order' })
  await expect(order.getByRole('heading', { name: /^H-/ })).toBeVisible()
  await order.getByRole('button', { name: 'Buy the label' }).click()
  await page.getByRole('button', { name: /^Buy for/ }).click()
  await expect(message(page, 'The label is being bought')).toBeVisible()
  await expect(order.getByRole('button', { name: 'Print slip and label' })).toBeVisible()

  await order.getByRole('button', { name: 'Send again' }).click()
  const again = page.getByRole('complementary', { name: 'New order' })
  await expect(again.getByRole('heading', { name: 'Again to this address' })).toBeVisible()
  await expect(again.getByLabel('Street lines')).toHaveValue('Coupure Links 88')
  await again.getByRole('button', { name: 'Throw it away' }).click()
  await expect(again).toHaveCount(0)
})
