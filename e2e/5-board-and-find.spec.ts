import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import AxeBuilder from '@axe-core/playwright'
import { expect, test } from '@playwright/test'

test('the board says which parcels need a person, filters by why, and leads to the order by the keyboard', async ({
  page,
}) => {
  await page.goto('/tracking')
  const needs = page.getByRole('group', { name: 'Needs a person' })
  const late = needs.getByRole('button', { name: /^\d+ ?late$/ })
  await expect(late).toBeEnabled()
  await late.press('Enter')
  await expect(page).toHaveURL(/need=late/)
  // Parcels move while one looks: button and heading say the same, whatever it is.
  await expect(async () => {
    const said = Number(/^\d+/.exec(await late.innerText())?.[0])
    await expect(page.getByText(`${said} parcels on their way`)).toBeVisible({ timeout: 1000 })
  }).toPass()
  const rows = page.getByRole('grid').locator('[data-row]')
  await expect(rows.first()).toContainText(/\d+ d/)
  // Back goes one step back.
  await page.goBack()
  await expect(page).not.toHaveURL(/need=late/)
  const first = rows.first()
  const number = await first.locator('[data-column="tracking"]').innerText()
  const order = await first.locator('[data-column="order"]').innerText()
  await page.getByLabel('Search parcels').fill(number)
  await expect(page.getByText('1 parcel on its way')).toBeVisible()
  await page.getByLabel('Search parcels').press('Enter')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('complementary', { name: 'Order' }).getByRole('heading', { level: 2 })).toHaveText(order)
  const { violations } = await new AxeBuilder({ page }).analyze()
  expect(violations.map(({ id }) => id)).toEqual([])
})

test('one box finds an order by its buyer, a parcel by its number, a rule and a screen, and Enter goes there', async ({
  page,
}) => {
  await page.goto('/ledger')
  const find = async (text: string): Promise<void> => {
    await page.keyboard.press('Control+k')
    await page.getByRole('combobox', { name: /Order, name/ }).fill(text)
  }
  const options = page.getByRole('option')
  await find('MG-11442')
  await expect(options.first()).toContainText('MG-11442')
  const buyer = (await options.first().locator('bdi').innerText()).trim()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('complementary', { name: 'Order' }).getByRole('heading', { level: 2 })).toHaveText(
    'MG-11442',
  )

  await find(buyer)
  await expect(options.filter({ hasText: buyer }).first()).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page.getByRole('dialog')).toHaveCount(0)

  await find('0035 4900 0100 05')
  await expect(page.getByRole('group', { name: 'Parcels' }).getByRole('option').first()).toBeVisible()
  await page.keyboard.press('Escape')

  await find('outag')
  await expect(options.filter({ hasText: 'Outages' })).toBeVisible()
  const { violations } = await new AxeBuilder({ page }).analyze()
  expect(violations.map(({ id }) => id)).toEqual([])
  await page.keyboard.press('Enter')
  await expect(page).toHaveURL(/setup\/outages/)

  await find('zzzz nothing like it')
  await expect(page.getByRole('status').filter({ hasText: 'No matches.' })).toBeVisible()
})

test('a token and a webhook are made with wrong input first; a program asks, and is told; both are ended', async ({
  page,
}, { retry }) => {
  const name = `Stock screen ${retry}`
  const got: string[] = []
  const receiver = createServer((request, response) => {
    got.push(String(request.headers['webhook-signature']))
    request.resume()
    request.on('end', () => response.writeHead(204).end())
  })
  await new Promise<void>((resolve) => void receiver.listen(0, '127.0.0.1', resolve))
  await page.goto('/setup/interface')
  const { violations } = await new AxeBuilder({ page }).analyze()
  expect(violations.map(({ id }) => id)).toEqual([])

  const token = page.getByRole('form', { name: 'New token' })
  await token.getByRole('button', { name: 'Make a token' }).click()
  await expect(token.getByText('Give it a name: who will use it, and for what.')).toBeVisible()
  await token.getByLabel('Name of a new one').fill(name)
  await token.getByLabel('read orders, and why they go as they go').check()
  await token.getByRole('button', { name: 'Make a token' }).click()
  const shown = page.getByRole('status').filter({ hasText: 'shown this once' })
  const secret = await shown.locator('code').innerText()
  const ask = (path: string): Promise<number> =>
    page.request
      .get(`/api/v1${path}`, { headers: { authorization: `Bearer ${secret}` } })
      .then((answer) => answer.status())
  expect(await ask('/orders?limit=1')).toBe(200)
  expect(await ask('/rulebook')).toBe(403)
  await shown.getByRole('button', { name: 'I have it' }).click()
  expect(await page.content()).not.toContain(secret)

  const hook = page.getByRole('form', { name: 'New webhook' })
  await hook.getByRole('button', { name: 'Add a webhook' }).click()
  await expect(hook.getByText('Enter its whole address')).toBeVisible()
  await hook.getByLabel('Name of a new one').fill('Warehouse screen')
  await hook.getByLabel('Address').fill(`http://127.0.0.1:${(receiver.address() as AddressInfo).port}/`)
  await hook.getByLabel('an order was decided').check()
  await hook.getByRole('button', { name: 'Add a webhook' }).click()
  await page.getByRole('button', { name: 'I have it' }).click()
  // An order is decided anew: the program hears of it.
  const ready = (await (await page.request.get('/api/desk?state=ready&most=1')).json()) as { rows: { id: number }[] }
  await page.request.post(`/api/desk/orders/${ready.rows[0]!.id}/pins`, {
    data: { decision: 'priority', value: 'urgent' },
  })
  await expect.poll(() => got.length).toBeGreaterThan(0)
  expect(got[0]).toMatch(/^v1,/)
  await page.request.delete(`/api/desk/orders/${ready.rows[0]!.id}/pins`, { data: { decision: 'priority' } })

  await page.getByRole('row').filter({ hasText: name }).getByRole('button', { name: 'End it …' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'End it' }).click()
  await expect(page.getByRole('row').filter({ hasText: name })).toContainText('ended')
  expect(await ask('/orders?limit=1')).toBe(401)
  await page.getByRole('button', { name: 'Take out …' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Take it out' }).click()
  await expect(page.getByText('Nobody is told yet.')).toBeVisible()
  receiver.close()
})

test('the description of the open interface is shown, and nothing of it is fetched from elsewhere', async ({
  page,
}) => {
  const elsewhere: string[] = []
  page.on('request', (request) => {
    const { host } = new URL(request.url())
    if (!host.startsWith('127.0.0.1') && request.url().startsWith('http')) elsewhere.push(request.url())
  })
  await page.goto('/reference')
  await expect(page.getByText('How the order goes and why', { exact: false }).first()).toBeVisible()
  expect(elsewhere).toEqual([])
})
