import AxeBuilder from '@axe-core/playwright'
import { expect, test, type APIRequestContext, type Browser, type Page } from '@playwright/test'
import { message } from './message'
import { e2ePorts, mailUrl, shopUrl, textsUrl } from './ports'

/*
 * One order with two parcels from label to delivered, one of them coming back: as dispatcher, as agent, and as customer
 * on a telephone in two languages. What was said is read back from inbox and telephone.
 */
const day = (ahead: number): string => new Date(Date.now() + ahead * 86_400_000).toISOString().slice(0, 10)

interface Said {
  readonly to: string
  readonly subject: string
  readonly text: string
}
/** Who orders; a second try has an order and a customer of its own. */
interface Customer {
  readonly name: string
  readonly number: string
  readonly mail: string
  readonly phone: string
}
const customerOf = (retry: number): Customer => ({
  name: retry === 0 ? 'Ada Two' : 'Ada Again',
  number: `TWO-PARCELS-${retry}`,
  mail: `ada.two.${retry}@post.example`,
  phone: `+3161234567${7 - retry}`,
})

async function order(request: APIRequestContext, { name, number, mail, phone }: Customer): Promise<void> {
  const all = (await (await request.get(`${shopUrl}/admin/orders`)).json()) as Record<string, unknown>[]
  const base = all[0] as { customer: object; ship_to: object; lines: object[] }
  const made = {
    ...base,
    ...{ id: number, number, status: 'open', payment: 'card', shipping_method: 'Standard', fulfilments: [] },
    ...{ placed_at: new Date().toISOString(), changed_at: new Date().toISOString(), promised_by: day(-1) },
    ...{ currency: 'EUR', shipping: '0.00', total_items: '59.80', discount: '0.00' },
    customer: { ...base.customer, name, email: mail, phone },
    ship_to: {
      ...{ name, company: '', street: ['Oudegracht 12'], city: 'Utrecht', postcode: '3511 AB' },
      ...{ region: '', country: 'NL' },
    },
    lines: [
      {
        ...base.lines[0],
        ...{ id: '1', sku: 'SUB-20KG', title: 'Substrate, 20 kg', quantity: 2, price: '29.90', weight_grams: 20_200 },
        ...{ tags: [], un_number: '', size_mm: [600, 400, 120] },
      },
    ],
  }
  await request.post(`${shopUrl}/admin/orders`, { data: [made] })
}

const drawer = (page: Page) => page.getByRole('complementary', { name: 'Order' })

async function openOrder(page: Page, number: string): Promise<void> {
  await page.goto(`/desk?q=${number}`)
  await page.getByRole('row').filter({ hasText: number }).first().click()
  await expect(drawer(page).getByRole('heading', { level: 2 })).toHaveText(number)
}

/** Something happens to a parcel at its carrier. */
async function happens(request: APIRequestContext, tracking: string, status: string, more: object = {}): Promise<void> {
  for (const port of [
    e2ePorts.GHARRY_HERON_PORT,
    e2ePorts.GHARRY_BRAMBLE_PORT,
    e2ePorts.GHARRY_CORVID_PORT,
    e2ePorts.GHARRY_NORTHLIGHT_PORT,
  ]) {
    const answer = await request.post(`http://127.0.0.1:${port}/admin/events`, {
      data: { trackingNumber: tracking, status, astray: true, ...more },
    })
    if (answer.ok()) return
  }
  throw new Error(`No carrier knows ${tracking}.`)
}

/** A customer on a telephone, without scripts, whose browser speaks a language. */
async function customer(browser: Browser, locale: string): Promise<Page> {
  const context = await browser.newContext({ locale, javaScriptEnabled: false, viewport: { width: 390, height: 800 } })
  return context.newPage()
}

