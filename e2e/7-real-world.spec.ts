import { readFileSync } from 'node:fs'
import { expect, test, type Page } from '@playwright/test'
import { printedBy } from './printing'
import { shopUrl } from './ports'
import { message } from './message'

const drawer = (page: Page) => page.getByRole('complementary')

test('tariffs: exported, raised in a file, looked at with what it would cost, and taken; a bad file names its cells', async ({
  page,
}) => {
  await page.goto('/ledger/tariffs')
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'CSV', exact: true }).click(),
  ])
  const text = readFileSync(await file.path(), 'utf8')
  const send = (content: string) =>
    page
      .locator('#tariff-file')
      .setInputFiles({ name: 'tariffs.csv', mimeType: 'text/csv', buffer: Buffer.from(content) })
  await send(text.replace('R1,2 kg,4.90', 'R1,two kilos,4.90'))
  await expect(page.getByRole('region', { name: 'What cannot be read' })).toContainText(
    '"two kilos" is no weight such as 2 kg.',
  )
  await page.getByRole('button', { name: 'Put it away' }).click()
  await send(text.replace('R1,2 kg,4.90', 'R1,2 kg,5.30'))
  await expect(page.getByRole('region', { name: 'What differs' }).getByRole('row').nth(1)).toContainText(
    /Heron Road.*zone R1 up to 2 kg.*4\.90.*5\.30.*\+8\.2 %/,
  )
  await expect(page.getByText(/orders of the last 30 days would cost/)).toBeVisible()
  await page.getByRole('button', { name: 'Take 1 change' }).click()
  await expect(message(page, 'The tariffs are taken')).toBeVisible()
  await page.getByRole('link', { name: 'Compare rates' }).click()
  await page.getByLabel('To country').fill('BE')
  await page.getByLabel('Postcode').fill('2000')
  await page.getByLabel('Each weighs').fill('1 kg')
  await page.getByLabel('Size').fill('20 × 15 × 10 cm')
  // 5.30 less 5 % of contract.
  await expect(page.getByRole('row', { name: /^Heron Road/ })).toContainText('5.03')
  await page.getByLabel('Each weighs').fill('heavy')
  await expect(page.getByText('“heavy” is no weight')).toBeVisible()
})

test('an order with an e-mail address in a street line is corrected by one click, split, bought, printed, and marked when printed again', async ({
  page,
  request,
}, { retry }) => {
  // A correction is remembered for its address: a second try is about another one.
  const street = `Molenweg ${42 + retry}`
  const placed = await request.post(`${shopUrl}/order`, {
    form: {
      sku: 'SUB-20KG',
      quantity: '2',
      method: 'Standard',
      name: 'Sofie Mulder',
      email: 'sofie@mulder.example',
      street: `${street}, mail: sofie@mulder.example`,
      postcode: 'B-3000',
      city: 'Leuven',
      country: 'BE',
    },
    maxRedirects: 0,
  })
  const number = new URL(placed.headers().location!, shopUrl).searchParams.get('number')!
  await page.goto('/intake')
  await page.getByRole('button', { name: 'Import now from Mossgill Shop' }).click()
  await expect(async () => {
    await page.goto(`/desk?q=${number}`)
    await page.getByRole('row').filter({ hasText: number }).click({ timeout: 15_000 })
  }).toPass()
  await expect(drawer(page).getByRole('list', { name: 'Problems of the address' })).toContainText(
    'An e-mail address is in the address',
  )
  await expect(drawer(page)).toContainText(`Proposed: Sofie Mulder, ${street}, 3000 Leuven, BE`)
  await drawer(page).getByRole('button', { name: 'Use correction' }).click()
  await expect(drawer(page)).toContainText('ready')
  await drawer(page)
    .getByText(/How it is packed/)
    .click()
  await expect(drawer(page).getByText('2 × Box L')).toHaveCount(2)
  await expect(drawer(page).getByRole('img', { name: /^Layer 1/ })).toBeVisible()
  await page.getByRole('row').filter({ hasText: number }).getByRole('checkbox').check()
  await page.getByRole('button', { name: 'Plan a batch' }).click()
  await page.getByRole('button', { name: /^Buy 1 label/ }).click()
  await page.getByRole('dialog').getByRole('button', { name: /^Buy/ }).click()
  const print = page.getByRole('button', { name: /^Print 1 slip and label/ })
  await expect(print).toBeVisible()
  await expect(page.getByText('and 1 more')).toBeVisible()
  const pdf = (): Promise<Buffer> => printedBy(page, request, print)
  expect((await pdf()).subarray(0, 5).toString()).toBe('%PDF-')
  await expect(page.getByText(/1 printed before: those are marked as a reprint/)).toBeVisible()
  await page.getByText('How this station prints').click()
  await page.getByRole('combobox', { name: 'For', exact: true }).selectOption('zpl')
  await page.getByRole('combobox', { name: 'What', exact: true }).selectOption('labels')
  const zpl = (await printedBy(page, request, page.getByRole('button', { name: /^Print 1 label/ }))).toString('utf8')
  expect(zpl.match(/\^XA/g)).toHaveLength(2)
  expect(zpl).toContain('REPRINT')
})

