import { execFileSync } from 'node:child_process'
import { writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, test, type Page } from '@playwright/test'
import { message } from './message'
import { ownGharry } from './ownGharry'
import { printedBy } from './printing'

const part = (page: Page, name: string) =>
  page.getByRole('navigation', { name: 'Parts of Set-up' }).getByRole('link', { name })

test.describe('in the United States', () => {
  test.use({ locale: 'en-US' })
  test('from an empty database to the first printed label, in dollars, pounds and inches', async ({ page }) => {
    const own = await ownGharry()
    try {
      // Nobody is in before there is an owner, who is made from the terminal.
      await page.goto(own.url)
      await expect(page).toHaveURL(/\/sign-in/)
      await page.goto(own.ownerLink)
      await page.getByLabel('Your name').fill('Wendell Haas')
      await page.getByLabel('E-mail address').fill('wendell@thistledown.example')
      await page.getByLabel('Password').fill('kite')
      await page.getByLabel('Once more').fill('kite')
      await page.getByRole('button', { name: 'Go in' }).click()
      await expect(page.getByRole('alert').filter({ hasText: 'at least 15 characters' })).toBeVisible()
      for (const label of ['Password', 'Once more']) await page.getByLabel(label).fill('long tails catch wind')
      await page.getByRole('button', { name: 'Go in' }).click()
      // Who has nothing is shown the first steps.
      await expect(page).toHaveURL(/\/setup$/)
      await expect(page.getByText('0 of 7 steps are done')).toBeVisible()
      await page.getByRole('link', { name: 'Say who sells' }).click()
      await page.waitForLoadState('networkidle')
      await page.getByLabel('Name').fill('Thistledown Kites')
      await page.getByLabel('Letters to customers come from').fill('hello@thistledown')
      await page.getByLabel('Home currency').fill('dollars')
      await page.getByLabel('Weights and lengths').selectOption('imperial')
      await page.getByLabel('Paper in the printers').selectOption('Letter')
      await page.getByRole('button', { name: 'Save' }).click()
      await expect(page.getByText('A currency code such as EUR.')).toBeVisible()
      await expect(page.getByText('An e-mail address such as')).toBeVisible()
      await page.getByLabel('Letters to customers come from').fill('hello@thistledown.example')
      await page.getByLabel('Home currency').fill('usd')
      await page.getByRole('button', { name: 'Save' }).click()
      await expect(message(page, 'The settings are saved')).toBeVisible()

      await part(page, 'First steps').click()
      await page.getByRole('link', { name: 'Add a location' }).click()
      await page.waitForLoadState('networkidle')
      await expect(page.getByLabel('Sender on labels')).toHaveValue('Thistledown Kites')
      await page.getByLabel('Name', { exact: true }).fill('Duluth')
      await page.getByRole('button', { name: 'Add the location' }).click()
      await expect(page.getByText('Choose the country.')).toBeVisible()
      await page.getByLabel('Country').selectOption('US')
      await page.getByLabel('Time zone').fill('America/Chicago')
      await page.getByLabel('Street and number').fill('12 Canal Park Drive')
      await page.getByLabel('Postcode').fill('55802')
      await page.getByLabel('Town').fill('Duluth, MN')
      // It is left and taken up again.
      await part(page, 'First steps').click()
      await page.getByRole('link', { name: 'Add a location' }).click()
      await expect(page.getByLabel('Town')).toHaveValue('Duluth, MN')
      await page.getByRole('button', { name: 'Add the location' }).click()
      await expect(page.getByRole('heading', { name: 'Duluth' })).toBeVisible()

      await part(page, 'First steps').click()
      await page.getByRole('button', { name: 'Connect Skua Air' }).click()
      await expect(message(page, 'Skua Air is connected')).toBeVisible()
      await page.getByRole('link', { name: 'Ask the carrier', exact: true }).click()
      await page.getByRole('button', { name: 'Ask the carrier what it offers' }).click()
      await expect(page.getByLabel('Skua Ground')).toBeChecked()
      await page.getByRole('button', { name: 'Take 2 services with prices' }).click()
      await page.getByRole('link', { name: 'Skua Ground' }).click()
      await expect(page.getByLabel('Weight of a parcel')).toHaveValue('70 lb')
      await expect(page.getByLabel('Longest side')).toHaveValue('108 in')
      await expect(page.getByLabel('Up to, row 1', { exact: true })).toHaveValue('1 lb')
      await expect(page.getByLabel('near, USD, row 1', { exact: true })).toHaveValue('8.45')

      await part(page, 'First steps').click()
      await page.getByRole('link', { name: 'Add a package' }).click()
      await page.getByLabel('Name', { exact: true }).fill('Kite box')
      await page.getByLabel('Inside').fill('12 × 9')
      await page.getByLabel('Takes up to').fill('20')
      await page.getByRole('button', { name: 'Add the preset' }).click()
      await expect(page.getByText('Three sides, such as 12 × 9 × 4 in.')).toBeVisible()
      await page.getByLabel('Inside').fill('12 × 9 × 4 in')
      await page.getByLabel('Own weight').fill('5 oz')
      await page.getByRole('button', { name: 'Add the preset' }).click()
      await expect(page.getByRole('button', { name: /^Kite box 12 × 9 × 4 in, to 20 lb/ })).toBeVisible()

      await part(page, 'First steps').click()
      await page.getByRole('link', { name: 'Connect a channel' }).click()
      await page.getByLabel('Kind').selectOption({ label: 'Files that people drop' })
      await page.getByLabel('Name').fill('Kite fair')
      await page.getByRole('button', { name: 'Connect', exact: true }).click()
      await expect(message(page, 'Kite fair is connected')).toBeVisible()
      await page.goto(`${own.url}/intake`)
      await page.waitForLoadState('networkidle')
      await page.getByLabel('Choose a file').setInputFiles({
        name: 'fair.csv',
        mimeType: 'text/csv',
        buffer: Buffer.from(
          'number,name,street,city,state,postcode,country,sku,title,quantity,weight,price\n' +
            'F-1,Ada Kowalski,500 Third Street,Minneapolis,MN,55401,US,K-1,Delta kite,1,1 lb 4 oz,45.00\n',
        ),
      })
      await page.getByRole('button', { name: /^Import/ }).click()

      await page.goto(`${own.url}/setup`)
      await expect(page.getByText('6 of 7 steps are done')).toBeVisible()
      await page
        .getByRole('listitem')
        .filter({ hasText: 'In time, else cheapest' })
        .last()
        .getByRole('button', { name: 'Take it' })
        .click()
      await expect(page).toHaveURL(/\/rules/)
      await expect(page.getByText('In time, else cheapest').first()).toBeVisible()
      await page.getByRole('button', { name: 'Publish' }).click()
      await page
        .getByRole('dialog')
        .getByRole('button', { name: /^Publish/ })
        .click()
      await expect(page.getByRole('dialog')).toHaveCount(0)

      await page.goto(`${own.url}/desk`)
      const row = page.getByRole('row').filter({ hasText: 'F-1' })
      await expect(row).toContainText('ready')
      await row.click()
      const order = page.getByRole('complementary', { name: 'Order' })
      await expect(order.getByText(/Kite box, 1 lb 9 oz/)).toBeVisible()
      await order.getByRole('button', { name: 'Buy the label' }).click()
      await page.getByRole('button', { name: /^Buy for \$/ }).click()
      const print = order.getByRole('button', { name: 'Print slip and label' })
      await expect(print).toBeVisible()
      const file = join(tmpdir(), `gharry-own-${process.pid}.pdf`)
      writeFileSync(file, await printedBy(page, page.request, print))
      const printed = execFileSync('pdftotext', ['-layout', file, '-'], { encoding: 'utf8' })
      expect(printed).toContain('Ada Kowalski')
      expect(printed).toContain('1 lb 9 oz')
      expect(printed).toContain('Duluth')

      // The paper is theirs.
      await page.goto(`${own.url}/setup`)
      await expect(page.getByText('All is there: buy labels at the Desk')).toBeVisible()
    } finally {
      await own.close()
    }
  })
})

