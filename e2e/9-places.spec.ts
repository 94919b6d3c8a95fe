import { expect, test } from '@playwright/test'

/** As an English reader sees them: the same digits, whatever is between them. */
const digits = (texts: readonly string[]): string[] => texts.map((text) => text.replace(/\D/g, ''))

const places = [
  {
    locale: 'de-DE',
    timezoneId: 'Europe/Berlin',
    amount: /^\d{1,3}(?:\.\d{3})*,\d\d €$/,
    day: /\d{1,2}\. \p{L}{3}/u,
  },
  {
    locale: 'en-US',
    timezoneId: 'America/Los_Angeles',
    amount: /^€\d{1,3}(?:,\d{3})*\.\d\d$/,
    day: /[A-Z][a-z]{2} \d{1,2}/,
  },
  { locale: 'ja-JP', timezoneId: 'Asia/Tokyo', amount: /^€\d{1,3}(?:,\d{3})*\.\d\d$/, day: /\d{1,2}月\d{1,2}日/ },
] as const

for (const { locale, timezoneId, amount, day } of places)
  test.describe(`${locale}, ${timezoneId}`, () => {
    test.use({ locale, timezoneId })

    test('amounts and days are written as the reader does, from the first drawing on; what is typed so is understood', async ({
      page,
      browser,
    }) => {
      const errors: string[] = []
      page.on('console', (message) => {
        if (message.type() === 'error') errors.push(message.text())
      })
      await page.goto('/desk?state=ready')
      const row = page.getByRole('grid').getByRole('row').nth(1)
      await row.waitFor()
      await expect(page.getByRole('grid').getByRole('gridcell').filter({ hasText: day }).first()).toBeVisible()
      await row.click()
      // What the label costs, beside the service.
      await expect(page.getByRole('table').getByText(amount).first()).toBeVisible()

      const english = await browser.newPage({ locale: 'en-GB', timezoneId: 'UTC' })
      for (const path of ['/ledger', '/tracking', '/dispatch', '/desk']) {
        await Promise.all([page.goto(path), english.goto(path)])
        const cells = (which: typeof page): Promise<string[]> =>
          which
            .locator('td, [role=gridcell]')
            .filter({ hasText: /\d[.,]\d\d( €)?$/ })
            .allInnerTexts()
        await Promise.all([page, english].map((each) => each.waitForLoadState('networkidle')))
        await expect(async () =>
          expect([path, digits(await cells(page))]).toEqual([path, digits(await cells(english))]),
        ).toPass()
      }
      await english.close()
      // A word of a rule: what it shows is what it understands.
      await page.goto('/rules')
      const rule = page.locator('[data-rule]').filter({ hasText: 'check the payment' })
      const word = rule.getByRole('button', { name: /€/ }).first()
      await expect(word).toHaveText(amount)
      await word.click()
      const field = page.getByRole('textbox', { name: 'Value' })
      await field.fill(locale === 'de-DE' ? '1.250,50 €' : '€1,250.50')
      await field.press('Enter')
      await expect(word).toHaveText(locale === 'de-DE' ? '1.250,50 €' : '€1,250.50')
      await page.getByRole('button', { name: 'Undo' }).click()
      await expect(page.getByText('Draft saved')).toBeVisible()
      expect(errors).toEqual([])
    })
  })
