import AxeBuilder from '@axe-core/playwright'
import { type Browser, expect, type Page } from '@playwright/test'
import { demoPassword, personOf } from './demoPeople'
import { e2ePorts } from './ports'

export const base = `http://127.0.0.1:${e2ePorts.GHARRY_PORT}`

/** A browser that nobody has signed in with. */
export async function freshPage(browser: Browser, baseURL = base): Promise<Page> {
  return (await browser.newContext({ baseURL, storageState: { cookies: [], origins: [] } })).newPage()
}

/** Signs in on the page that is open. */
export async function signIn(page: Page, email: string, password = demoPassword): Promise<void> {
  await page.getByLabel('E-mail address').fill(email)
  await page.getByLabel('Password').fill(password)
  await page.keyboard.press('Enter')
}

/** A page of whoever of the demo has this role. */
export async function as(browser: Browser, role: string): Promise<Page> {
  const page = await freshPage(browser)
  await page.goto('/')
  await signIn(page, personOf(role).email)
  await page.waitForURL((url) => !url.pathname.startsWith('/sign-in'))
  return page
}

/** Nothing on the page keeps anybody out. */
export const accessible = async (page: Page): Promise<void> => {
  const { violations } = await new AxeBuilder({ page })
    .withTags(['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'])
    .analyze()
  expect(violations.map(({ id, nodes }) => [id, nodes.map((node) => node.html)])).toEqual([])
}
