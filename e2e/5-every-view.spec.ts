import AxeBuilder from '@axe-core/playwright'
import { expect, test, type Page } from '@playwright/test'

type AxeResults = Awaited<ReturnType<AxeBuilder['analyze']>>

const views: readonly (readonly [name: string, path: string, ready: (page: Page) => Promise<unknown>])[] = [
  ['Intake', '/intake', (page) => page.getByRole('button', { name: 'Import now from Mossgill Shop' }).waitFor()],
  ['Wording tables', '/intake/wordings', (page) => page.getByLabel('Wording, row 1').first().waitFor()],
  [
    'Items',
    '/intake/items',
    (page) =>
      page
        .getByLabel(/^Weight of/)
        .first()
        .waitFor(),
  ],
  ['Rules', '/rules', (page) => page.locator('[data-rule]').first().waitFor()],
  ['Rules, its groups', '/rules?lists=groups', (page) => page.getByRole('heading', { name: 'Groups' }).waitFor()],
  ['Rules, its editions', '/rules?lists=editions', (page) => page.getByText('Edition 1').first().waitFor()],
  [
    'Rules with a trial of a range',
    '/rules',
    async (page) => {
      await page.getByRole('status', { name: 'Trial of the draft' }).getByRole('button').click()
      await page.getByRole('tab', { name: 'A range of orders' }).click()
      await page.getByRole('button', { name: 'Try the draft' }).waitFor()
    },
  ],
  ['Desk', '/desk', (page) => page.getByRole('row').nth(5).waitFor()],
  [
    'Desk with an order',
    '/desk?state=ready',
    async (page) => {
      await page.getByRole('row').nth(2).click()
      await page.getByText('Services for this parcel').waitFor()
    },
  ],
  [
    'Dispatch',
    '/dispatch',
    async (page) => {
      await page.getByRole('button', { name: 'Plan all ready orders' }).click()
      await page.getByRole('grid', { name: 'Orders of the batch' }).waitFor()
    },
  ],
  ['Tracking', '/tracking', (page) => page.getByRole('row').nth(3).waitFor()],
  ['Notifications', '/tracking/told', (page) => page.getByRole('heading', { name: /Posts to channels/ }).waitFor()],
  ['Notices', '/tracking/notices', (page) => page.locator('iframe').first().waitFor()],
  // Once it is filled, the page has come to life.
  ['Customer’s page', '/tracking/page', (page) => page.locator('iframe[srcdoc*="html"]').first().waitFor()],
  ['Claims', '/ledger/claims', (page) => page.getByRole('heading', { level: 1 }).waitFor()],
  ['Numbers', '/tracking/numbers', (page) => page.getByRole('textbox').first().waitFor()],
  ['Open interface', '/setup/interface', (page) => page.getByRole('heading', { name: 'Webhooks' }).waitFor()],
  ['Arrivals', '/tracking/arrivals', (page) => page.locator('svg text').first().waitFor()],
  ['Ledger', '/ledger', (page) => page.locator('svg text').first().waitFor()],
  [
    'Tariffs',
    '/ledger/tariffs',
    (page) =>
      page
        .getByRole('link', { name: /^Export/ })
        .first()
        .waitFor(),
  ],
  ['Set-up', '/setup', (page) => page.getByText('connected').first().waitFor()],
  ['Set-up, seller', '/setup/seller', (page) => page.getByLabel('Home currency').waitFor()],
  ['Set-up, locations', '/setup/locations', (page) => page.getByText('labels of the past').waitFor()],
  ['Set-up, carriers', '/setup/carriers', (page) => page.getByText('labels of the past').waitFor()],
  [
    'Set-up, a service that is changed',
    '/setup/services?one=heron-road',
    async (page) => {
      await page.waitForLoadState('networkidle')
      await page.getByLabel('Weight of a parcel').fill('2 kg')
      await page.getByRole('button', { name: 'See them' }).click()
      await page.getByRole('region', { name: 'Orders that change' }).waitFor()
    },
  ],
  ['Set-up, presets', '/setup/presets', (page) => page.getByText('labels of the past').waitFor()],
  ['Set-up, outages', '/setup/outages', (page) => page.getByLabel('Until').waitFor()],
  ['Your account', '/setup/account', (page) => page.getByText('here, now').waitFor()],
  ['To agree', '/setup/agree', (page) => page.getByText('Two people for').waitFor()],
  ['Audit', '/setup/audit', (page) => page.getByRole('row').nth(1).waitFor()],
  ['Balance', '/ledger/balance', (page) => page.getByRole('heading', { name: 'Bookings' }).waitFor()],
  ['Compare rates', '/ledger/rates', (page) => page.locator('svg text').first().waitFor()],
  ['Bench', '/bench', (page) => page.getByLabel('Its name').waitFor()],
  [
    'Collections',
    '/dispatch/collections',
    async (page) => {
      await page
        .getByRole('button', { name: /^Skua Air, Ghent/ })
        .nth(3)
        .click()
      await page
        .getByRole('complementary')
        .getByText(/Parcels|does not collect/)
        .first()
        .waitFor()
    },
  ],
  ['Hand-over', '/dispatch/handover', (page) => page.getByRole('heading', { name: 'Closed manifests' }).waitFor()],
  ['Door', '/door?carrier=heron&location=ghent', (page) => page.getByText(/parcels on the lorry,/).waitFor()],
  ['Counter', '/counter', (page) => page.getByRole('heading', { name: 'On the shelf' }).waitFor()],
  ['Returns', '/tracking/returns', (page) => page.getByRole('button', { name: 'Answer …' }).first().click()],
  [
    'Stock',
    '/dispatch/stock',
    (page) =>
      page
        .getByLabel(/^On hand of/)
        .first()
        .waitFor(),
  ],
  ['Returns that come', '/returns', (page) => page.getByRole('heading', { name: 'Returns' }).waitFor()],
  ['Refunds', '/ledger/refunds', (page) => page.getByText('Promised by').waitFor()],
  ['Reports', '/ledger/report', (page) => page.locator('svg text').first().waitFor()],
  ['Slips', '/dispatch/slips', (page) => page.getByRole('img', { name: /^Page 1 of the slip/ }).waitFor()],
  [
    'Desk with an address to correct',
    '/desk?state=attention',
    async (page) => {
      await page.getByRole('row').filter({ hasText: 'Check the address' }).first().click()
      await page.getByRole('button', { name: 'Edit the address' }).click()
    },
  ],
  ['Connections', '/intake/connections', (page) => page.getByRole('region', { name: 'Carriers' }).waitFor()],
  [
    'a connection',
    '/intake/connections?open=mossgill-shop',
    (page) => page.getByLabel('Address of the shop').waitFor(),
  ],
  ['the customers’ page', '/track', (page) => page.getByRole('button', { name: 'Find it' }).waitFor()],
]

