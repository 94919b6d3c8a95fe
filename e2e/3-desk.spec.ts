import { expect, test, type Page } from '@playwright/test'

const drawer = (page: Page) => page.getByRole('complementary', { name: 'Order' })

test('exceptions stand first; filters, search and sorting are in the address', async ({ page }) => {
  await page.goto('/desk')
  await expect(page.getByRole('row').nth(1)).toContainText('needs attention')
  await page.getByRole('button', { name: /^ready/ }).click()
  await expect(page).toHaveURL(/state=ready/)
  await expect(page.getByRole('row').nth(1)).toContainText('ready')
  await page.getByRole('button', { name: 'Country' }).click()
  await page.getByRole('button', { name: /^NL/ }).click()
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Label €' }).click()
  await expect(page).toHaveURL(/sort=cost/)
  const costs = async (): Promise<number[]> =>
    (await page.getByRole('row').locator('[role=gridcell]:nth-child(10)').allTextContents()).map(Number)
  await expect
    .poll(async () => {
      const list = (await costs()).filter((n) => !Number.isNaN(n))
      return list.length > 2 && list.every((n, i) => i === 0 || n >= list[i - 1]!)
    })
    .toBe(true)
  await page.reload()
  await expect(page.getByRole('row').nth(1)).toContainText('NL')
  await page.getByRole('button', { name: 'Clear' }).click()
  await expect(page).not.toHaveURL(/state=/)
  await page.keyboard.press('/')
  await page.keyboard.type('no such order anywhere')
  await expect(page.getByText('No order fits these filters')).toBeVisible()
})

test('keyboard only: move, open, override a decision by hand, release it', async ({ page }) => {
  await page.goto('/desk?state=ready&country=BE')
  await expect(page.getByRole('row').nth(2)).toContainText('BE')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Space')
  await expect(page.getByText('1 selected')).toBeVisible()
  await page.keyboard.press('Enter')
  await expect(drawer(page)).toContainText('Services for this parcel')
  await drawer(page).getByRole('button', { name: 'Override service' }).focus()
  await page.keyboard.press('Enter')
  const field = drawer(page).getByRole('combobox', { name: 'Decide by hand' })
  await expect(field).toHaveValue('service ')
  await page.keyboard.type('corvid parcel')
  await expect(page.getByRole('option').first()).toContainText('Corvid Parcel')
  await page.keyboard.press('Enter')
  await expect(drawer(page)).toContainText('pinned by hand')
  await expect(drawer(page)).toContainText('wanted by')
  await drawer(page).getByRole('button', { name: 'Release', exact: true }).press('Enter')
  await expect(drawer(page).getByRole('button', { name: 'Release', exact: true })).toHaveCount(0)
  await expect(drawer(page)).toContainText('hand pin released, the rules decide again')
  // What cannot be read is not taken; how it is written is said.
  await field.fill('weight correction quite heavy')
  await expect(page.getByRole('option').first()).toContainText('A weight such as 60 g, or -20 g.')
  await field.fill('qqq')
  await expect(page.getByText('Nothing can be decided by these words')).toBeVisible()
  await page.keyboard.press('Escape')
})

test('a hold is released by hand', async ({ page }) => {
  await page.goto('/desk?state=held')
  await page.getByRole('row').nth(1).click()
  await drawer(page).getByRole('button', { name: 'Release the hold' }).click()
  await expect(drawer(page)).toContainText('Decided by hand: hold: released')
})

test('many orders are decided at once by the keyboard: seen before, said after, taken back in one go', async ({
  page,
}) => {
  await page.goto('/desk?state=ready&country=PL')
  await expect(page.getByRole('row').nth(1)).toContainText('PL')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('e')
  await expect(page.getByText('Select the orders first')).toBeVisible()
  await page.keyboard.press('a')
  const chosen = page.getByText(/^\d+ selected$/)
  await expect(chosen).toBeVisible()
  const n = parseInt((await chosen.textContent())!, 10)
  await page.keyboard.press('e')
  const many = page.getByRole('complementary', { name: 'Decide for several orders' })
  await expect(many.getByRole('heading', { name: `Decide for ${n} orders` })).toBeVisible()
  await page.keyboard.type('urgent')
  await page.keyboard.press('Enter')
  await expect(many.getByRole('status')).toContainText(`${n} of ${n} orders change`)
  // The same decision again takes the place of the first.
  await page.keyboard.type('priority later')
  await page.keyboard.press('Enter')
  await expect(many.getByRole('list', { name: 'Decided by hand' }).getByRole('listitem')).toHaveText(/priority: later/)
  await many.getByRole('button', { name: `Decide for ${n} orders` }).press('Enter')
  await expect(page.getByText(`Decided for ${n} orders: priority: later`)).toBeVisible()
  await expect(page.getByRole('row').nth(1)).toContainText('later')
  await page.getByRole('button', { name: 'Undo', exact: true }).first().click()
  await expect(page.getByText(`Put back for ${n} orders`)).toBeVisible()
  await expect(page.getByRole('row').nth(1)).not.toContainText('later')
})

