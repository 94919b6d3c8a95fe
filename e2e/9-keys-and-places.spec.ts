import AxeBuilder from '@axe-core/playwright'
import { type APIRequestContext, expect, test, type Page } from '@playwright/test'
import { shopUrl } from './ports'

const drawer = (page: Page) => page.getByRole('complementary', { name: 'Order' })
const focused = (page: Page): Promise<string> =>
  page.evaluate(() => {
    const { activeElement: at } = document
    return at === document.body ? 'nothing' : (at?.getAttribute('aria-label') ?? at?.textContent ?? '')
  })

/** Somebody orders in the shop; gives the number. */
const orderFrom = async (request: APIRequestContext, name: string): Promise<string> => {
  const placed = await request.post(`${shopUrl}/order`, {
    form: {
      sku: 'TLS-TWEEZ',
      quantity: '1',
      method: 'Standard',
      name,
      email: 'long@name.example',
      street: 'Kouter 1',
      postcode: '9000',
      city: 'Gent',
      country: 'BE',
    },
    maxRedirects: 0,
  })
  return new URL(placed.headers().location!, shopUrl).searchParams.get('number')!
}

test.describe('the list of orders is one stop, with a focus that goes from row to row', () => {
  test('arrows, pages, Home and End; Space selects; Enter goes into the order, Escape back to its row', async ({
    page,
  }) => {
    await page.goto('/desk?state=ready')
    await expect(page.getByRole('row').nth(5)).toContainText('ready')
    await page.keyboard.press('ArrowDown')
    const at = (index: number) => page.locator(`[data-row="${index}"]`)
    await expect(at(0)).toBeFocused()
    await page.keyboard.press('ArrowDown')
    await page.keyboard.press('PageDown')
    await page.keyboard.press('PageUp')
    await expect(at(1)).toBeFocused()
    await page.keyboard.press('End')
    await expect(page.locator('[data-row]:focus')).not.toHaveAttribute('data-row', '1')
    await page.keyboard.press('Home')
    await page.keyboard.press('ArrowDown')
    await expect(at(1)).toBeFocused()
    await page.keyboard.press('Space')
    await expect(at(1)).toHaveAttribute('aria-selected', 'true')
    const number = (await at(1).locator('[data-column=number]').innerText()).trim()
    await page.keyboard.press('Enter')
    await expect(drawer(page)).toBeFocused()
    await expect(drawer(page)).toContainText(number)
    // In the order, arrows and pages are its own.
    await page.keyboard.press('PageDown')
    await page.keyboard.press('ArrowDown')
    await expect(drawer(page)).toContainText(number)
    await page.keyboard.press('Escape')
    await expect(drawer(page)).toHaveCount(0)
    await expect(at(1)).toBeFocused()
    // One stop: Tab leaves the list, and comes back to the row.
    await page.keyboard.press('Shift+Tab')
    await page.keyboard.press('Tab')
    await expect(at(1)).toBeFocused()
    // Its head is reached by the arrow, and sorts.
    await page.keyboard.press('Home')
    await page.keyboard.press('ArrowUp')
    await page.keyboard.press('ArrowRight')
    await page.keyboard.press('Enter')
    await expect(page).toHaveURL(/sort=number/)
    await expect(page.getByText('1 selected')).toBeVisible()
  })

  test('after a reload the cursor is on the order that is open; Back goes one step back', async ({ page }) => {
    await page.goto('/desk')
    await page.getByRole('button', { name: /^ready/ }).click()
    await expect(page).toHaveURL(/state=ready/)
    await page.locator('[data-row="3"] [data-column=buyer]').click()
    await expect(page).toHaveURL(/order=/)
    await page.goBack()
    await expect(page).not.toHaveURL(/order=/)
    await expect(page).toHaveURL(/state=ready/)
    await page.goBack()
    await expect(page).not.toHaveURL(/state=/)
    await page.goto('/desk?sort=-number&order=400')
    await expect(drawer(page)).toContainText(/MG-\d/)
    const number = await drawer(page).getByRole('heading', { level: 2 }).innerText()
    await expect(page.locator('[data-row][tabindex="0"]')).toContainText(number)
  })

  test('an order that comes in above leaves the cursor on the one that is open', async ({ page, request }) => {
    const row = page.locator('[data-row][tabindex="0"]')
    await page.goto('/desk?sort=-placed_at')
    await page.locator('[data-row="3"] [data-column=buyer]').click()
    const number = await drawer(page).getByRole('heading', { level: 2 }).innerText()
    await expect(row).toContainText(number)
    const fresh = await orderFrom(request, 'Ada Above')
    const other = await page.context().newPage()
    await other.goto('/intake')
    await other.getByRole('button', { name: 'Import now from Mossgill Shop' }).click()
    await expect(page.getByRole('row').filter({ hasText: fresh })).toBeVisible()
    await other.close()
    await expect(row).toContainText(number)
    await expect(row).not.toHaveAttribute('data-row', '3')
    await expect(drawer(page).getByRole('heading', { level: 2 })).toHaveText(number)
  })

  test('keys of one letter act in the list alone, and can be switched off; a dialog has all keys', async ({ page }) => {
    await page.goto('/desk?state=held')
    await expect(page.getByRole('row').nth(2)).toContainText('held')
    await page.keyboard.press('a')
    await expect(page.getByText(/^\d+ selected$/)).toHaveCount(0)
    await page.keyboard.press('ArrowDown')
    await page.keyboard.press('?')
    const keys = page.getByRole('dialog', { name: 'Keys of this screen' })
    await expect(keys.getByRole('checkbox')).toBeVisible()
    await page.keyboard.press('a')
    await page.keyboard.press('b')
    await expect(keys.getByRole('checkbox')).toBeVisible()
    await keys.getByRole('checkbox').uncheck()
    await page.keyboard.press('Escape')
    await expect(keys).toHaveCount(0)
    await page.locator('[data-row="0"]').focus()
    await page.keyboard.press('a')
    await page.keyboard.press('/')
    await expect(page.getByText(/^\d+ selected$/)).toHaveCount(0)
    await page.getByRole('button', { name: 'Keys of this screen' }).click()
    await keys.getByRole('checkbox').check()
    await page.keyboard.press('Escape')
    await page.locator('[data-row="0"]').focus()
    await page.keyboard.press('a')
    await expect(page.getByText(/^\d+ selected$/)).toBeVisible()
  })

  test('an order that is gone says so, and can be left', async ({ page }) => {
    await page.goto('/desk?order=99999999')
    await expect(drawer(page)).toContainText('This order is gone')
    await drawer(page).getByRole('button', { name: 'Close' }).click()
    await expect(page).not.toHaveURL(/order=/)
  })
})