for (const [name, path, ready] of views)
  test(`${name}: accessible in light and dark, nothing beyond 1280 × 800, no error`, async ({ page }) => {
    const errors: string[] = []
    page.on('console', (message) => {
      if (message.type() === 'error') errors.push(message.text())
    })
    page.on('pageerror', (error) => errors.push(String(error)))
    await page.emulateMedia({ colorScheme: 'light' })
    await page.goto(path)
    await ready(page)
    // Pictures of pages run no scripts, not even those of the check; those pages are looked at by themselves.
    await page.evaluate(() => document.querySelectorAll('iframe').forEach((frame) => frame.remove()))
    const check = new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'])
    expect(problemsIn(await check.analyze())).toEqual([])
    expect(
      await page.evaluate(() => [document.documentElement.scrollWidth, document.documentElement.scrollHeight]),
    ).toEqual([1280, 800])
    // The dark theme changes colours alone.
    await page.emulateMedia({ colorScheme: 'dark' })
    await page.waitForTimeout(300)
    expect(problemsIn(await new AxeBuilder({ page }).withRules(['color-contrast']).analyze())).toEqual([])
    expect(errors).toEqual([])
  })

const problemsIn = ({ violations }: AxeResults): string[] =>
  violations.map(
    ({ id, nodes }) =>
      `${id}: ${nodes
        .slice(0, 3)
        .map((node) => node.target.join(' '))
        .join(' | ')} ${nodes[0]?.failureSummary ?? ''}`,
  )

test('a change on behalf of another site is refused, and wrong input is a sentence', async ({ request }) => {
  const foreign = await request.post('/api/rules/rulebook/publish', {
    headers: { origin: 'http://evil.example' },
    data: { revision: 1, note: '' },
  })
  expect([foreign.status(), ((await foreign.json()) as { code: string }).code]).toEqual([403, 'other-site'])
  const wrong = await request.post('/api/dispatch/plan', { data: { orders: [] } })
  expect([wrong.status(), ((await wrong.json()) as { sentence: string }).sentence]).toEqual([
    400,
    'orders: choose at least one order',
  ])
  const garbage = await request.post('/api/dispatch/plan', {
    headers: { 'content-type': 'application/json' },
    data: Buffer.from('{{{'),
  })
  expect(garbage.status()).toBe(400)
  expect((await request.get('/api/desk/orders/999999')).status()).toBe(404)
  expect((await request.get('/api/desk?most=100000')).status()).toBe(400)
  const page = await request.get('/desk')
  expect(page.headers()['content-security-policy']).toMatch(/default-src 'self'; script-src 'self' 'nonce-/)
  expect(await page.text()).not.toMatch(/demo-secret|demo-carrier-token/)
})