test('what rules name stays; two who change the same see each other’s; an outage moves orders and ends', async ({
  page,
  context,
}) => {
  await page.goto('/setup/presets?one=letter')
  await page.waitForLoadState('networkidle')
  await page.getByRole('button', { name: 'Delete …' }).click()
  await page.getByRole('button', { name: 'Delete it' }).click()
  await expect(message(page, 'The rule “Small flat things as letters” names Letter mailer')).toBeVisible()
  await page.keyboard.press('Escape')

  // Zones are pasted from a spreadsheet.
  await page.goto('/setup/services?one=dray-same-day')
  await page.waitForLoadState('networkidle')
  const editor = page.getByRole('region', { name: 'Service Dray Same Day' })
  await editor.getByLabel('Zone, row 3', { exact: true }).click()
  await editor.getByLabel('Zone, row 3', { exact: true }).evaluate((cell) => {
    const data = new DataTransfer()
    data.setData('text/plain', 'L3\tBE\tNL\t45\t1\nL3\tBE\tAtlantis\t\t1\n')
    cell.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }))
  })
  await expect(editor.getByLabel('To, row 4', { exact: true })).toHaveValue('Atlantis')
  await editor.getByRole('button', { name: 'Save and route again' }).click()
  await expect(editor.getByText(/Row 4, to: “Atlantis” is no country/)).toBeVisible()
  await editor.getByRole('table', { name: 'Where it goes' }).getByRole('button', { name: 'Take out row 4' }).click()

  // Somebody else changes the same service meanwhile.
  const other = await (await context.browser()!.newContext()).newPage()
  await other.goto(new URL('/setup/services?one=dray-same-day', page.url()).href)
  await other.waitForLoadState('networkidle')
  await other.getByLabel('Cut-off').fill('11:00')
  await other.getByRole('button', { name: 'Save and route again' }).click()
  await expect(message(other, 'Dray Same Day is changed')).toBeVisible()
  await expect(page.getByRole('alert').filter({ hasText: 'Somebody else has changed' })).toBeVisible()
  await expect(page.getByText('cutOff: 11:00')).toBeVisible()
  await page.getByRole('button', { name: 'Take theirs' }).click()
  await expect(editor.getByLabel('Cut-off')).toHaveValue('11:00')
  await expect(editor.getByLabel('Zone, row 3', { exact: true })).toHaveValue('')
  await other.context().close()

  await page.goto('/setup/outages')
  await page.waitForLoadState('networkidle')
  await page.getByLabel('What').selectOption({ label: 'Heron Parcel' })
  await page.getByRole('button', { name: 'Switch it off' }).click()
  await expect(page.getByText('Choose a day and a time.')).toBeVisible()
  const tomorrow = new Date(Date.now() + 86_400_000).toISOString().slice(0, 10)
  await page.getByLabel('Until').fill(`${tomorrow}T06:00`)
  const effect = page.getByRole('region', { name: 'What it does to waiting orders' })
  await expect(effect).toContainText(/\d+ change service/)
  await page.getByRole('button', { name: 'Switch it off' }).click()
  await expect(page.getByRole('row').filter({ hasText: 'Heron Parcel' })).toContainText('off')
  const told = page.getByRole('region', { name: 'Waiting orders routed again' })
  await expect(told).toContainText(/An outage has begun.*\d+ of \d+ waiting orders changed/)
  await page.getByRole('button', { name: 'Switch it on now' }).click()
  await expect(page.getByText('Everything is on.')).toBeVisible()
  await expect(told).toContainText(/An outage was called off/)
})