test.describe('what is typed and what is chosen are one step each, and Back goes back by one', () => {
  for (const [path, label] of [
    ['/rules', 'Search rules, facts and values'],
    ['/desk', 'Search orders'],
    ['/intake/items', 'Search items'],
    ['/tracking', 'Search parcels'],
    ['/dispatch/stock', 'Find a SKU'],
    ['/setup/audit', 'Search the audit'],
  ] as const)
    test(`a search in ${path}`, async ({ page }) => {
      await page.goto('/setup')
      await page.goto(path)
      const search = page.getByLabel(label, { exact: true })
      await search.pressSequentially('light', { delay: 150 })
      await expect(page).toHaveURL(/q=light/)
      await page.goBack()
      await expect(page).toHaveURL(new RegExp(`${path}$`))
      await expect(search).toHaveValue('')
      await page.goForward()
      await expect(search).toHaveValue('light')
    })

  for (const [path, choose, at] of [
    ['/desk?pinned=yes', (page: Page) => page.getByRole('button', { name: 'pinned ×' }), /desk$/],
    ['/dispatch/stock', (page: Page) => page.getByRole('button', { name: 'nothing free' }), /only=none/],
    ['/ledger/rates', (page: Page) => page.getByLabel('Signature'), /signature=true/],
    [
      '/tracking/notices',
      (page: Page) => page.getByRole('button', { name: 'Words and readers: packed and labelled, by text message' }),
      /by=text/,
    ],
  ] as const)
    test(`a choice in ${path}`, async ({ page }) => {
      await page.goto(path)
      await choose(page).click()
      await expect(page).toHaveURL(at)
      await page.goBack()
      await expect(page).toHaveURL((url) => `${url.pathname}${url.search}` === path)
    })
})

