import type { Locator, Page } from '@playwright/test'

/** A short message at the foot of the page; one that fades away does not count. */
export const message = (page: Page, text: string): Locator =>
  page
    .getByRole('region', { name: /^Messages/ })
    .getByRole('listitem')
    .and(page.locator('[data-removed="false"]'))
    .filter({ hasText: text })