test('a slip template is built, seen for an order at once, and saved; a mistake is said at its block', async ({
  page,
}) => {
  await page.goto('/dispatch/slips')
  await page.getByRole('button', { name: 'Begin a new one from it' }).click()
  await page.getByLabel('Name of the template').fill('Winter slip')
  await page.getByLabel('Add a block').selectOption('text')
  const last = page.getByRole('listitem').last()
  await last.getByRole('textbox', { name: /^Text of/ }).fill('Keep warm, {{ buyer.nickname }}')
  await expect(last.getByRole('alert')).toContainText('cannot be filled')
  await last.getByRole('textbox', { name: /^Text of/ }).fill('Keep warm, order {{ order.number }}')
  await expect(page.getByRole('img', { name: /^Page 1 of the slip/ })).toContainText(/Keep warm, order MG-/)
  await last.getByLabel(/^Condition of/).fill("order.country == 'XX'")
  await expect(last).toContainText('not for this order')
  await page.getByRole('button', { name: 'Save the template' }).click()
  await expect(message(page, '“Winter slip” is saved')).toBeVisible()
  await page.getByRole('button', { name: 'Delete', exact: true }).click()
  await expect(message(page, '“Winter slip” is deleted')).toBeVisible()
})

test('items: a weight is typed in the list and counts in waiting orders', async ({ page }) => {
  await page.goto('/intake/items')
  const missing = page.getByRole('row').filter({ hasText: 'new' }).first()
  await missing.getByLabel(/^Weight of/).fill('heavy')
  await page.getByRole('button', { name: 'Save 1 item' }).click()
  await expect(page.getByText('"heavy" is no weight such as 250 g.')).toBeVisible()
  await missing.getByLabel(/^Weight of/).fill('250 g')
  await missing.getByLabel(/^HS code of/).fill('0602.90')
  await missing.getByLabel(/^HS code of/).press('Enter')
  await expect(message(page, 'Saved; the waiting orders have it at once')).toBeVisible()
})

