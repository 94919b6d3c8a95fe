import type { APIRequestContext, Locator, Page } from '@playwright/test'

/** Presses a print button as a person does, and fetches the file that it opens in a tab of its own. */
export async function printedBy(page: Page, request: APIRequestContext, button: Locator): Promise<Buffer> {
  const made = page.waitForResponse(
    (response) => response.url().endsWith('/print') && response.request().method() === 'POST',
  )
  const tab = page.waitForEvent('popup')
  await button.click()
  const { file } = (await (await made).json()) as { file: string }
  await (await tab).close()
  return (await request.get(new URL(file, page.url()).href)).body()
}