test.describe('the focus is never lost', () => {
  test('closing a drawer, an editor; taking a row away', async ({ page }) => {
    await page.goto('/desk?state=ready')
    await page.locator('[data-row="2"] [data-column=buyer]').click()
    await drawer(page).getByRole('button', { name: 'Edit the address' }).click()
    await drawer(page).getByRole('button', { name: 'Cancel' }).click()
    await expect.poll(() => focused(page)).not.toBe('nothing')
    await drawer(page).getByRole('button', { name: 'Close the order' }).click()
    await expect(page.locator('[data-row="2"]')).toBeFocused()
    await page.goto('/intake/wordings')
    await page.getByRole('button', { name: 'Add a row' }).first().click()
    await page
      .getByRole('button', { name: /^Delete row/ })
      .last()
      .click()
    await expect.poll(() => focused(page)).not.toBe('nothing')
    await page.getByLabel('Wording, row 1').first().fill('Other words')
    await page.getByRole('button', { name: 'Put back' }).click()
    await expect.poll(() => focused(page)).not.toBe('nothing')
    await page.goto('/rules')
    await page.getByRole('button', { name: 'Add a rule' }).first().click()
    await expect(page.getByLabel('Name of the rule').first()).toBeVisible()
    await page
      .locator('li[data-rule]')
      .filter({ has: page.locator('input:focus') })
      .getByRole('button', { name: /^Delete/ })
      .click()
    await expect.poll(() => focused(page)).not.toBe('nothing')
    await expect(page.getByText(/Draft saved/).first()).toBeVisible()
  })
})

test.describe('Escape leaves without taking', () => {
  test('a name of a rule, its dates, a cell; lists and editions', async ({ page }) => {
    await page.goto('/rules')
    const name = page.getByLabel('Name of the rule').first()
    const before = await name.inputValue()
    await name.fill('Something else')
    await name.press('Escape')
    await name.press('Tab')
    await expect(name).toHaveValue(before)
    const rule = page.locator('li[data-rule]').first()
    await rule.hover()
    await rule.getByRole('button', { name: 'dates' }).click()
    await page.getByLabel('from', { exact: true }).fill('2030-01-01')
    await page.keyboard.press('Escape')
    await expect(page.getByLabel('from', { exact: true })).toHaveCount(0)
    await expect(page.getByRole('button', { name: 'Undo', exact: true })).toBeDisabled()
    await page.goto('/rules?lists=groups')
    await page.getByRole('heading', { name: 'Groups' }).click()
    await page.keyboard.press('Escape')
    await expect(page).not.toHaveURL(/lists=/)
    await page.goto('/intake/items')
    const weight = page.getByLabel(/^Weight of/).first()
    const had = await weight.inputValue()
    await weight.fill('9 kg')
    await weight.press('Escape')
    await expect(weight).toHaveValue(had)
    await expect(page.getByRole('button', { name: /^Save/ })).toHaveCount(0)
  })

  test('undo in a field is the field’s', async ({ page }) => {
    await page.goto('/rules')
    const search = page.getByLabel('Search rules, facts and values')
    await search.pressSequentially('glass')
    await search.press('Control+z')
    await expect(search).not.toHaveValue('glass')
    await expect(page.getByRole('button', { name: 'Redo', exact: true })).toBeDisabled()
  })
})

