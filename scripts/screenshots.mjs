/* npm run screenshots: one picture of each main view, from the running demo (start it with --fresh first). */
import { chromium } from '@playwright/test'
import { carrierPort, carriers, environment } from './environment.mjs'

const env = environment()
const base = env.GHARRY_URL
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox'] })
const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, locale: 'en-GB' })
const take = async (name) => {
  await page.waitForTimeout(700)
  await page.screenshot({ path: `docs/screenshots/${name}.png` })
  console.log(name)
}
const open = (path) => page.goto(base + path, { waitUntil: 'load' })
/** A rule, brought into view: far from it, it is its heading alone. */
const rule = async (id) => {
  const row = page.locator(`[data-rule=${id}]`)
  await row.evaluate((node) => node.scrollIntoView({ block: 'center' }))
  return row
}

await open('/desk')
await page.getByRole('row').nth(5).waitFor()
await take('desk')
await open('/desk?state=ready')
await page.getByRole('row').nth(4).click()
await page.getByText('Services for this parcel').waitFor()
await take('desk-order')
await open('/rules')
await page.getByText(/decides as edition/).waitFor()
await (await rule('p-plants')).getByRole('button', { name: '5.5 kg' }).click()
await page.keyboard.type('1 kg')
await page.getByRole('status', { name: 'What it would change' }).getByText('change').first().waitFor()
await take('rules')
await page.keyboard.press('Escape')
await (await rule('v-rest')).getByRole('button', { name: 'the cheapest that arrives by the promised day' }).click()
await page.keyboard.type('fastest')
await page.keyboard.press('Enter')
await page.getByRole('button', { name: 'See them' }).click()
await page.getByRole('region', { name: 'Summary of the trial' }).locator('svg text').first().waitFor()
await take('trial')
await page.keyboard.press('Control+z')
await page.getByText('Draft saved').waitFor()
await page.getByRole('button', { name: 'Close the trial' }).last().click()
await open('/setup/services?one=heron-road')
await page.waitForLoadState('networkidle')
await page.getByLabel('Weight of a parcel').fill('10 kg')
await page.getByRole('region', { name: 'What it does to waiting orders' }).getByText('change service').waitFor()
await take('setup-service')
await page.getByRole('button', { name: 'Put back' }).click()
await open('/setup/outages')
await page.waitForLoadState('networkidle')
await page.getByLabel('What').selectOption('carrier northlight')
await page.getByLabel('Until').fill(`${new Date(Date.now() + 3 * 86_400_000).toISOString().slice(0, 10)}T06:00`)
await page.getByRole('button', { name: 'See them' }).click()
await page.getByRole('region', { name: 'Orders that change' }).waitFor()
await take('outage')
await page.getByRole('button', { name: 'Forget it' }).click()
await open('/intake/connections?open=mossgill-shop')
await page.getByRole('button', { name: 'Test' }).click()
await page.getByText(/The channel answers/).waitFor()
await take('connections')
await open('/intake/wordings')
await page.getByLabel('Wording, row 1').first().waitFor()
await take('wordings')
await open('/intake/items')
await page
  .getByLabel(/^Weight of/)
  .first()
  .waitFor()
await take('items')
await open('/ledger/rates')
await page.locator('svg text').first().waitFor()
await take('rates')
const tariffs = await (await fetch(`${base}/api/ledger/tariffs/file?format=csv&service=heron-road`)).text()
await open('/ledger/tariffs')
await page.locator('#tariff-file').setInputFiles({
  name: 'heron-2027.csv',
  mimeType: 'text/csv',
  buffer: Buffer.from(
    tariffs
      .replace('R1,2 kg,4.90', 'R1,2 kg,5.30')
      .replace('R2,5 kg,8.20', 'R2,5 kg,7.90')
      .replace('R3,2 kg,9.35', 'R3,2 kg,9.90'),
  ),
})
await page.getByRole('region', { name: 'What differs' }).waitFor()
await take('tariff-preview')
await open('/dispatch/slips')
await page.getByLabel('Template to edit').selectOption('live-plants')
await page.getByRole('img', { name: /^Page 1 of the slip/ }).waitFor()
await take('slips')
await open('/intake')
await page.setInputFiles('#order-file', 'demo/trade-desk-orders.csv')
await page.getByRole('region', { name: 'Columns of the file' }).waitFor()
await take('intake')
await open('/dispatch')
await page.getByRole('button', { name: 'Plan all ready orders' }).click()
await page.getByRole('grid', { name: 'Orders of the batch' }).waitFor()
await take('dispatch-plan')
await page.getByRole('button', { name: /^Buy \d+ label/ }).click()
await page.getByRole('button', { name: /^Buy for/ }).click()
await page
  .getByRole('complementary', { name: /Batch/ })
  .getByText('bought', { exact: true })
  .nth(11)
  .waitFor({ timeout: 60_000 })
await take('dispatch-batch')
await page.waitForTimeout(45_000)
await open('/tracking')
await take('tracking')
await open('/ledger')
await page.locator('svg text').first().waitFor()
await take('ledger')
await open('/ledger/balance')
await page.getByRole('region', { name: 'Balance' }).waitFor()
await take('balance')
for (const carrier of carriers)
  await fetch(`http://127.0.0.1:${carrierPort(env, carrier)}/admin/clock`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: '{"days":1}',
  })
await page.waitForTimeout(4000)
const mails = await (await fetch(`http://127.0.0.1:${env.GHARRY_MAIL_PORT}/admin/mails`)).json()
await page.setViewportSize({ width: 390, height: 780 })
await page.goto(/http\S+\/track\/\S+/.exec(mails[mails.length - 1].text)[0])
await take('customer-page')
await browser.close()
