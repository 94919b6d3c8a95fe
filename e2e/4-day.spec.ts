import { expect, test, type APIRequestContext, type Page } from '@playwright/test'
import { ask, said, scan, sign } from './floor'
import { message } from './message'
import { heronUrl, printersUrl, rawPrinter, shopUrl } from './ports'

/*
 * A whole day of the floor, with the same orders from the shop to the closed door: imported, an exception solved,
 * gathered in a wave, bought, picked, packed with a wrong item and a wrong weight, printed, collected, loaded by scan,
 * voided, fetched, and one that comes back.
 */
const day = (ahead: number): string => new Date(Date.now() + ahead * 86_400_000).toISOString().slice(0, 10)

/** What the orders of one try are called: a second one finds none of the first. */
interface Names {
  readonly try: number
  readonly sku: string
  readonly number: (i: number) => string
}
const namesOf = (retry: number): Names => ({
  try: retry,
  sku: `E2E-DAY${retry}`,
  number: (i) => `DAY${retry}-${100 + i}`,
})

async function ordered(request: APIRequestContext, { try: tried, sku, number }: Names): Promise<string[]> {
  const [base] = (await (await request.get(`${shopUrl}/admin/orders`)).json()) as {
    customer: object
    lines: object[]
  }[]
  const orders = Array.from({ length: 9 }, (_, i) => ({
    ...base,
    ...{ id: number(i).toLowerCase(), number: number(i), status: 'open', payment: 'card', shipping_method: 'Standard' },
    ...{ fulfilments: [], refunds: [], placed_at: new Date().toISOString(), changed_at: new Date().toISOString() },
    ...{ promised_by: day(9), currency: 'EUR', shipping: '4.95', total_items: '24.00', discount: '0.00' },
    customer: { ...base!.customer, name: `Day Buyer ${i}`, email: `day${tried}${i}@post.example`, phone: '' },
    ship_to: {
      ...{ name: `Day Buyer ${i}`, company: '', city: 'Utrecht', postcode: '3511 AB', region: '', country: 'NL' },
      // One of them is an exception: its address has what does not belong there.
      street: [`Oudegracht ${12 + i}${i === 8 ? `, mail: day${tried}8@post.example` : ''}`],
    },
    lines: [
      {
        ...base!.lines[0],
        ...{ id: '1', sku, title: 'Root tray', quantity: 1, price: '24.00', weight_grams: 3400, tags: [] },
        ...{ un_number: '', size_mm: [300, 220, 120] },
      },
    ],
  }))
  await request.post(`${shopUrl}/admin/orders`, { data: orders })
  return orders.map(({ number }) => number)
}

interface Label {
  readonly id: number
  readonly carrier: string
  readonly location: string
  readonly state: string
  readonly parcels: readonly { readonly number: string }[]
}
interface Order {
  readonly row: { readonly state: string }
  readonly labels: readonly Label[]
}
const idsOf = (page: Page, number: string): Promise<number[]> => ask(page, 'get', `/api/desk/ids?q=${number}`)