test('two parcels, one delivered and one coming back: dispatcher, agent and customer', async ({
  page,
  request,
  browser,
}, { retry }) => {
  const ada = customerOf(retry)
  const { name, number, mail, phone } = ada
  const mails = async (): Promise<Said[]> =>
    ((await (await request.get(`${mailUrl}/admin/mails`)).json()) as Said[]).filter(({ to }) => to === mail)
  const texts = async (): Promise<Said[]> =>
    ((await (await request.get(`${textsUrl}/admin/texts`)).json()) as Said[]).filter(({ to }) => to === phone)
  // The lead says that who waits longer is told by text message, too; a second try finds it said.
  await page.goto('/tracking/notices')
  const late = page.getByRole('checkbox', { name: 'late, with a new day, by text message' })
  if (!(await late.isChecked())) {
    await late.check()
    await expect(page.getByRole('region', { name: 'Preview' })).toContainText('one message')
    await page.getByRole('button', { name: 'Save' }).click()
    await expect(message(page, 'Saved')).toBeVisible()
  }

  // The dispatcher.
  await order(request, ada)
  await page.goto('/intake')
  await page.getByRole('button', { name: 'Import now from Mossgill Shop' }).click()
  await page.goto(`/desk?q=${number}`)
  await expect(page.getByRole('row').filter({ hasText: number }).first()).toContainText('ready')
  await openOrder(page, number)
  await drawer(page)
    .getByRole('button', { name: /^Buy the label/ })
    .click()
  await page.getByRole('button', { name: /^Buy for/ }).click()
  await expect(drawer(page).getByRole('region', { name: 'Where it is' })).toContainText('2 parcels, announced')

  // The customer's mail is in the language of the country, and leads to a page that needs no scripts.
  await expect
    .poll(async () => (await mails()).map(({ subject }) => subject))
    .toEqual([`Uw bestelling ${number} is onderweg`])
  const link = /http\S+\/track\/[\w-]+/.exec((await mails())[0]!.text)![0]
  const dutch = await customer(browser, 'nl-NL')
  await dutch.goto(link)
  await expect(dutch.getByRole('heading', { level: 1 })).toHaveText('Waar is uw bestelling?')
  await expect(dutch.getByText('Pakket 2 van 2')).toBeVisible()
  await expect(dutch.getByText('0 van 2 pakketten zijn aangekomen')).toBeVisible()
  expect(await dutch.locator('dd.mono').count()).toBe(2)
  const polish = await customer(browser, 'pl-PL')
  await polish.goto(link)
  await expect(polish.getByRole('heading', { level: 1 })).toHaveText('Gdzie jest zamówienie?')
  await polish.getByRole('link', { name: 'English' }).click()
  await expect(polish.getByRole('heading', { level: 1 })).toHaveText('Where is your order?')
  const whole = await request.get(link)
  expect((await whole.body()).length).toBeLessThan(60_000)
  expect(await whole.text()).not.toContain('<script')
  const entry = await request.get(`${link}/calendar`)
  expect(await entry.text()).toMatch(/^BEGIN:VCALENDAR[\s\S]*BEGIN:VEVENT[\s\S]*DTSTART;VALUE=DATE:\d{8}/)

  // It was promised for yesterday: once it is on its way, its customer is told of a later day, by text message.
  const [one, two] = await dutch.locator('dd.mono').allInnerTexts()
  for (const tracking of [one!, two!]) await happens(request, tracking, 'in transit', { place: 'Brussels' })
  await expect
    .poll(async () => (await texts()).map(({ text }) => text))
    .toEqual([expect.stringMatching(/komt later, wellicht op \S+dag .*STOP/)])

  // One comes, the other one goes back.
  await happens(request, one!, 'out for delivery', { place: 'Utrecht' })
  await expect.poll(async () => (await texts()).length).toBe(2)
  expect((await texts())[0]!.text).toContain('komt vandaag')
  await happens(request, one!, 'delivered')
  await happens(request, two!, 'returned', { text: 'Refused' })
  await expect
    .poll(async () => (await mails()).map(({ subject }) => subject))
    .toContain(`Uw bestelling ${number} komt naar ons terug`)
  expect((await mails())[0]!.text).toContain('Dit gaat over pakket 2 van 2.')
  // A page that was drawn is shown for some seconds.
  await expect(async () => {
    await dutch.reload()
    await expect(dutch.getByText('1 van 2 pakketten zijn aangekomen')).toBeVisible({ timeout: 1000 })
  }).toPass()
  await expect(dutch.getByRole('heading', { name: 'Ze komt naar ons terug' })).toBeVisible()

  // The customer reports, first with too little.
  await dutch.getByText('Klopt er iets niet?').first().click()
  await dutch.getByLabel('Iets anders').last().check()
  await dutch.getByRole('button', { name: 'Meld het' }).click()
  await expect(dutch.getByRole('status')).toHaveText('Zeg het in een paar woorden.')
  await dutch.getByText('Klopt er iets niet?').first().click()
  await dutch.getByLabel('Het is beschadigd').first().check()
  await dutch.getByLabel('Wat er gebeurd is').fill('De zak is gescheurd <b>&amp;')
  await dutch.getByRole('button', { name: 'Meld het' }).click()
  await expect(dutch.getByRole('status')).toContainText('Dank u')
  await expect(dutch.getByText('De zak is gescheurd <b>&amp;')).toBeVisible()

  // The agent finds it by the name of who calls, and answers.
  await page.goto('/tracking')
  await expect(
    page.getByRole('group', { name: 'Needs a person' }).getByRole('button', { name: /the customer wrote/ }),
  ).toBeVisible()
  await page.keyboard.press('Control+k')
  await page.getByRole('combobox', { name: /Order, name/ }).fill(name.toLowerCase())
  await page
    .getByRole('option', { name: new RegExp(number) })
    .first()
    .waitFor()
  await page.keyboard.press('Enter')
  await expect(drawer(page).getByRole('heading', { level: 2 })).toHaveText(number)
  const words = drawer(page).getByRole('list', { name: 'What the customer wrote' })
  await expect(words).toContainText('The customer says that it is damaged')
  await words.getByLabel('Answer on the customer’s page').fill('Een nieuwe zak is onderweg.')
  await words.getByRole('button', { name: 'Close the case' }).click()
  await expect(message(page, 'The case is closed')).toBeVisible()
  await expect(words).toBeHidden()
  await expect(async () => {
    await dutch.reload()
    await expect(dutch.getByText('Ons antwoord: Een nieuwe zak is onderweg.')).toBeVisible({ timeout: 1000 })
  }).toPass()
  await drawer(page).getByRole('button', { name: 'Send the last mail again' }).click()
  await expect(message(page, `It is sent again, to ${mail}`)).toBeVisible()
  await expect.poll(async () => (await mails()).length).toBe(3)

  // No more letters: pressed, not only opened.
  await dutch.goto(`${link}/stop?lang=nl`)
  await dutch.getByRole('button', { name: 'Schrijf mij niet meer' }).click()
  await expect(dutch.getByRole('status')).toContainText('niet meer')
  await page.reload()
  await expect(drawer(page).getByText(`${mail} wants no more messages`)).toBeVisible()
  await drawer(page).getByRole('button', { name: 'Send the last mail again' }).click()
  await expect(message(page, 'The customer wants no more messages')).toBeVisible()

  for (const path of [link, `${link}/stop`]) {
    const context = await browser.newContext()
    const looked = await context.newPage()
    await looked.goto(path)
    const { violations } = await new AxeBuilder({ page: looked }).analyze()
    expect(violations.map(({ id }) => id)).toEqual([])
    await context.close()
  }
})

