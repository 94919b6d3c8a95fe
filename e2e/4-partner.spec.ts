import AxeBuilder from '@axe-core/playwright'
import { expect, test, type Page } from '@playwright/test'
import { mailUrl } from './ports'

/** Orders that are ready, from a location. */
async function readyAt(page: Page, location: string): Promise<{ id: number; number: string }[]> {
  const answer = await page.request.get(`/api/desk?state=ready&location=${location}`)
  return ((await answer.json()) as { rows: { id: number; number: string }[] }).rows
}
async function buy(page: Page, id: number): Promise<void> {
  await page.goto(`/desk?order=${id}`)
  const order = page.getByRole('complementary', { name: 'Order' })
  await order.getByRole('button', { name: 'Buy the label' }).click()
  await page.getByRole('button', { name: /^Buy for/ }).click()
}

test('what is bought at the partner’s place is handed over, and the order says that they have it', async ({ page }) => {
  const [first] = await readyAt(page, 'leeds')
  await buy(page, first!.id)
  const order = page.getByRole('complementary', { name: 'Order' })
  const handed = order.getByRole('region', { name: 'Handed over' })
  await expect(handed).toContainText('papers to Aire Storage')
  await expect(handed).toContainText('they have it')
})

test('a small partner gets a mail, and answers on its page: wrong first, then right', async ({ page }) => {
  await page.goto('/intake/connections?open=new-partner')
  const form = page.getByRole('complementary')
  await form.getByLabel('Kind').selectOption('mail-papers')
  await form.getByLabel('Name', { exact: true }).fill('Small Sheds')
  await form.getByLabel('E-mail address').fill('not an address')
  await form.getByRole('button', { name: 'Connect', exact: true }).click()
  await expect(form.getByText('Enter one e-mail address, such as')).toBeVisible()
  await form.getByLabel('E-mail address').fill('packing@sheds.example')
  await form.getByRole('button', { name: 'Connect', exact: true }).click()
  await expect(page).toHaveURL(/open=small-sheds/)

  // This order goes to them, whatever its location says.
  const [first] = await readyAt(page, 'leeds')
  const pinned = await page.request.post(`/api/desk/orders/${first!.id}/pins`, {
    data: { decision: 'handOver', value: 'small-sheds' },
  })
  expect(pinned.ok()).toBe(true)
  await buy(page, first!.id)
  let link = ''
  await expect
    .poll(async () => {
      const mails = (await (await page.request.get(`${mailUrl}/admin/mails`)).json()) as {
        to: string
        text: string
        attachments: { name: string }[]
      }[]
      const mail = mails.find(({ to }) => to === 'packing@sheds.example')
      link = /\/partner\/[\w-]+/.exec(mail?.text ?? '')?.[0] ?? ''
      return mail?.attachments.length ?? 0
    })
    .toBe(2)

  await page.goto(link)
  await expect(page.getByRole('heading', { name: `Please send order ${first!.number}` })).toBeVisible()
  const { violations } = await new AxeBuilder({ page }).analyze()
  expect(violations.map(({ id }) => id)).toEqual([])
  const papers = await page.request.get(`${link}/papers`)
  expect((await papers.body()).subarray(0, 5).toString()).toBe('%PDF-')
  await page.getByRole('button', { name: 'We have it' }).click()
  await expect(page.getByRole('status')).toHaveText(/You have said that you have it/)
  await page.getByLabel('Tracking numbers').fill('CV 000 000 010 BE')
  await page.getByRole('button', { name: 'It has left' }).click()
  // What was typed stays, beside what is wrong with it.
  await expect(page.getByText('its check digit is wrong')).toBeVisible()
  await expect(page.getByLabel('Tracking numbers')).toHaveValue('CV 000 000 010 BE')
  await page.goto(`/desk?order=${first!.id}`)
  await expect(page.getByRole('region', { name: 'Handed over' })).toContainText('they have it')
})

test('a parcel from the counter: its number is typed on the order, mistyped first', async ({ page }) => {
  const [, , third] = await readyAt(page, 'ghent')
  await page.goto(`/desk?order=${third!.id}`)
  const order = page.getByRole('complementary', { name: 'Order' })
  await order.getByRole('button', { name: 'It left without a label from here …' }).click()
  const number = order.getByRole('textbox', { name: /Tracking number/ })
  await number.fill('NX 7700 0000 0016')
  await order.getByRole('button', { name: 'It has left' }).click()
  await expect(order.getByText('its check digit is wrong').first()).toBeVisible()
  await number.fill('DL 000 4711')
  await order.getByRole('button', { name: 'It has left' }).click()
  const labels = order.getByRole('region', { name: 'Labels' })
  await expect(labels).toContainText('DL0004711')
  await expect(labels).toContainText('not bought here')
  await expect(order.getByRole('region', { name: 'Notifications' })).toContainText('channel: tracking number')
})
