import { execFileSync } from 'node:child_process'
import { writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, test } from '@playwright/test'
import { printedBy } from './printing'
import { corvidUrl, heronUrl, mailUrl, shopUrl } from './ports'

test('from an order placed in the shop to the customer’s tracking page', async ({ page, request }) => {
  // A buyer orders; faults are on everywhere.
  for (const url of [heronUrl, corvidUrl])
    await request.post(`${url}/admin/faults`, { data: { timeOutAfterWork: 2, serverError: 3 } })
  await request.post(`${shopUrl}/admin/faults`, { data: { malformedBody: 3, serverError: 4 } })
  await page.goto(shopUrl)
  await page.getByLabel('Product').selectOption({ label: 'Plant tweezers, 27 cm, 9.90 €' })
  await page.getByLabel('Your name').fill('Zelda Quist')
  await page.getByLabel('E-mail').first().fill('zelda@quist.example')
  await page.getByRole('button', { name: 'Place the order' }).click()
  await expect(page.locator('#state')).toHaveText('open')
  const buyerPage = page.url()
  const number = new URL(buyerPage).searchParams.get('number')!

  // The order comes in and is routed.
  await page.goto('/intake')
  await page.getByRole('button', { name: 'Import now from Mossgill Shop' }).click()
  await page.goto('/desk')
  await expect(page.getByRole('row').nth(1)).toBeVisible()
  await page.keyboard.press('/')
  await page.keyboard.type(number)
  await expect(page.getByRole('row').filter({ hasText: number })).toContainText('ready')
  await page.getByRole('row').filter({ hasText: number }).getByRole('checkbox').check()
  await page.getByRole('button', { name: 'Plan a batch' }).click()

  // One confirmation buys it.
  await page.getByRole('button', { name: 'Buy 1 label' }).click()
  await page.getByRole('button', { name: /^Buy for/ }).click()
  const batch = page.getByRole('complementary', { name: /Batch/ })
  // Every second call is done without an answer and every third refused: it may take the pauses before some tries.
  await expect(batch.getByText('bought', { exact: true })).toBeVisible({ timeout: 300_000 })
  const pdf = await printedBy(page, request, batch.getByRole('button', { name: /^Print 1/ }))
  const file = join(tmpdir(), `gharry-${process.pid}.pdf`)
  writeFileSync(file, pdf)
  const printed = execFileSync('pdftotext', ['-layout', file, '-'], { encoding: 'utf8' })
  expect(printed).toContain('Zelda Quist')
  expect(printed).toContain(number)

  // The shop shows the tracking number, once.
  await page.goto(buyerPage)
  await expect
    .poll(async () => {
      await page.reload()
      return page.locator('#state').textContent()
    })
    .toBe('fulfilled')
  await expect(page.getByRole('link', { name: 'Where is it?' })).toHaveCount(1)

  // The customer has a mail with a link that works, on a phone.
  await expect
    .poll(
      async () =>
        ((await (await request.get(`${mailUrl}/admin/mails`)).json()) as { subject: string }[]).filter((mail) =>
          mail.subject.includes(number),
        ).length,
    )
    .toBe(1)
  await page.goto(mailUrl)
  await page.getByRole('link', { name: new RegExp(number) }).click()
  await page.setViewportSize({ width: 390, height: 800 })
  await page.frameLocator('iframe').getByRole('link').first().click()
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('It is packed and waits for the carrier')
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390)
  for (let day = 0; day < 8; day++)
    for (const url of [heronUrl, corvidUrl]) await request.post(`${url}/admin/clock`, { data: { days: 1 } })
  await expect
    .poll(async () => {
      await page.reload()
      return page.getByRole('heading', { level: 1 }).textContent()
    })
    .toBe('It has arrived')

  // Without the link: by number and e-mail, and nothing for a wrong pair.
  await page.goto('/track')
  await page.getByLabel('Order number').fill(number)
  await page.getByLabel('E-mail address').fill('somebody@else.example')
  await page.getByRole('button', { name: 'Find it' }).click()
  await expect(page.getByRole('main').getByRole('alert')).toContainText('cannot find a parcel')
  await page.getByLabel('Order number').fill(number)
  await page.getByLabel('E-mail address').fill('Zelda@Quist.example')
  await page.getByRole('button', { name: 'Find it' }).click()
  await expect(page.getByText(`order ${number}`)).toBeVisible()
  for (const url of [heronUrl, corvidUrl, shopUrl])
    await request.post(`${url}/admin/faults`, { data: { timeOutAfterWork: 0, serverError: 0, malformedBody: 0 } })
})
