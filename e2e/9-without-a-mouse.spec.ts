import { expect, test, type Page } from '@playwright/test'

/*
 * A morning with the mouse unplugged: nothing here clicks, hovers or puts the focus anywhere. Where the focus goes is
 * where Tab, arrows and the keys of the guide lead it.
 */

const focused = (page: Page): Promise<string> =>
  page.evaluate(() => {
    const element = document.activeElement
    const labels = element instanceof HTMLInputElement || element instanceof HTMLTextAreaElement ? element.labels : null
    const text = element?.getAttribute('aria-label') ?? labels?.[0]?.textContent ?? element?.textContent ?? ''
    return text.replace(/\s+/g, ' ').trim()
  })

/** Presses a key until what has the focus is called so. */
async function until(page: Page, key: string, name: RegExp): Promise<void> {
  for (let i = 0; i < 150; i++) {
    if (name.test(await focused(page))) return
    await page.keyboard.press(key)
  }
  throw new Error(`${key} does not lead to ${String(name)}; the focus is on “${await focused(page)}”.`)
}
const press = async (page: Page, ...keys: string[]): Promise<void> => {
  for (const key of keys) await page.keyboard.press(key)
}

/** Along the line by a key; who pressed it before the page was ready presses it again. */
const goAlong = (page: Page, key: string, to: RegExp): Promise<void> =>
  expect(async () => {
    await press(page, key)
    await expect(page).toHaveURL(to, { timeout: 3000 })
  }).toPass()

test('a morning at the Desk: an address corrected, with wrong input; a batch planned, bought, and seen in Tracking', async ({
  page,
}) => {
  await page.goto('/intake')
  await goAlong(page, 'Alt+3', /desk/)
  const grid = page.getByRole('grid')
  await expect(grid.getByRole('row').nth(1)).toBeVisible()

  await until(page, 'Tab', /^needs attention\d+$/)
  await press(page, 'Enter')
  await expect(page).toHaveURL(/state=attention/)
  await expect(grid.getByRole('row').filter({ hasText: 'ready' })).toHaveCount(0)
  // A demo that has just begun is still importing.
  await expect(
    grid.getByRole('row').filter({ hasText: 'MG-1' }).filter({ hasText: 'Check the address' }).first(),
  ).toBeVisible()
  await until(page, 'Tab', /MG-1/)
  await until(page, 'ArrowDown', /Check the address/)
  const number = /MG-\d{5}/.exec(await focused(page))![0]
  await press(page, 'Enter')
  await expect(page.getByRole('heading', { name: number })).toBeVisible()
  await until(page, 'Tab', /^Edit the address$/)
  await press(page, 'Enter')
  await until(page, 'Tab', /^Street lines/)
  // Nothing is no street: it is said at the field, and the rest stays typed.
  await press(page, 'ControlOrMeta+a', 'Delete')
  await until(page, 'Tab', /^Use this address$/)
  await press(page, 'Enter')
  await expect(page.getByRole('textbox', { name: 'Street lines' })).toHaveAttribute('aria-invalid', 'true')
  await until(page, 'Shift+Tab', /^Street lines/)
  await page.keyboard.type('Lindenweg 12')
  await until(page, 'Tab', /^Use this address$/)
  await press(page, 'Enter')
  await expect(page.getByText('The address is changed, and remembered')).toBeVisible()
  await press(page, 'Escape')
  await expect(page.getByRole('heading', { name: number })).toHaveCount(0)

  await until(page, 'Shift+Tab', /^needs attention\d+$/)
  await press(page, 'Enter')
  await until(page, 'Tab', /^ready\d+$/)
  await press(page, 'Enter')
  await expect(page).toHaveURL(/state=ready/)
  await until(page, 'Tab', /MG-1/)
  await press(page, 'Space', 'ArrowDown', 'Space', 'b')
  await expect(page).toHaveURL(/dispatch/)
  await until(page, 'Tab', /^Buy 2 labels$/)
  await press(page, 'Enter')
  await expect(page.getByRole('heading', { name: /^Buy 2 labels for / })).toBeVisible()
  await until(page, 'Tab', /^Buy for /)
  await press(page, 'Enter')
  await expect(page.getByText(/2 labels? bought|2 of 2/).first()).toBeVisible()
  await press(page, 'Alt+5')
  await expect(page).toHaveURL(/tracking/)
})

test('an edit of the rules: a rule written, moved, switched off, published with a note, and its edition seen', async ({
  page,
}, { retry }) => {
  const called = `Dear things wait ${retry}`
  await page.goto('/desk')
  await goAlong(page, 'Alt+2', /rules/)
  await expect(page.getByRole('region', { name: 'triage' })).toBeVisible()
  await until(page, 'Tab', /^Add a rule$/)
  await press(page, 'Enter')
  await until(page, 'Tab', /^Name of the rule$/)
  await page.keyboard.type(called)
  await press(page, 'Enter')
  await expect(page.getByRole('combobox', { name: 'Add a condition on' })).toBeFocused()
  await page.keyboard.type('val>a lot')
  await expect(page.getByText('No matches.')).toBeVisible()
  await press(page, 'ControlOrMeta+a')
  await page.keyboard.type('val>90000')
  await press(page, 'Enter', 'Enter')
  await expect(page.getByRole('combobox', { name: 'Add an action' })).toBeFocused()
  await page.keyboard.type('hold ask first')
  await press(page, 'Enter')
  const rule = page.locator('[data-rule]').filter({ hasText: called })
  await expect(rule).toContainText('hold because ask first')
  const at = (): Promise<number> =>
    page
      .locator('[data-rule] h3')
      .allTextContents()
      .then((names) => names.indexOf(called))
  const before = await at()
  await press(page, 'Alt+ArrowUp')
  await expect.poll(at).toBe(before - 1)
  await until(page, 'Tab', new RegExp(`^${called} is on$`))
  await press(page, 'Space')
  await expect(page.getByText('Draft saved')).toBeVisible()

  await until(page, 'Shift+Tab', /^Publish$/)
  await press(page, 'Enter')
  await expect(page.getByLabel('Note for the list of editions')).toBeVisible()
  await until(page, 'Tab', /^Note for the list of editions/)
  await page.keyboard.type(`Without a mouse ${retry}`)
  await until(page, 'Tab', /^Publish$/)
  await press(page, 'Enter')
  await expect(page.getByText(/Edition \d+ in force/)).toBeVisible()
  // The focus is still at the head of the screen.
  await expect(page.locator('main :focus')).toHaveCount(1)
  await until(page, 'Shift+Tab', /^Lists and editions$/)
  await press(page, 'Enter')
  await expect(page.getByText(`Without a mouse ${retry}`)).toBeVisible()
  await press(page, 'Escape')
  await expect(page.getByRole('region', { name: 'triage' })).toBeVisible()
})
