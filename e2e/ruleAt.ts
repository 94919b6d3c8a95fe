import type { Locator, Page } from '@playwright/test'

/** A rule by its identifier, brought into view: rules far from it are their headings alone. */
export async function ruleAt(page: Page, id: string): Promise<Locator> {
  const rule = page.locator(`[data-rule=${id}]`)
  await rule.evaluate((row) => row.scrollIntoView({ block: 'center' }))
  await rule.locator('[data-sentence]').waitFor()
  return rule
}
