import type { Locator, Page } from '@playwright/test'

/** A short message at the foot of the page. */
export const message = (page: Page, text: string): Locator =>
  page
    .getByRole('region', { name: /^Messages/ })
    .getByRole('listitem')
    .filter({ hasText: text })