test.describe('what fails is said, with since when what is shown is true', () => {
  for (const [path, doing] of [
    ['/tracking', (page: Page) => page.getByLabel('Search parcels').fill('MG-1')],
    ['/tracking/told', (page: Page) => page.getByRole('button', { name: 'failed', exact: true }).click()],
    ['/ledger', (page: Page) => page.getByLabel('from', { exact: true }).fill('2026-10-01')],
    ['/desk', (page: Page) => page.getByLabel('Search orders').fill('van')],
  ] as const)
    test(path, async ({ page }) => {
      await page.goto(path)
      await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
      let fails = true
      await page.route('**/api/**', (route) =>
        fails && route.request().method() === 'GET' ? route.abort() : route.continue(),
      )
      await doing(page)
      const told = page.getByRole('alert').filter({ hasText: 'cannot be reached' }).first()
      await expect(told).toBeVisible()
      await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
      fails = false
      await page.getByRole('button', { name: 'Try again' }).first().click()
      await expect(told).toHaveCount(0)
    })

  test('planning all ready orders', async ({ page }) => {
    await page.goto('/dispatch')
    await page.route('**/api/desk/ids**', (route) => route.abort())
    await page.getByRole('button', { name: 'Plan all ready orders' }).click()
    await expect(page.getByText(/cannot be reached/).first()).toBeVisible()
  })
})

test('what has not changed is not sent again, and a trial knows no people', async ({ page, request }) => {
  await page.goto('/desk')
  await page.waitForResponse((answer) => answer.url().includes('/api/desk?') && answer.status() === 304)
  const { cases } = (await (await request.get('/api/rules/trial')).json()) as {
    cases: { order: { buyer: { name: string; email: string }; shipTo: { name: string; lines: string[] } } }[]
  }
  expect(cases.length).toBeGreaterThan(1000)
  expect(JSON.stringify(cases)).not.toContain('.example')
  for (const { buyer, shipTo } of cases.map(({ order }) => order))
    expect([buyer.name, shipTo.name, shipTo.lines[0] ?? 'Street 1']).toEqual(['', '', expect.stringMatching(/ 1$/)])
})

test('no line moves by itself when a page comes', async ({ page }) => {
  await page.addInitScript(() => {
    const moved = { sum: 0 }
    Object.assign(window, { moved })
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries() as (PerformanceEntry & { value: number; hadRecentInput: boolean })[])
        if (!entry.hadRecentInput) moved.sum += entry.value
    }).observe({ type: 'layout-shift', buffered: true })
  })
  for (const place of ['/rules', '/desk', '/dispatch', '/tracking', '/ledger']) {
    await page.goto(place)
    await page.waitForLoadState('networkidle')
    const moved = await page.evaluate(() => (window as unknown as { moved: { sum: number } }).moved.sum)
    expect([place, moved < 0.1]).toEqual([place, true])
  }
})

test('a name of 200 characters, and one of another direction, break nothing', async ({ page, request }) => {
  const place = (name: string): Promise<string> => orderFrom(request, name)
  const numbers = [await place('N'.repeat(200)), await place('\u202eמרים כהן')]
  await page.goto('/intake')
  await page.getByRole('button', { name: 'Import now from Mossgill Shop' }).click()
  for (const number of numbers) {
    await expect(async () => {
      await page.goto(`/desk?q=${number}`)
      await page.getByRole('row').filter({ hasText: number }).click({ timeout: 15_000 })
    }).toPass()
    await expect(drawer(page)).toContainText(number)
    const box = (await drawer(page).boundingBox())!
    expect(box.x + box.width).toBeLessThanOrEqual(1280)
    expect(await drawer(page).evaluate((sheet) => sheet.scrollWidth <= sheet.clientWidth)).toBe(true)
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBe(1280)
    // The number beside it reads from left to right.
    await expect(page.locator('[data-row="0"] [data-column=number]')).toHaveText(number)
    await expect(page.locator('[data-row="0"] [data-column=buyer] bdi')).toHaveCount(1)
  }
})