test('balance: topped up after a question, a ceiling asks for a reason, an invoice that differs is shown and taken', async ({
  page,
  request,
}) => {
  await page.goto('/ledger/balance')
  const row = page.getByRole('row').filter({ hasText: 'Heron Parcel' }).first()
  await row.getByLabel('Top-up of Heron Parcel').fill('much')
  await row.getByRole('button', { name: 'Top up' }).click()
  await expect(page.getByText('“much” is no amount above 0')).toBeVisible()
  await row.getByLabel('Top-up of Heron Parcel').fill('250')
  await row.getByRole('button', { name: 'Top up' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Top up by €250.00' }).click()
  await expect(page.getByRole('row').filter({ hasText: 'top-up' }).first()).toContainText('250.00')
  await page.getByLabel('At most, a day without approval').fill('1.00')
  await page.getByRole('button', { name: 'Set it' }).first().click()
  await expect(page.getByText('of €1.00')).toBeVisible()
  const [order] = (
    (await (await request.get('/api/desk?state=ready&most=1')).json()) as { rows: { id: number; number: string }[] }
  ).rows
  const plan = (await (await request.post('/api/dispatch/plan', { data: { orders: [order!.id] } })).json()) as {
    total: number
  }
  const refused = await request.post('/api/dispatch/batches', { data: { orders: [order!.id], expected: plan.total } })
  expect(((await refused.json()) as { code: string }).code).toBe('above-ceiling')
  await page.getByLabel('At most, a day without approval').fill('')
  await page.getByRole('button', { name: 'Set it' }).first().click()
  await expect(message(page, 'no ceiling any more')).toBeVisible()
  await page.locator('#invoice-file').setInputFiles({
    name: 'H-1.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('tracking number,amount\n00354900019999999990,7.00\n'),
  })
  await expect(page.getByRole('region', { name: 'Invoice' })).toContainText('we bought no label with this number')
  await page.getByRole('button', { name: 'Take it' }).click()
  await expect(page.getByRole('row').filter({ hasText: 'correction' }).first()).toContainText('7.00')
})

test('two orders of one buyer are sent as one shipment, taken apart, and sent together again; each is told of its own', async ({
  page,
  request,
}) => {
  const place = async (sku: string): Promise<string> => {
    const placed = await request.post(`${shopUrl}/order`, {
      form: {
        sku,
        quantity: '1',
        method: 'Standard',
        name: 'Tomas Verhulst',
        email: 'tomas@verhulst.example',
        street: 'Kerkstraat 12',
        postcode: '2000',
        city: 'Antwerpen',
        country: 'BE',
      },
      maxRedirects: 0,
    })
    return new URL(placed.headers().location!, shopUrl).searchParams.get('number')!
  }
  const [one, two] = [await place('TLS-TWEEZ'), await place('TLS-TWEEZ')]
  await page.goto('/intake')
  await page.getByRole('button', { name: 'Import now from Mossgill Shop' }).click()
  await expect(async () => {
    await page.goto(`/desk?q=${two}`)
    await page.getByRole('row').filter({ hasText: two }).click({ timeout: 15_000 })
  }).toPass()
  const together = drawer(page).getByRole('region', { name: 'Goes together' })
  await expect(together.getByLabel(`Combine with ${one}`)).toBeChecked()
  await together.getByRole('button', { name: 'Send as one shipment' }).click()
  await expect(drawer(page).getByRole('heading', { level: 2 })).toHaveText(
    new RegExp(`${one} \\+ ${two}|${two} \\+ ${one}`),
  )
  await together.getByRole('button', { name: 'Take apart' }).click()
  await expect(together.getByRole('button', { name: 'Send as one shipment' })).toBeVisible()
  await together.getByRole('button', { name: 'Send as one shipment' }).click()
  await expect(drawer(page).getByRole('heading', { level: 2 })).toContainText('+')
  await page.goto(`/desk?q=${one}&state=ready`)
  await page
    .getByRole('row')
    .filter({ hasText: `${one}` })
    .getByRole('checkbox')
    .check()
  await page.getByRole('button', { name: 'Plan a batch' }).click()
  await page.getByRole('button', { name: /^Buy 1 label/ }).click()
  await page.getByRole('dialog').getByRole('button', { name: /^Buy/ }).click()
  await expect(page.getByRole('button', { name: /^Print 1 slip and label/ })).toBeVisible()
  await expect(async () => {
    const orders = (await (await request.get(`${shopUrl}/admin/orders`)).json()) as {
      number: string
      status: string
      fulfilments: { tracking_number: string; lines: unknown[] }[]
    }[]
    const told = orders.filter(({ number }) => number === one || number === two)
    expect(told.map(({ status, fulfilments }) => [status, fulfilments.length, fulfilments[0]?.lines.length])).toEqual([
      ['fulfilled', 1, 1],
      ['fulfilled', 1, 1],
    ])
    expect(new Set(told.map(({ fulfilments }) => fulfilments[0]!.tracking_number)).size).toBe(1)
  }).toPass()
})
