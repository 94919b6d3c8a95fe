import { expect, test, type Page } from '@playwright/test'
import { message } from './message'

/** A page of its own kind of a test: nothing that another one typed is kept in it. */
const reload = async (page: Page, ready: () => Promise<unknown>): Promise<void> => {
  await page.reload()
  await ready()
}

test.describe('what is half done is kept, and offered again', () => {
  test('a slip: over a reload and another slip; thrown away, it is gone', async ({ page }) => {
    await page.goto('/dispatch/slips')
    const name = page.getByLabel('Name of the template')
    await name.fill('Half a slip')
    await expect(page.getByRole('button', { name: 'Save the template' })).toBeVisible()
    await reload(page, () => expect(name).toHaveValue('Half a slip'))
    await expect(page.getByText(/^You typed this .* not saved yet/)).toBeVisible()
    await page.getByLabel('Template to edit').selectOption({ index: 1 })
    await expect(name).not.toHaveValue('Half a slip')
    await page.getByLabel('Template to edit').selectOption({ label: 'Standard slip – not saved yet' })
    await expect(name).toHaveValue('Half a slip')
    await page.getByRole('button', { name: 'Put back' }).click()
    await expect(name).toHaveValue('Standard slip')
    await reload(page, () => expect(name).toHaveValue('Standard slip'))
  })

  test('a service: other services may be looked at meanwhile; what is wrong is said at its field', async ({ page }) => {
    await page.goto('/setup/services?one=corvid-letter')
    // The fields come alive a moment after they are seen.
    await page.waitForLoadState('networkidle')
    const editor = page.getByRole('region', { name: 'Service Corvid Letter' })
    await editor.getByLabel('Weight of a parcel').fill('heavy')
    await page.getByRole('button', { name: /^Heron Road/ }).click()
    await expect(page).toHaveURL(/one=heron-road/)
    await expect(page.getByRole('button', { name: /^Corvid Letter not saved/ })).toBeVisible()
    await page.goBack()
    await expect(page).toHaveURL(/one=corvid-letter/)
    await reload(page, () => expect(editor.getByLabel('Weight of a parcel')).toHaveValue('heavy'))
    await editor.getByRole('button', { name: 'Save and route again' }).click()
    await expect(editor.getByLabel('Weight of a parcel')).toHaveAccessibleDescription(/“heavy” is no weight/)
    await editor.getByRole('button', { name: 'Put back' }).click()
    await expect(editor.getByLabel('Weight of a parcel')).toHaveValue('2 kg')
  })

  test('cells of items, rows of wordings, marks of balances', async ({ page }) => {
    for (const [path, field, text] of [
      ['/intake/items', 'Weight of LMP-LED-60', '7 kg'],
      ['/intake/wordings', 'Wording, row 1', 'Half a word'],
      ['/ledger/balance', 'Mark of Heron Parcel', '12.34'],
    ] as const) {
      await page.goto(path)
      const cell = page.getByLabel(field, { exact: true }).first()
      const before = await cell.inputValue()
      await cell.fill(text)
      await page.getByRole('link', { name: 'Tracking' }).first().click()
      await page.waitForURL('**/tracking')
      await page.goto(path)
      await expect(cell).toHaveValue(text)
      await cell.fill(before)
      await reload(page, () => expect(cell).toHaveValue(before))
    }
  })

  test('an address, until it is used or forgotten', async ({ page }) => {
    await page.goto('/desk?state=ready')
    await page.getByRole('row').nth(1).getByRole('gridcell').nth(1).click()
    const drawer = page.getByRole('complementary', { name: 'Order' })
    await drawer.getByRole('button', { name: 'Edit the address' }).click()
    await drawer.getByLabel('Company').fill('Half a Company')
    await reload(page, () => expect(drawer.getByLabel('Company')).toHaveValue('Half a Company'))
    await drawer.getByRole('button', { name: 'Forget it' }).click()
    await expect(drawer.getByLabel('Company')).toHaveCount(0)
    await drawer.getByRole('button', { name: 'Edit the address' }).click()
    await expect(drawer.getByLabel('Company')).not.toHaveValue('Half a Company')
  })

  test('a value that is typed in a word, when the mouse goes elsewhere; Escape takes nothing', async ({ page }) => {
    await page.goto('/rules')
    const rule = page.getByRole('listitem', { name: 'Plants in vented boxes' })
    const before = '5.5 kg'
    const word = rule.getByRole('button', { name: before, exact: true })
    await word.click()
    await page.keyboard.type('3.21 kg')
    await page.keyboard.press('Escape')
    await expect(word).toHaveText(before)
    await word.click()
    await page.keyboard.type('3.21 kg')
    await page.getByLabel('Search rules, facts and values').click()
    await expect(rule.getByRole('button', { name: '3.21 kg' })).toBeVisible()
    await page.keyboard.press('Escape')
    await page.locator('body').click({ position: { x: 5, y: 790 } })
    await page.keyboard.press('Control+z')
    await expect(rule.getByRole('button', { name: before, exact: true })).toBeVisible()
    await expect(page.getByText(/Draft saved/)).toBeVisible()
  })
})

