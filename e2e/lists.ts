import type { Page } from '@playwright/test'

/** Opens a part of *Lists and editions* from the rules. */
export async function openList(page: Page, part: string): Promise<void> {
  await page.getByRole('button', { name: /^Lists and editions/ }).click()
  await page
    .getByRole('navigation', { name: 'Lists and editions' })
    .getByRole('button', { name: new RegExp(`^${part}`) })
    .click()
}

export const backToRules = (page: Page): Promise<void> =>
  page.getByRole('button', { name: /^Back to the rules/ }).click()