test('the page in the seller’s face: a draft is nobody’s business before it is published, and colours that cannot be read are said', async ({
  page,
  request,
}) => {
  await page.goto('/tracking/page')
  await page.getByLabel('Buttons and links, as a number').fill('#FFEE88')
  await page.getByLabel('Buttons and links, as a number').press('Tab')
  await expect(page.getByText(/^Contrast .* customers see buttons and links as #/)).toBeVisible()
  await page.getByRole('button', { name: 'Add a link' }).click()
  // Tried again, the page may have one more already.
  const last = await page.getByLabel(/^Link \d+, its words$/).count()
  await page.getByLabel(`Link ${last}, its words`).fill('Help')
  await expect(page.getByRole('region', { name: 'The page' }).getByRole('alert')).toContainText('https://')
  await page.getByLabel(`Link ${last}, its address`).fill('https://mossgill.example/help')
  await expect(
    page.frameLocator('iframe[title="On a telephone"]').getByRole('link', { name: 'Help' }).last(),
  ).toBeVisible()
  await page.getByRole('button', { name: 'Save the draft' }).click()
  await expect(message(page, 'customers see no change yet')).toBeVisible()
  expect(await (await request.get('/track')).text()).not.toContain('mossgill.example/help')
  await page.getByRole('button', { name: 'Take these' }).click()
  await page.getByRole('button', { name: 'Publish' }).click()
  await expect(message(page, 'Published')).toBeVisible()
  expect(await (await request.get('/track')).text()).toContain('mossgill.example/help')

  // No drawing with scripts, nothing that is no picture.
  for (const [name, content] of [
    ['logo.svg', '<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>'],
    ['logo.png', 'this is no picture'],
  ] as const) {
    await page.locator('#logo').setInputFiles({ name, mimeType: 'image/png', buffer: Buffer.from(content) })
    await expect(message(page, 'This is no picture that can be shown')).toBeVisible()
    await message(page, 'This is no picture that can be shown').getByRole('button', { name: /close/i }).click()
    await expect(message(page, 'This is no picture that can be shown')).toHaveCount(0)
  }
})

test('words of one’s own: what cannot be filled is said at once, and is not kept', async ({ page }) => {
  await page.goto('/tracking/notices?step=delivered&by=text')
  const preview = page.getByRole('region', { name: 'Preview' })
  await page.getByRole('textbox', { name: 'Message' }).fill('{{ order.colour }}')
  await expect(preview.getByRole('alert')).toContainText('undefined variable')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(message(page, 'cannot be filled')).toBeVisible()
  await page.getByRole('textbox', { name: 'Message' }).fill('Złoto: {{ order.number }} – {{ link }}')
  await expect(preview).toContainText('UCS-2')
  await expect(preview).toContainText('not in the small alphabet')
  // What is half done is still there after a reload.
  await page.reload()
  await expect(page.getByRole('textbox', { name: 'Message' })).toHaveValue('Złoto: {{ order.number }} – {{ link }}')
  await page.getByRole('button', { name: 'Put back' }).click()
})
