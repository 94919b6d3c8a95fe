import { expect, test } from '@playwright/test'
import { ask, type Bought, buy, buyOrders, said, scan, sign } from './floor'
import { message } from './message'

/* From a packed parcel to a closed lorry door: collections, the door, voids, the counter. */

test('a collection is booked on the carrier’s terms, changed, and cancelled; wrong input is said', async ({ page }) => {
  await page.goto('/dispatch/collections')
  // A week on: no standing collection has been booked yet, and every carrier takes it.
  await page.getByRole('button', { name: 'The week after' }).click()
  await expect(page.getByRole('columnheader', { name: 'Today' })).toHaveCount(0)
  const cell = page.getByRole('button', { name: /^Northlight Express, Poznań, (Tue|Wed|Thu)/ }).first()
  await cell.click()
  const drawer = page.getByRole('complementary')
  const form = drawer.getByRole('form', { name: 'Book a collection' })
  await expect(form.getByText('€18.50')).toBeVisible()
  await form.getByLabel('Parcels', { exact: true }).fill('many')
  await form.getByRole('button', { name: 'Book it' }).click()
  await expect(form.getByText('A whole number.')).toBeVisible()
  await form.getByLabel('Parcels', { exact: true }).fill('30')
  await form.getByLabel('Weight').fill('120 kg')
  await form.getByText('18:00–21:00').click()
  await form.getByLabel('Where the parcels stand').fill('Gate B')
  await page.keyboard.press('Enter')
  await expect(drawer.getByText('✓ booked')).toBeVisible()
  await expect(drawer.getByText(/30 parcels, 120 kg, Gate B, €18.50/)).toBeVisible()

  await drawer.getByRole('button', { name: 'Change …' }).click()
  const again = drawer.getByRole('form', { name: 'Change the collection' })
  await again.getByText('15:00–18:00').click()
  await again.getByRole('button', { name: 'Ask for the change' }).click()
  await expect(drawer.getByText('15:00–18:00').first()).toBeVisible()
  await expect(drawer.getByText('✓ booked')).toBeVisible()
  await expect(drawer.getByText('€18.50')).toHaveCount(0)

  await drawer.getByRole('button', { name: 'Cancel it …' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Cancel it' }).click()
  await expect(drawer.getByText('– cancelled')).toBeVisible()
  // The address brings the day back.
  await page.reload()
  await expect(drawer.getByText('– cancelled')).toBeVisible()
})

test('standing collections are written as any other list: saved, kept over a reload, and wrong times are refused', async ({
  page,
}) => {
  await page.goto('/dispatch/collections')
  await page.getByRole('button', { name: 'Standing collections …' }).click()
  const drawer = page.getByRole('complementary', { name: 'Standing collections' })
  await drawer.getByRole('button', { name: 'Add a collection' }).click()
  const last = drawer.getByRole('listitem').last()
  await last.getByLabel('Carrier').selectOption({ label: 'Dray Local' })
  await last.getByLabel('From').fill('half past one')
  await page.reload()
  await page.getByRole('button', { name: 'Standing collections …' }).click()
  await expect(last.getByLabel('From')).toHaveValue('half past one')
  await drawer.getByRole('button', { name: 'Save' }).click()
  await expect(message(page, 'is no time such as 16:30')).toBeVisible()
  await last.getByLabel('From').fill('13:30')
  await last.getByLabel('Until').fill('14:00')
  await drawer.getByRole('button', { name: 'Save' }).click()
  await expect(drawer).toBeHidden()
  await expect(page.getByRole('region', { name: 'Standing collections' })).toContainText('13:30–14:00')
})

test('a lorry is loaded by scan into a pallet, a wrong parcel is loud, and its list goes to the carrier', async ({
  page,
}) => {
  const ghent = 'service=heron-road&location=ghent'
  const bought = await buy(page, 5, ghent)
  const [other] = await buy(page, 1, 'service=corvid-letter,corvid-packet,corvid-parcel')
  await page.goto('/door')
  await page.getByLabel('At').selectOption({ label: 'Ghent' })
  await page.getByLabel('Of').selectOption({ label: 'Heron Parcel' })
  await page.getByRole('button', { name: 'Open the door' }).click()
  await said(page, 'Scan a parcel')
  await scan(page, bought[0]!.tracking)
  await said(page, bought[0]!.number)
  await scan(page, bought[0]!.tracking)
  await said(page, 'Scanned before')
  await scan(page, other!.tracking)
  await said(page, 'Wrong carrier: Corvid Post')
  await scan(page, 'https://somewhere.example/7')
  await said(page, 'This code is a link')
  await page.getByRole('button', { name: 'New container' }).click()
  await said(page, /Into \d{18}/)
  // Fast, one behind the other, as scanners are.
  for (const { tracking } of bought.slice(1, 4)) await scan(page, tracking)
  await expect(page.getByText(/^4 parcels on the lorry/)).toBeVisible()
  await expect(page.getByRole('region', { name: 'Containers' })).toContainText('3 parcels')
  await page.getByRole('button', { name: `Take ${bought[3]!.number} off` }).click()
  await said(page, `${bought[3]!.number} is off`)

  await page.getByRole('button', { name: 'Close the door …' }).click()
  const closing = page.getByRole('region', { name: 'Close the door' })
  await sign(page)
  await closing.getByRole('button', { name: /^Close/ }).click()
  await expect(message(page, 'Enter the driver’s name')).toBeVisible()
  await page.getByLabel('Driver').fill('Ilse Maes')
  await expect(closing.getByRole('button', { name: /^Close/ })).not.toHaveAttribute('aria-busy', 'true')
  await closing.getByRole('button', { name: /^Close/ }).click()
  await said(page, 'Closed: 3 parcels')
  await page.getByRole('link', { name: 'Back to Hand-over' }).click()
  const row = page.getByRole('row').filter({ hasText: 'Ilse Maes, signed' }).first()
  await expect(row).toContainText(/MF7\d{5}/)
  await scanWrongLater(page, bought[0]!)
})

/** What left with one lorry never leaves with another. */
async function scanWrongLater(page: Parameters<typeof scan>[0], parcel: Bought): Promise<void> {
  await page.goto('/door?carrier=heron&location=ghent')
  await scan(page, parcel.tracking)
  await said(page, /On manifest M\d+ already/)
}

test('what should have left is asked about; labels no carrier has scanned are voided, and their refunds stand', async ({
  page,
}) => {
  await page.goto('/dispatch/handover')
  const asked = page.getByRole('region', { name: 'Not handed over' })
  const before = Number(/(\d+) parcels? should/.exec((await asked.getByRole('heading').textContent()) ?? '')?.[1])
  await asked.getByRole('button', { name: 'They leave today' }).first().click()
  await expect
    .poll(async () =>
      (await asked.count()) === 0
        ? 0
        : Number(/(\d+) parcels? should/.exec((await asked.getByRole('heading').textContent()) ?? '')?.[1]),
    )
    .toBeLessThan(before)

  await page.goto('/ledger/refunds?days=4')
  const unseen = page.getByRole('region', { name: 'Never scanned' })
  const boxes = unseen.getByRole('checkbox')
  await boxes.first().check()
  await boxes.nth(1).check()
  const pending = await page.getByText('pending').first().textContent()
  await unseen.getByRole('button', { name: /^Void 2/ }).click()
  await page.getByRole('dialog').getByRole('button', { name: /^Void/ }).click()
  await expect(message(page, 'to void').or(message(page, 'to be voided')).first()).toBeVisible()
  await expect.poll(async () => page.getByText('pending').first().textContent()).not.toBe(pending)

  const due = page.getByRole('button', { name: /^Settle the refund of/ }).first()
  await due.click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Granted').fill('9,999.00')
  await expect(dialog.getByText(/^At most/)).toBeVisible()
  await dialog.getByLabel('Granted').fill('0.10')
  await dialog.getByLabel('Note').fill('fee kept')
  await dialog.getByRole('button', { name: 'Book €0.10' }).click()
  await expect(dialog).toBeHidden()
  await page.getByRole('button', { name: 'Show what is settled' }).click()
  await expect(page.getByText('granted fee kept')).toBeVisible()
})

test('an order that is fetched: shelved by scan, found by its code, handed out against a signature', async ({
  page,
}) => {
  const [id] = await ask<number[]>(page, 'get', '/api/desk/ids?state=ready&location=ghent&country=BE')
  const picks = [{ by: 'service', service: 'counter-ghent' }]
  await ask(page, 'post', `/api/desk/orders/${id}/pins`, { decision: 'picks', value: picks })
  const [order] = await buyOrders(page, [id!])
  await page.goto('/counter')
  await scan(page, order!.number)
  await said(page, `${order!.number}: on which shelf?`)
  await scan(page, 'A3')
  await said(page, `${order!.number} lies in A3`)
  const words = (await page.getByText(/code [A-Z0-9]{5}\./).textContent())!
  const code = /code ([A-Z0-9]{5})/.exec(words)![1]!
  await scan(page, 'ZZZZZ')
  await said(page, 'Nothing found')
  await scan(page, code.toLowerCase())
  await said(page, `${order!.number}: fetch it from A3`)
  const form = page.getByRole('region', { name: 'Hand out' })
  await form.getByRole('button', { name: 'Hand it out' }).click()
  await expect(message(page, 'A signature is missing')).toBeVisible()
  await sign(page)
  await form.getByRole('button', { name: 'Hand it out' }).click()
  await said(page, `${order!.number} is handed out`)
  await page.goto(`/desk?q=${order!.number}`)
  await expect(page.getByRole('row').nth(1)).toContainText('delivered')
})