test('a whole day, from the import to the closed door, a void, a buyer at the counter and a parcel that comes back', async ({
  page,
  request,
}, { retry }) => {
  const names = namesOf(retry)
  const { sku, number } = names
  const all = number(0).slice(0, -3)
  const numbers = await ordered(request, names)
  await page.goto('/intake')
  await page.getByRole('button', { name: 'Import now from Mossgill Shop' }).click()
  await expect.poll(async () => (await idsOf(page, all)).length).toBe(numbers.length)

  // The exception goes by a way out, with one key.
  await page.goto(`/desk?q=${number(8)}`)
  await page.getByRole('row').nth(1).click()
  const ways = page.getByRole('complementary', { name: 'Order' }).getByRole('region', { name: 'Ways out' })
  await expect(ways.getByRole('listitem').first()).toContainText('€')
  await page.keyboard.press('1')
  await expect(page.getByText(/^1 order can go/)).toBeVisible()

  // Eight of one SKU are a wave; one of them a buyer comes for.
  const [fetched] = await ask<number[]>(page, 'get', `/api/desk/ids?q=${number(7)}`)
  await ask(page, 'post', `/api/desk/orders/${fetched}/pins`, { decision: 'location', value: 'ghent' })
  await ask(page, 'post', `/api/desk/orders/${fetched}/pins`, {
    decision: 'picks',
    value: [{ by: 'service', service: 'counter-ghent' }],
  })
  await page.goto('/dispatch')
  const waves = page.getByRole('region', { name: 'Waves' })
  await waves
    .getByRole('button', { name: /^Show all/ })
    .click({ timeout: 3000 })
    .catch(() => undefined)
  const wave = waves.getByRole('row').filter({ hasText: sku })
  await wave.getByRole('button', { name: /^Plan/ }).first().click()
  await page.getByRole('button', { name: /^Buy \d+ labels?$/ }).click()
  await page.getByRole('button', { name: /^Buy for/ }).click()
  const batch = page.getByRole('complementary', { name: /Batch|One piece each/ })
  await expect(batch.getByText('bought', { exact: true }).first()).toBeVisible()
  // What the wave left (the counter's, perhaps the exception's) is bought besides.
  const ids = await idsOf(page, all)
  const of = async (id: number): Promise<Order> => ask(page, 'get', `/api/desk/orders/${id}`)
  const rest: number[] = []
  for (const id of ids) if ((await of(id)).labels.length === 0) rest.push(id)
  if (rest.length > 0) {
    const plan = await ask<{ total: number }>(page, 'post', '/api/dispatch/plan', { orders: rest })
    await ask(page, 'post', '/api/dispatch/batches', { orders: rest, expected: plan.total, approval: 'the day' })
  }
  const labels: (Label & { order: number })[] = []
  for (const id of ids)
    await expect(async () => {
      const label = (await of(id)).labels.at(-1)
      expect(label?.state).toBe('bought')
      labels.push({ ...label!, order: id })
    }).toPass()
  const sent = labels.filter(({ carrier }) => carrier === 'heron')
  expect(sent.length).toBeGreaterThanOrEqual(5)
  const [one, two, three, four, five] = sent.map(({ parcels }) => parcels[0]!.number)

  // Picked, and packed: a wrong item stops the bench, a wrong weight is asked about, its label comes from the printer.
  await page.goto('/bench')
  await page.getByLabel('Its name').fill(`Day bench ${retry}`)
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Printer, scale' }).click()
  const printer = page.getByRole('form', { name: 'Printer and scale of this bench' })
  await printer.getByLabel('Kind').selectOption('raw')
  await printer.getByLabel('Prints slip and label').selectOption('opened')
  await printer.getByLabel('Address').fill(rawPrinter)
  await printer.getByRole('button', { name: 'Save' }).click()
  await expect(printer).toBeHidden()
  await scan(page, one!)
  await said(page, all)
  const jobs = async () => (await (await request.get(`${printersUrl}/admin/jobs`)).json()) as { content: string }[]
  await expect
    .poll(async () => (await jobs()).some(({ content }) => Buffer.from(content, 'base64').toString().includes(one!)))
    .toBe(true)
  await scan(page, 'NOT-THIS-ONE')
  await said(page, 'Does not belong in this parcel')
  await page.getByRole('button', { name: 'It is out of the parcel' }).click()
  const scale = page.getByLabel(/^The scale shows/)
  await scale.fill('heavy')
  await scale.press('Enter')
  await expect(page.getByText('A weight such as 1.25 kg or 380 g.')).toBeVisible()
  await scale.fill('9 kg')
  await scale.press('Enter')
  await page.getByLabel('It is right all the same, because').fill('The box is heavier')
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('It is right all the same, because')).toBeHidden()
  await scan(page, sku)
  await said(page, 'is complete')

  // A collection, and the door: a parcel of before is loud, the others are loaded and leave.
  await page.goto('/dispatch/collections')
  await page.getByRole('button', { name: 'The week after' }).click()
  await page
    .getByRole('button', { name: /^Northlight Express, Poznań, (Tue|Wed|Thu)/ })
    .nth(1 + retry)
    .click()
  const drawer = page.getByRole('complementary')
  const book = drawer.getByRole('form', { name: 'Book a collection' })
  await book.getByLabel('Parcels', { exact: true }).fill('12')
  await book.getByLabel('Weight').fill('40 kg')
  await book.getByRole('button', { name: 'Book it' }).click()
  await expect(drawer.getByText('✓ booked')).toBeVisible()
  const { location } = sent[0]!
  await page.goto(`/door?carrier=heron&location=${location}`)
  await scan(page, labels.find(({ order }) => order === fetched)!.parcels[0]!.number)
  await said(page, /Wrong carrier|not known|fetched/i)
  for (const number of [one!, two!, three!]) {
    await scan(page, number)
    await said(page, all)
  }
  // What is voided is not loaded.
  await ask(page, 'post', '/api/dispatch/labels/void', { labels: sent.slice(3, 5).map(({ id }) => id) })
  await expect.poll(async () => (await of(sent[4]!.order)).labels.at(-1)!.state).toBe('voided')
  await scan(page, five!)
  await said(page, /void/i)
  expect(four).not.toBe(five)
  await page.getByRole('button', { name: 'Close the door …' }).click()
  await page.getByLabel('Driver').fill('Ewa Nowak')
  await sign(page)
  await page
    .getByRole('region', { name: 'Close the door' })
    .getByRole('button', { name: /^Close/ })
    .click()
  await said(page, 'Closed: 3 parcels')

  // The counter.
  await page.goto('/counter')
  await scan(page, number(7))
  await said(page, `${number(7)}: on which shelf?`)
  await scan(page, `C${7 + retry}`)
  await said(page, `${number(7)} lies in C${7 + retry}`)
  await scan(page, number(7))
  await page.getByRole('region', { name: 'Hand out' }).waitFor()
  await sign(page)
  await page.getByRole('button', { name: 'Hand it out' }).click()
  await said(page, `${number(7)} is handed out`)

  // One arrives, and comes back: its buyer calls, a rule answers, it is looked at and paid back.
  await request.post(`${heronUrl}/admin/events`, { data: { trackingNumber: one, status: 'delivered', astray: true } })
  await expect.poll(async () => (await of(sent[0]!.order)).row.state).toBe('delivered')
  await ask(page, 'post', '/api/tracking/returns', {
    ...{ label: sent[0]!.id, pieces: [{ item: 0, quantity: 1 }], reason: 'wrong item', words: '' },
  })
  const back = async () =>
    (
      await ask<{ rows: { labelId: number; trackingNumber: string | null }[] }>(
        page,
        'get',
        '/api/tracking/returns?list=awaited',
      )
    ).rows.find(({ labelId }) => labelId === sent[0]!.id)?.trackingNumber
  await expect.poll(back).toMatch(/^0035/)
  const label = (await back())!
  await request.post(`${heronUrl}/admin/returns/drop`, { data: { trackingNumber: label } })
  await page.goto('/returns')
  await scan(page, label)
  await page.getByRole('button', { name: 'as new' }).click()
  await page.getByRole('button', { name: 'Pay it back' }).click()
  await said(page, /€28.95 go back/)
  await expect(message(page, 'failed')).toHaveCount(0)

  // What the shop has in its books at the end of the day.
  const shop = async () =>
    (
      (await (await request.get(`${shopUrl}/admin/orders`)).json()) as {
        number: string
        fulfilments: { tracking_number: string; withdrawn: boolean }[]
        refunds?: { minor: number }[]
      }[]
    ).filter(({ number }) => number.startsWith(all))
  await expect
    .poll(async () => (await shop()).flatMap(({ refunds = [] }) => refunds.map(({ minor }) => minor)))
    .toEqual([2895])
  const told = (await shop()).flatMap(({ fulfilments }) =>
    fulfilments.filter(({ withdrawn }) => !withdrawn).map(({ tracking_number }) => tracking_number),
  )
  for (const number of [one!, two!, three!]) expect(told.filter((own) => own === number)).toHaveLength(1)
  expect(told).not.toContain(five)
})
