import AxeBuilder from '@axe-core/playwright'
import { expect, test } from '@playwright/test'
import { message } from './message'
import { mailUrl } from './ports'

interface StoredMail {
  readonly subject: string
  readonly text: string
}

test('a buyer is asked by letter, answers on the page, and the answer becomes the address', async ({
  page,
  request,
  browser,
}) => {
  await page.goto('/desk?state=attention&country=GB')
  const row = page.getByRole('row').nth(1)
  const number = (
    await row
      .getByRole('gridcell')
      .filter({ hasText: /^[A-Z]{2}-\d+$/ })
      .first()
      .innerText()
  ).trim()
  await row.getByRole('checkbox').check()
  await page.keyboard.press('w')
  const letter = page.getByRole('complementary', { name: 'Write to buyers' })
  await expect(letter.getByRole('region', { name: 'What they read' })).toContainText(number)
  await letter.getByRole('button', { name: 'Change these words' }).click()
  await letter.getByRole('textbox', { name: 'Letter', exact: true }).fill('{{ order.colour }}')
  await expect(page.getByRole('alert').filter({ hasText: 'undefined variable' })).toHaveCount(1)
  await expect(letter.getByRole('alert')).toContainText('undefined variable')
  // Half done, it is still there after a reload.
  await page.reload()
  await page.getByRole('row').nth(1).getByRole('checkbox').check()
  await page.keyboard.press('w')
  await expect(letter.getByRole('textbox', { name: 'Letter', exact: true })).toHaveValue('{{ order.colour }}')
  await letter.getByRole('combobox').selectOption({ label: 'Post-office box: which address' })
  await letter.getByRole('button', { name: 'Send the letter' }).click()
  await expect(message(page, 'held until they answer')).toBeVisible()

  const mail = async (): Promise<StoredMail | undefined> =>
    ((await (await request.get(`${mailUrl}/admin/mails`)).json()) as StoredMail[]).find(
      ({ subject, text }) => subject.includes(number) && text.includes('/track/answer/'),
    )
  await expect.poll(mail).toBeDefined()
  const link = /http\S+\/track\/answer\/[\w-]+/.exec((await mail())!.text)![0]
  const context = await browser.newContext({ viewport: { width: 390, height: 844 }, javaScriptEnabled: false })
  const phone = await context.newPage()
  await phone.goto(link)
  await phone.getByRole('textbox').fill('Ada Sample\n12 Park Street\nBristol BS1 5HX')
  await phone.getByRole('button').click()
  await expect(phone.getByRole('status')).toBeVisible()
  await context.close()
  const checked = await browser.newContext()
  const looked = await checked.newPage()
  await looked.goto(link)
  const { violations } = await new AxeBuilder({ page: looked }).analyze()
  expect(violations.map(({ id }) => id)).toEqual([])
  await checked.close()

  await page.goto(`/desk?q=${number}`)
  await expect(page.getByRole('row').nth(1)).toContainText('The buyer answered')
  await page.getByRole('row').nth(1).click()
  const order = page.getByRole('complementary', { name: 'Order' })
  await order.getByRole('button', { name: 'Into the address' }).click()
  await expect(order.getByLabel('Street lines')).toHaveValue('12 Park Street')
  await order.getByRole('button', { name: 'Use this address' }).click()
  await order.getByRole('button', { name: 'Read: let it go on' }).click()
  await expect(order.getByRole('list', { name: 'What the customer wrote' })).toHaveCount(0)
  await expect(order).toContainText('12 Park Street')
})
