import AxeBuilder from '@axe-core/playwright'
import { expect, test, type Page } from '@playwright/test'
import sharp from 'sharp'
import { ask, scan } from './floor'
import { heronUrl, mailUrl, shopUrl } from './ports'

interface Order {
  readonly page: string
  readonly row: { readonly id: number; readonly number: string; readonly email: string }
  readonly order: { readonly items: readonly { readonly title: string; readonly tags: readonly string[] }[] }
  readonly labels: readonly { readonly carrier: string; readonly state: string }[]
}
interface ShopOrder {
  readonly number: string
  readonly refunds?: readonly { readonly minor: number; readonly reason: string }[]
}

/** An order that came a while ago, with a page for its buyer. */
async function arrived(page: Page): Promise<Order> {
  const ids = await ask<number[]>(page, 'get', '/api/desk/ids?state=delivered&service=heron-road&country=BE')
  // A second try has an order of its own.
  let left = test.info().retry
  for (const id of ids.reverse()) {
    const order = await ask<Order>(page, 'get', `/api/desk/orders/${id}`)
    if (order.page !== '' && order.order.items.every(({ tags }) => !tags.includes('live')) && left-- === 0) return order
  }
  throw new Error('no order has arrived')
}

test('a buyer sends something back: wrong first, answered by a person, brought by the carrier, looked at, and paid back once', async ({
  page,
  browser,
  request,
}) => {
  const { page: link, row, order } = await arrived(page)
  const path = new URL(link).pathname
  const phone = await browser.newPage({
    viewport: { width: 390, height: 844 },
    locale: 'en-GB',
    javaScriptEnabled: false,
  })
  await phone.goto(`${path}?lang=en`)
  await phone.getByText('Send something back').click()
  const form = phone.locator('form', { has: phone.getByRole('button', { name: 'Ask to send it back' }) })
  await form.getByLabel('It is damaged').check()
  await form.getByRole('button', { name: 'Ask to send it back' }).click()
  await expect(phone.getByRole('status')).toHaveText('Please say how many of what comes back.')
  // What was typed is there still.
  await expect(form.getByLabel('It is damaged')).toBeChecked()
  await form.getByLabel(order.items[0]!.title).first().fill('1')
  await form.getByLabel('In your words').fill('It came open.')
  const picture = (type: 'jpeg' | 'svg'): Promise<Buffer> =>
    type === 'svg'
      ? Promise.resolve(Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>'))
      : sharp({ create: { width: 400, height: 300, channels: 3, background: '#855' } })
          .jpeg()
          .toBuffer()
  await form
    .getByLabel('A photograph')
    .setInputFiles({ name: 'it.jpg', mimeType: 'image/jpeg', buffer: await picture('svg') })
  await form.getByRole('button', { name: 'Ask to send it back' }).click()
  await expect(phone.getByRole('status')).toContainText('This is no picture')
  await expect(form.getByLabel('In your words')).toHaveValue('It came open.')
  // A photograph that is too large is said on the page as well, and the address leads back to it.
  const large = await phone.request.post(`${path}/return?lang=en`, {
    multipart: { reason: 'damaged', photo: { name: 'a.jpg', mimeType: 'image/jpeg', buffer: Buffer.alloc(9_500_000) } },
  })
  expect([large.status(), await large.text()]).toEqual([422, expect.stringContaining('This is no picture')])
  expect((await phone.request.get(`${path}/return?lang=fr`)).url()).toContain(`${path}?lang=fr`)
  await form
    .getByLabel('A photograph')
    .setInputFiles({ name: 'it.jpg', mimeType: 'image/jpeg', buffer: await picture('jpeg') })
  await form.getByRole('button', { name: 'Ask to send it back' }).click()
  await expect(phone.getByText('We look at what you ask')).toBeVisible()

  // No rule answers what is damaged.
  await page.goto('/tracking/returns')
  const line = page.getByRole('row').filter({ hasText: row.number })
  await expect(line).toContainText('“It came open.”')
  await expect(line.getByRole('img', { name: 'What the buyer shows' })).toBeVisible()
  await line.getByRole('button', { name: 'Answer …' }).click()
  await line.getByRole('button', { name: 'Refuse it' }).click()
  await expect(page.getByText('Write why: the buyer reads it.')).toBeVisible()
  await line.getByRole('button', { name: 'Take it back' }).click()
  await page.getByRole('button', { name: /^with the buyer/ }).click()
  await expect(line.locator('div.font-mono')).toContainText('0035')
  const number = (await line.locator('div.font-mono').innerText()).split(/\s/)[0]!
  await phone.reload()
  const label = phone.getByRole('link', { name: /The label to print/ })
  const pdf = await phone.request.get((await label.getAttribute('href'))!)
  expect(pdf.headers()['content-type']).toBe('application/pdf')
  // The checker is a program in the page, so it looks at it where programs run.
  const elsewhere = await browser.newContext({ viewport: { width: 390, height: 844 }, locale: 'en-GB' })
  const looked = await elsewhere.newPage()
  await looked.goto(`${path}?lang=en`)
  const axe = await new AxeBuilder({ page: looked }).withTags(['wcag2a', 'wcag2aa']).analyze()
  expect(axe.violations.map(({ id }) => id)).toEqual([])
  await elsewhere.close()

  for (const status of ['collected', 'delivered'])
    await request.post(`${heronUrl}/admin/events`, {
      data: { trackingNumber: number, status },
    })
  await page.getByRole('button', { name: /^on the way/ }).click()
  await expect(line).toContainText('It is here, and nobody has looked at it')

  await page.goto('/returns')
  await scan(page, 'NO-SUCH-RETURN')
  await expect(page.getByRole('alert').filter({ hasText: 'Not awaited' })).toBeVisible()
  await scan(page, number)
  await expect(page.getByRole('status').filter({ hasText: row.number })).toBeVisible()
  const settle = page.getByRole('button', { name: 'Pay it back' })
  await expect(settle).toBeDisabled()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('button', { name: 'as new' })).toHaveAttribute('aria-pressed', 'true')
  await page.getByLabel('Another amount').fill('99999')
  await settle.click()
  await expect(page.getByText('can be paid back: that is what was paid for it.')).toBeVisible()
  await page.getByLabel('Another amount').fill('')
  await settle.click()
  await expect(page.getByRole('status').filter({ hasText: 'go back' })).toBeVisible()
  await scan(page, number)
  await expect(page.getByRole('alert').filter({ hasText: 'looked at already' })).toBeVisible()

  // What channel and customer were told, from their own books.
  const refunds = async () =>
    ((await (await request.get(`${shopUrl}/admin/orders`)).json()) as ShopOrder[]).find(
      (one) => one.number === row.number,
    )!.refunds ?? []
  await expect.poll(async () => (await refunds()).length).toBe(1)
  expect((await refunds())[0]).toMatchObject({ reason: 'damaged' })
  const mails = (await (await request.get(`${mailUrl}/admin/mails`)).json()) as { to: string; text: string }[]
  expect(mails.some(({ to, text }) => to === row.email && text.includes(number))).toBe(true)
  await phone.reload()
  await expect(phone.getByText(/You get .* back/)).toBeVisible()
  await phone.close()
})
