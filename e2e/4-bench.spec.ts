import AxeBuilder from '@axe-core/playwright'
import { expect, type Page, test } from '@playwright/test'
import { message } from './message'
import { printersUrl, rawPrinter } from './ports'

/* A packer's minute: right and wrong items, a quantity, a line that is down, another bench, a parcel put aside. */

interface Line {
  readonly sku: string
  readonly quantity: number
}
interface Bought {
  readonly number: string
  readonly tracking: string
  readonly lines: readonly Line[]
}

/** Buys labels for ready orders of one parcel, and says what is in them. */
async function buy(page: Page, wanted: number): Promise<Bought[]> {
  const ask = async <T>(method: 'get' | 'post', path: string, data?: object): Promise<T> => {
    const answer = await page.request[method](path, data ? { data } : undefined)
    expect(answer.ok(), await answer.text()).toBe(true)
    return (await answer.json()) as T
  }
  const ids = (await ask<number[]>('get', '/api/desk/ids?state=ready&service=heron-road')).slice(0, wanted)
  const plan = await ask<{ total: number; labels: { order: number }[] }>('post', '/api/dispatch/plan', { orders: ids })
  const orders = plan.labels.map(({ order }) => order)
  await ask('post', '/api/dispatch/batches', { orders, expected: plan.total, approval: 'a test' })
  const found: Bought[] = []
  for (const id of orders) {
    let parcels: { number: string }[] = []
    let order: { order: { number: string; items: Line[] }; labels: { state: string; parcels: typeof parcels }[] }
    do {
      await page.waitForTimeout(200)
      order = await ask('get', `/api/desk/orders/${id}`)
      parcels = order.labels.at(-1)?.parcels ?? []
    } while (parcels.length === 0)
    if (parcels.length === 1)
      found.push({ number: order.order.number, tracking: parcels[0]!.number, lines: order.order.items })
  }
  return found
}

/** What a scanner sends: fast keys, and Enter where it is set so. */
async function scan(page: Page, code: string, enter = true): Promise<void> {
  const field = page.getByLabel('Scan or type a code')
  if (enter) {
    await field.pressSequentially(code, { delay: 1 })
    return page.keyboard.press('Enter')
  }
  await field.focus()
  await page.keyboard.insertText(code)
  await expect(field).toHaveValue('')
}
const said = (page: Page, words: string | RegExp) =>
  expect(page.getByRole('status').or(page.getByRole('alert')).filter({ hasText: words }).first()).toBeVisible()

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
  await expect.poll(async () => (await jobs()).length, { timeout: 60_000 }).toBe(before + 2)
})
