import { readFileSync } from 'node:fs'
import { expect, test } from '@playwright/test'
import { accessible, as, freshPage } from './asRole'
import { message } from './message'
import { ownGharry } from './ownGharry'

test('Health says what waits, whether backups are made, and what it runs on; a packer does not see it', async ({
  browser,
}) => {
  const page = await as(browser, 'dispatcher')
  await page.goto('/setup/health')
  const health = page.getByRole('region', { name: 'Health' })
  await expect(health.getByRole('row', { name: /Labels to buy and void/ })).toBeVisible()
  // The worker and the keeper of the backups say so themselves.
  await expect(health.getByText('Can be restored to').locator('xpath=following-sibling::dd[1]')).toContainText(
    /any moment until/,
  )
  const runs = health.getByRole('region', { name: 'Runs on' })
  await expect(runs.getByText('Worker', { exact: true })).toBeVisible()
  await expect(runs.getByText(/silent/)).toHaveCount(0)
  await accessible(page)
  const packer = await as(browser, 'packer')
  await packer.goto('/setup/health')
  await expect(packer).toHaveURL(/\/not-yours/)
})

test('a machine asks whether all is well; figures are for whoever has the token', async ({ request }) => {
  expect(await (await request.get('/api/health')).json()).toMatchObject({ ok: true, worker: true, readOnly: false })
  const answer = await request.get('/metrics')
  expect(answer.status()).toBe(404)
  expect(await answer.text()).toContain('GHARRY_METRICS_TOKEN')
})

test('while the disk is almost full nothing is changed, and everybody is told why; figures are given by their token', async ({
  browser,
}) => {
  // No disk has a terabyte left for this.
  const full = await ownGharry({ GHARRY_LEAST_FREE_MB: '1000000', GHARRY_METRICS_TOKEN: 'a token of the house' })
  const page = await freshPage(browser, full.url)
  try {
    expect(await (await page.request.get('/api/health')).json()).toMatchObject({ ok: true, readOnly: true })
    await page.goto(full.ownerLink)
    await page.getByLabel('Your name').fill('Ilse Full')
    await page.getByLabel('E-mail address').fill('ilse@full.example')
    for (const label of ['Password', 'Once more']) await page.getByLabel(label).fill('long tails catch wind')
    await page.getByRole('button', { name: 'Go in' }).click()
    await expect(page).toHaveURL(/\/setup$/)
    await page.goto('/setup/health')
    await expect(page.getByText('Nothing is changed until this is seen to')).toBeVisible()
    await expect(page.getByText(/changes nothing below 1000000 MB: make room there/)).toBeVisible()
    await accessible(page)
    await page.goto('/setup/privacy')
    await page.getByLabel('All orders, days').fill('90')
    await page.getByRole('button', { name: 'Save' }).click()
    await expect(message(page, 'Nothing is changed now. The disk of the data folder has')).toBeVisible()
    // What was typed is still there.
    await expect(page.getByLabel('All orders, days')).toHaveValue('90')
    const figures = await page.request.get('/metrics', { headers: { authorization: 'Bearer a token of the house' } })
    expect(figures.status()).toBe(200)
    expect(await figures.text()).toMatch(/^gharry_read_only 1$/m)
    expect((await page.request.get('/metrics', { headers: { authorization: 'Bearer another' } })).status()).toBe(401)
  } finally {
    await full.close()
    await page.context().close()
  }
})

test('a buyer asks: taken away as a file, then forgotten with a receipt; a reader sees the days and may do neither', async ({
  browser,
}) => {
  const page = await as(browser, 'lead')
  await page.goto('/setup/privacy')
  const api = await page.request.get('/api/desk?state=delivered')
  const { rows } = (await api.json()) as { rows: { number: string; buyer: string }[] }
  const { number, buyer } = rows.at(-1)!
  await page.getByLabel('E-mail address or order number').fill(number)
  await page.keyboard.press('Enter')
  const list = page.getByRole('list', { name: 'Orders of this buyer' })
  await expect(list.getByText(buyer)).toBeVisible()
  await accessible(page)
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Take the data away' }).click(),
  ])
  expect(readFileSync(await file.path(), 'utf8')).toContain(buyer)
  await page.getByRole('button', { name: 'Forget …' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Not now' }).click()
  await page.getByRole('button', { name: 'Forget …' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Forget', exact: true }).click()
  await expect(message(page, '1 order no longer says whose it was: receipt')).toBeVisible()
  await expect(list.getByText('taken out')).toBeVisible()
  await expect(
    page
      .getByRole('region', { name: 'Receipts' })
      .getByRole('row', { name: /A buyer asked/ })
      .first(),
  ).toBeVisible()

  await page.getByLabel('All orders, days').fill('0')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText('Enter a number of days from 1 to 3,650.')).toBeVisible()
  await page.getByLabel('All orders, days').fill('3650')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(message(page, 'What is older is taken out within the hour')).toBeVisible()
  await page.getByLabel('All orders, days').fill('')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByLabel('All orders, days')).toHaveValue('')

  const reader = await as(browser, 'reader')
  await reader.goto('/setup/privacy')
  await expect(reader.getByLabel('All orders, days')).toBeVisible()
  expect((await reader.request.post('/api/setup/privacy/forget', { data: { who: number, orders: [] } })).status()).toBe(
    403,
  )
})
