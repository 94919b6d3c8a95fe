import AxeBuilder from '@axe-core/playwright'
import { expect, type Page, test } from '@playwright/test'
import { buy, said, scan } from './floor'
import { message } from './message'
import { printersUrl, rawPrinter } from './ports'

/* A packer's minute: right and wrong items, a quantity, a line that is down, another bench, a parcel put aside. */

async function begin(page: Page, name: string): Promise<void> {
  await page.goto('/bench')
  await page.getByLabel('Its name').fill(name)
  await page.keyboard.press('Enter')
  await said(page, 'Scan a slip, a label or an item')
}

test('a parcel is packed by scan: a wrong item stops, a quantity is typed, the last item finishes it', async ({
  page,
}) => {
  const bought = await buy(page, 8)
  const one = bought.find(({ lines }) => lines.some(({ quantity }) => quantity > 1)) ?? bought[0]!
  await begin(page, 'Bench 1')
  await scan(page, 'NO-SUCH-NUMBER')
  await said(page, 'is no order, label or item that waits here')
  await scan(page, one.number)
  await said(page, new RegExp(`${one.number}`))
  const { violations } = await new AxeBuilder({ page }).analyze()
  expect(violations.map(({ id }) => id)).toEqual([])

  await scan(page, 'TOTALLY-WRONG')
  await said(page, 'Does not belong in this parcel')
  await scan(page, one.lines[0]!.sku)
  await said(page, 'Does not belong in this parcel')
  await page.getByRole('button', { name: 'It is out of the parcel' }).click()

  for (const [i, { sku, quantity }] of one.lines.entries()) {
    if (quantity > 1) await scan(page, String(quantity))
    // One scanner sends no Enter.
    await scan(page, sku, i > 0)
  }
  await said(page, 'is complete')
  await expect(page.getByText(/1 parcel checked this shift/)).toBeVisible()
  await scan(page, one.tracking)
  await said(page, /checked already/)

  await page.goto(`/desk?q=${one.number}`)
  await page.getByRole('row').nth(1).click()
  await expect(page.getByText('was checked at Bench 1')).toBeVisible()
})

test('several parcels at once: the letter says where an item goes, a stranger stops all, and each is finished at its place', async ({
  page,
}) => {
  const bought = (await buy(page, 14)).filter(({ lines }) => new Set(lines.map(({ sku }) => sku)).size === lines.length)
  const [one] = bought
  const skus = new Set(one!.lines.map(({ sku }) => sku))
  const two = bought.find(({ lines }) => lines.every(({ sku }) => !skus.has(sku)))!
  await begin(page, 'Bench many')
  await page.getByRole('button', { name: 'Several at once' }).click()
  await scan(page, one!.number)
  await said(page, `A: ${one!.number}`)
  await scan(page, two.number)
  await said(page, `B: ${two.number}`)
  const { violations } = await new AxeBuilder({ page }).analyze()
  expect(violations.map(({ id }) => id)).toEqual([])
  await expect(page.getByRole('button', { name: 'Several at once' })).toBeDisabled()

  // An item of the first, while the second is shown: it is turned to by itself.
  await scan(page, one!.lines[0]!.sku)
  await said(page, /^A: /)
  await scan(page, 'OF-NEITHER-OF-THEM')
  await said(page, 'Belongs in none of these parcels')
  await scan(page, two.lines[0]!.sku)
  await said(page, 'Belongs in none of these parcels')
  await page.getByRole('button', { name: 'It is out of the parcel' }).click()

  for (const [place, { lines }] of [
    ['B', two],
    ['A', one!],
  ] as const) {
    for (const [i, { sku, quantity }] of lines.entries()) {
      const left = quantity - (place === 'A' && i === 0 ? 1 : 0)
      if (left > 1) await scan(page, String(left))
      if (left > 0) await scan(page, sku)
    }
    await said(page, new RegExp(`^${place}: .* is complete`))
  }
  await expect(page.getByText(/2 parcels checked this shift/)).toBeVisible()
})