test.describe('the draft of the rules', () => {
  test('that could not be saved is there again after another screen and a reload, and is saved in the end', async ({
    page,
  }) => {
    await page.goto('/rules')
    let fails = true
    await page.route('**/api/rules/rulebook', (route) =>
      fails && route.request().method() === 'PUT' ? route.abort() : route.continue(),
    )
    const name = page.getByLabel('Name of the rule').first()
    const before = await name.inputValue()
    await name.fill('Not lost')
    await name.press('Tab')
    await expect(page.getByRole('button', { name: 'Try again' }).first()).toBeVisible()
    await page
      .getByRole('link', { name: /^Tracking/ })
      .first()
      .click()
    await page.waitForURL('**/tracking')
    await page
      .getByRole('link', { name: /^Rules/ })
      .first()
      .click()
    await expect(name).toHaveValue('Not lost')
    await reload(page, () => expect(name).toHaveValue('Not lost'))
    fails = false
    await expect(page.getByText(/Draft saved/)).toBeVisible()
    await reload(page, () => expect(name).toHaveValue('Not lost'))
    await name.fill(before)
    await name.press('Tab')
    await expect(page.getByText(/Draft saved/)).toBeVisible()
    await reload(page, () => expect(name).toHaveValue(before))
  })

  test('that a colleague has changed says so, before anything is typed over it', async ({ page, browser }) => {
    await page.goto('/rules')
    await expect(page.getByLabel('Name of the rule').first()).toBeVisible()
    const other = await (await browser.newContext()).newPage()
    await other.goto('/rules')
    const name = other.getByLabel('Name of the rule').first()
    const before = await name.inputValue()
    await name.fill('By a colleague')
    await name.press('Tab')
    const told = page.getByRole('alert').filter({ hasText: 'Somebody else has changed the draft.' })
    await expect(told).toBeVisible()
    await told.getByRole('button', { name: /^Load theirs/ }).click()
    await expect(page.getByLabel('Name of the rule').first()).toHaveValue('By a colleague')
    await expect(told).toHaveCount(0)
    await name.fill(before)
    await name.press('Tab')
    await expect(told).toBeVisible()
    await other.context().close()
  })
})

test('a cell that a colleague has changed meanwhile is shown beside mine, and I choose', async ({ page, browser }) => {
  const other = await (await browser.newContext()).newPage()
  for (const one of [page, other]) await one.goto('/intake/items?q=HTR-100')
  const [mine, theirs] = [page, other].map((one) => one.getByLabel('Weight of HTR-100'))
  const before = await theirs!.inputValue()
  await mine!.fill('390 g')
  await theirs!.fill('385 g')
  await theirs!.press('Enter')
  await expect(message(other, 'Saved')).toBeVisible()
  const told = page.getByRole('alert').filter({ hasText: 'Somebody else has changed a cell' })
  await expect(told).toContainText('HTR-100, weight: 390 g')
  await expect(told).toContainText('HTR-100, weight: 385 g')
  await expect(page.getByRole('button', { name: 'Save 1 item' })).toBeDisabled()
  await told.getByRole('button', { name: 'Take theirs' }).click()
  await expect(mine!).toHaveValue('385 g')
  await mine!.fill(before)
  await mine!.press('Enter')
  await expect(message(page, 'Saved')).toBeVisible()
  await other.context().close()
})

test.describe('what is deleted can be taken back', () => {
  test('an item', async ({ page }) => {
    await page.goto('/intake/items')
    await page.getByLabel('Search items').fill('LMP-LED-60')
    await page.getByRole('button', { name: 'Take LMP-LED-60 off the list' }).click()
    await expect(message(page, 'LMP-LED-60 is off the list')).toBeVisible()
    await page.getByRole('button', { name: 'Undo' }).click()
    await expect(message(page, 'LMP-LED-60 is on the list again')).toBeVisible()
    await expect(page.getByRole('button', { name: 'Take LMP-LED-60 off the list' })).toBeVisible()
  })

  test('a slip; two texts for one country are not made one; what cannot be read is not saved', async ({ page }) => {
    await page.goto('/dispatch/slips')
    await page.getByRole('button', { name: 'Begin a new one from it' }).click()
    await page.getByLabel('Name of the template').fill('Short-lived')
    await page.getByRole('button', { name: 'Add a language' }).first().click()
    await page.getByRole('button', { name: 'Add a language' }).first().click()
    const codes = page.getByLabel(/^Country \d of block 1$/)
    await expect(codes).toHaveCount(2)
    const first = await codes.nth(0).inputValue()
    await codes.nth(1).fill(first)
    await expect(codes.nth(1)).toHaveAccessibleDescription(`${first} has a text already.`)
    await expect(codes).toHaveCount(2)
    await codes.nth(1).fill('QQ')
    await expect(codes.nth(1)).toHaveAccessibleDescription('A code such as NL.')
    await codes.nth(1).fill('ES')
    await page.getByLabel('Condition of block 1').fill('{{ order.country')
    await expect(page.getByRole('button', { name: 'Save the template' })).toBeDisabled()
    await page.getByLabel('Condition of block 1').fill('')
    await page.getByRole('button', { name: 'Save the template' }).click()
    await expect(message(page, '“Short-lived” is saved')).toBeVisible()
    await page.getByRole('button', { name: 'Delete', exact: true }).click()
    await expect(message(page, '“Short-lived” is deleted')).toBeVisible()
    await page.getByRole('button', { name: 'Undo' }).last().click()
    await expect(page.getByLabel('Name of the template')).toHaveValue('Short-lived')
    await page.getByRole('button', { name: 'Delete', exact: true }).click()
    await expect(page.getByLabel('Template to edit').getByRole('option', { name: 'Short-lived' })).toHaveCount(0)
  })
})
