import { expect, test, type Locator, type Page } from '@playwright/test'
import { draftOf } from './draftOf'
import { ruleAt } from './ruleAt'

/* What is clicked twice is done once; what changes while one types is announced once. */

/** Clicks twice in a moment, and once more before the line answers; says how often the server was told. */
async function twice(page: Page, path: RegExp, button: Locator): Promise<number> {
  let told = 0
  let answer = (): void => undefined
  const answered = new Promise<void>((resolve) => (answer = resolve))
  const isIt = (url: URL): boolean => path.test(url.pathname)
  await page.route(isIt, async (route) => {
    if (route.request().method() === 'GET') return route.continue()
    told++
    await answered
    return route.continue()
  })
  await button.dblclick({ force: true })
  await page.waitForTimeout(300)
  // A third time, while it is under way.
  if (await button.isVisible()) await button.click({ force: true, timeout: 1000 }).catch(() => undefined)
  await expect.poll(() => told).toBeGreaterThan(0)
  answer()
  await page.waitForTimeout(1500)
  await page.unroute(isIt)
  return told
}

test('an import that is clicked twice, and once more, is asked for once', async ({ page }) => {
  await page.goto('/intake')
  const imports = page.getByRole('button', { name: 'Import now from Mossgill Shop' })
  await imports.waitFor()
  expect(await twice(page, /^\/api\/intake/, imports)).toBe(1)
})

test('a top-up is confirmed once, however often it is clicked', async ({ page }) => {
  await page.goto('/ledger/balance')
  const row = page.getByRole('row').filter({ hasText: 'Skua Air' }).first()
  await row.getByLabel('Top-up of Skua Air').fill('31.07')
  await row.getByRole('button', { name: 'Top up' }).click()
  const confirm = page.getByRole('dialog').getByRole('button', { name: 'Top up by €31.07' })
  expect(await twice(page, /^\/api\/ledger\/balance/, confirm)).toBe(1)
  await expect(page.getByRole('row').filter({ hasText: '31.07' }).filter({ hasText: 'top-up' })).toHaveCount(1)
})

test('an example, a decision by hand, its release and an address are each asked for once', async ({ page }) => {
  await page.goto('/desk?state=ready&country=BE')
  await page.getByRole('row').nth(3).click()
  const order = page.getByRole('complementary', { name: 'Order' })
  await expect(order.getByText('Services for this parcel')).toBeVisible()
  expect(await twice(page, /\/example$/, order.getByRole('button', { name: 'Pin as an example' }))).toBe(1)

  const field = order.getByRole('combobox', { name: 'Decide by hand' })
  await field.fill('priority later')
  await expect(page.getByRole('option').first()).toContainText('later')
  let decided = 0
  page.on('request', (request) => {
    if (request.method() !== 'GET' && /\/api\/desk\/(?:edits|orders\/\d+\/pins)$/.test(request.url())) decided++
  })
  await page.keyboard.press('Enter')
  await page.keyboard.press('Enter')
  await expect(order.getByRole('button', { name: 'Release', exact: true })).toBeVisible()
  expect(decided).toBe(1)

  expect(await twice(page, /\/pins$/, order.getByRole('button', { name: 'Release', exact: true }))).toBe(1)
  await expect(order.getByRole('button', { name: 'Release', exact: true })).toHaveCount(0)

  await order.getByRole('button', { name: 'Edit the address' }).click()
  await order.getByLabel('Street lines').fill('Lindenlaan 12')
  expect(await twice(page, /\/orders\/\d+\/address$/, order.getByRole('button', { name: 'Use this address' }))).toBe(1)
  await expect(order).toContainText('Lindenlaan 12')
})

test('while a value is typed, a screen reader hears the result after a pause, and hears it once', async ({
  page,
  request,
}) => {
  // As the demo begins: other tests publish other rules.
  await draftOf(request, 1)
  await page.goto('/rules')
  const rule = await ruleAt(page, 'v-rest')
  await rule.getByRole('button', { name: 'the cheapest that arrives by the promised day' }).click()
  const spoken = page.getByRole('status', { name: 'Announcements' })
  await spoken.evaluate((element) => {
    const heard: string[] = []
    Object.assign(window, { heard })
    new MutationObserver(() => heard.push(element.textContent)).observe(element, {
      ...{ childList: true, characterData: true, subtree: true },
    })
  })
  await page.keyboard.type('fastest', { delay: 60 })
  const spokenWords = async (): Promise<string[]> =>
    (await page.evaluate(() => (window as unknown as { heard: string[] }).heard)).filter(Boolean)
  await expect.poll(async () => (await spokenWords()).length).toBeGreaterThan(0)
  await page.waitForTimeout(4000)
  const heard = await spokenWords()
  expect(heard.length).toBeLessThanOrEqual(2)
  expect(new Set(heard).size).toBe(heard.length)
  for (const words of heard) expect(words).not.toMatch(/\bms\b|millisecond/)
  await page.keyboard.press('Escape')
  await draftOf(request)
})