test('with the line down, scans count and are kept over a reload; then they are sent, each once', async ({
  page,
  context,
}) => {
  const [one] = await buy(page, 4)
  await begin(page, 'Bench 2')
  await scan(page, one!.tracking)
  await said(page, one!.number)
  await context.setOffline(true)
  await scan(page, 'WRONG-WHILE-DOWN')
  await said(page, 'Does not belong in this parcel')
  await page.getByRole('button', { name: 'It is out of the parcel' }).click()
  for (const { sku, quantity } of one!.lines) for (let i = 0; i < quantity; i++) await scan(page, sku)
  await said(page, 'is complete')
  await expect(page.getByText(/No connection: \d+ scans wait to be sent/)).toBeVisible()
  await context.setOffline(false)
  await page.reload()
  await expect(page.getByText(/1 parcel checked this shift/)).toBeVisible()
  await expect(page.getByText(/wait to be sent/)).toBeHidden()
})

test('two benches, a parcel put aside, and slow keys that are no scanner', async ({ page, browser }) => {
  const [one] = await buy(page, 3)
  await begin(page, 'Bench 3')
  await page.getByLabel('Scan or type a code').pressSequentially(one!.number, { delay: 60 })
  await page.waitForTimeout(400)
  // Typed by hand: nothing happens before Enter.
  await expect(page.getByLabel('Scan or type a code')).toHaveValue(one!.number)
  await page.keyboard.press('Enter')
  await said(page, one!.number)

  const context = await browser.newContext({ viewport: { width: 390, height: 844 } })
  const phone = await context.newPage()
  await begin(phone, 'Phone')
  await scan(phone, one!.number)
  await said(phone, /Bench 3 has/)
  await phone.getByRole('button', { name: 'Take it over' }).click()
  await said(phone, one!.number)
  expect(await phone.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390)
  await scan(page, one!.lines[0]!.sku)
  await said(page, 'No longer at this bench')
  await phone.getByRole('button', { name: 'Put aside' }).click()
  await phone.getByRole('button', { name: 'An item is missing' }).click()
  await said(phone, 'Put aside. Scan the next one.')
  await expect(phone.getByRole('region', { name: 'Put aside' })).toContainText(one!.number)
  await context.close()
  await expect(message(page, 'failed')).toHaveCount(0)
})

test('a bench prints by itself when a parcel is opened; a printer without paper is said', async ({ page, request }) => {
  const [one, two] = await buy(page, 4)
  await begin(page, 'Bench 4')
  await page.getByRole('button', { name: 'Printer, scale' }).click()
  const form = page.getByRole('form', { name: 'Printer and scale of this bench' })
  await form.getByLabel('Kind').selectOption('raw')
  await form.getByLabel('Prints slip and label').selectOption('opened')
  await form.getByLabel('Address').fill('not an address')
  await form.getByRole('button', { name: 'Save' }).click()
  await expect(message(page, 'Enter the printer’s name or number')).toBeVisible()
  await form.getByLabel('Address').fill(rawPrinter)
  await form.getByRole('button', { name: 'Save' }).click()
  await expect(form).toBeHidden()
  const jobs = async () => (await (await request.get(`${printersUrl}/admin/jobs`)).json()) as { content: string }[]
  const before = (await jobs()).length
  await scan(page, one!.number)
  await expect.poll(async () => (await jobs()).length).toBe(before + 1)
  expect(Buffer.from((await jobs())[0]!.content, 'base64').toString()).toContain(one!.tracking)
  // Loaded anew, it is the same printing.
  await page.reload()
  await said(page, one!.number)
  await page.waitForTimeout(2500)
  expect((await jobs()).length).toBe(before + 1)

  await request.post(`${printersUrl}/admin/faults`, { data: { off: true } })
  for (const { sku, quantity } of one!.lines) for (let i = 0; i < quantity; i++) await scan(page, sku)
  await said(page, 'is complete')
  await scan(page, two!.number)
  await said(page, /Printing|Not printed/)
  await request.post(`${printersUrl}/admin/faults`, { data: { off: false } })
  await expect.poll(async () => (await jobs()).length).toBe(before + 2)
})