test('a column of a spreadsheet is pasted into selected rows; of another shape it is refused with why', async ({
  page,
}) => {
  await page.goto('/desk?state=ready&country=NL&sort=number')
  await expect(page.getByRole('row').nth(2)).toContainText('NL')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Space')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Space')
  await expect(page.getByText('2 selected')).toBeVisible()
  await page.evaluate(() => {
    const data = new DataTransfer()
    data.setData('text', '1.2 kg\n900 g\n')
    document.activeElement!.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true }))
  })
  const many = page.getByRole('complementary', { name: 'Decide for several orders' })
  const values = many.getByRole('textbox', { name: 'Values, one line for each order' })
  await expect(values).toHaveValue('1.2 kg\n900 g\n')
  await values.fill('1.2 kg\n900 g\n3 kg')
  await expect(many.getByRole('alert')).toHaveText(
    'There are 3 values for 2 orders: select as many, or paste order numbers, too.',
  )
  await values.fill('1.2 kg\nquite heavy')
  await expect(many.getByRole('alert')).toContainText('Line 2: “quite heavy” cannot be read')
  await values.fill('1.2 kg\n900 g')
  await many.getByRole('button', { name: 'Take 2 values' }).click()
  await expect(many.getByRole('status')).toContainText('of 2 orders change')
  await many.getByRole('button', { name: 'Leave out' }).click()
  await page.keyboard.press('Escape')
  await expect(many).toHaveCount(0)
})

test('an exception says its ways out; one key takes one, and the order can go', async ({ page }) => {
  await page.goto('/desk?state=attention&reason=Check+the+address')
  const row = page.getByRole('row').nth(1)
  await expect(row).toContainText('Check the address')
  const number = (await row.getByRole('gridcell').nth(2).textContent())!
  await row.click()
  const ways = drawer(page).getByRole('region', { name: 'Ways out' })
  await expect(ways.getByRole('listitem').first()).toContainText('€')
  await page.keyboard.press('1')
  await expect(page.getByText(/^1 order can go with the address/)).toBeVisible()
  await expect(drawer(page)).not.toContainText('needs attention')
  await page.goto(`/desk?q=${number}`)
  await expect(page.getByRole('row').nth(1)).toContainText(/ready|held/)
})

test('the keys of the screen are shown on ?', async ({ page }) => {
  await page.goto('/desk')
  await expect(page.getByRole('row').nth(1)).toBeVisible()
  await page.keyboard.press('?')
  await expect(page.getByRole('dialog')).toContainText('plan a batch of the selected')
  // The dialog has all keys: nothing behind it is selected.
  await page.keyboard.press('a')
  await page.keyboard.press('Escape')
  await expect(page.getByRole('dialog')).toBeHidden()
  await expect(page.getByText(/\d selected/)).toBeHidden()
})

test('the keys are shown on every screen, and Alt with a number goes along the line', async ({ page }) => {
  await page.goto('/intake')
  for (const [number, name] of ['Intake', 'Rules', 'Desk', 'Dispatch', 'Tracking', 'Ledger'].entries()) {
    await page.keyboard.press(`Alt+${number + 1}`)
    await expect(page.getByRole('heading', { name, level: 1 })).toBeVisible()
    await page.keyboard.press('?')
    await expect(page.getByRole('dialog')).toContainText('go along the line')
    await page.keyboard.press('Escape')
    await expect(page.getByRole('dialog')).toBeHidden()
  }
})

test('what if: a changed weight moves the decision here and now, and nothing is saved', async ({ page }) => {
  await page.goto('/desk?state=ready&location=leeds')
  const row = page.getByRole('row').nth(1)
  const service = (await row.textContent()) ?? ''
  const name = ['Corvid Letter', 'Corvid Packet', 'Corvid Parcel', 'Northlight Next Day', 'Skua Worldwide'].find(
    (candidate) => service.includes(candidate.slice(0, 12)),
  )!
  await row.click()
  await drawer(page).getByText('What if, and why not').click()
  await drawer(page).getByLabel('Weight of the items').fill('65 kg')
  await expect(drawer(page)).toContainText('The decision would be:')
  await expect(drawer(page).getByRole('row').filter({ hasText: 'chosen' })).toContainText(name)
  await drawer(page).getByLabel('Why not').selectOption(name)
  await expect(drawer(page).getByRole('list', { name: 'Reasons' })).toContainText(/ kg/)
  await drawer(page).getByLabel('Weight of the items').fill('heavy')
  await expect(drawer(page).getByRole('alert')).toHaveText('Enter a weight such as 250 g or 1.2 kg.')
})