test('times say their zone to who is elsewhere, and how late it is there', async ({ browser }) => {
  for (const [timezoneId, says] of [
    ['America/Los_Angeles', true],
    ['Asia/Tokyo', true],
    ['UTC', false],
  ] as const) {
    const context = await browser.newContext({ timezoneId, locale: 'en-US' })
    const page = await context.newPage()
    await page.goto('/desk?order=400')
    const time = drawer(page).locator('time').first()
    await expect(time).toHaveText(says ? /^\w+ \d+ \d\d:\d\d [AP]M UTC$/ : /^\w+ \d+ \d\d:\d\d [AP]M$/)
    if (says) await expect(time).toHaveAttribute('title', timezoneId === 'Asia/Tokyo' ? /GMT\+9/ : /P[SD]T/)
    await context.close()
  }
})

const places = [
  '/intake',
  '/intake/items',
  '/intake/connections',
  '/intake/connections?open=mossgill-shop',
  '/intake/wordings',
  '/rules',
  '/desk',
  '/desk?order=400',
  '/dispatch',
  '/dispatch/slips',
  '/tracking',
  '/tracking/told',
  '/tracking/arrivals',
  '/tracking/numbers',
  '/setup/interface',
  '/ledger',
  '/ledger/balance',
  '/setup',
  '/setup/seller',
  '/setup/locations',
  '/setup/services',
  '/setup/presets',
  '/setup/outages',
  '/ledger/tariffs',
  '/ledger/rates',
]

for (const [width, height] of [
  [1280, 800],
  [1024, 768],
  [640, 400],
] as const)
  test(`every screen at ${width} × ${height}: nothing beside the screen, the line and the main button in reach`, async ({
    page,
  }) => {
    await page.setViewportSize({ width, height })
    for (const place of places) {
      await page.goto(place)
      await expect(page.getByRole('navigation', { name: 'The line' })).toBeVisible()
      await expect(page.locator('main')).not.toBeEmpty()
      await page.waitForLoadState('networkidle')
      const beside = await page.evaluate(() => {
        const within = (element: Element): boolean => {
          for (let at = element.parentElement; at; at = at.parentElement) {
            const { overflowX } = getComputedStyle(at)
            if (overflowX !== 'visible' && at.getBoundingClientRect().right <= innerWidth + 1) return true
          }
          return false
        }
        return [...document.querySelectorAll('body *')]
          .filter((element) => {
            const { width: w, right } = element.getBoundingClientRect()
            return w > 1 && right > innerWidth + 1 && !within(element)
          })
          .map((element) => element.outerHTML.slice(0, 120))
      })
      expect([place, beside, await page.evaluate(() => document.documentElement.scrollWidth)]).toEqual([
        place,
        [],
        width,
      ])
      for (const stop of ['Intake', 'Rules', 'Desk', 'Dispatch', 'Tracking', 'Ledger'])
        await expect(
          page.getByRole('navigation', { name: 'The line' }).getByRole('link', { name: stop }),
        ).toBeInViewport()
    }
    await page.goto('/rules')
    await expect(page.getByRole('button', { name: 'Publish' })).toBeInViewport()
  })

// Light and dark are looked at at full width, in 5-every-view.
test('axe finds nothing on a narrow screen in forced colours, best practices included', async ({ browser }) => {
  const context = await browser.newContext({ forcedColors: 'active', viewport: { width: 640, height: 400 } })
  const page = await context.newPage()
  const found: string[] = []
  for (const place of places) {
    await page.goto(place)
    await expect(page.locator('main')).not.toBeEmpty()
    await page.waitForLoadState('networkidle')
    // Colours that the person has chosen are not ours to judge.
    const { violations } = await new AxeBuilder({ page }).disableRules(['color-contrast']).analyze()
    for (const { id, nodes } of violations)
      found.push(...nodes.map(({ html }) => `${place} ${id}: ${html.slice(0, 140)}`))
  }
  expect(found).toEqual([])
  await context.close()
})
