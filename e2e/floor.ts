import { expect, type Page } from '@playwright/test'

/** What stands on the dispatch floor, for the tests of benches, doors and counters. */
export interface Line {
  readonly sku: string
  readonly quantity: number
}
/** An order whose label is bought. */
export interface Bought {
  readonly id: number
  readonly number: string
  readonly tracking: string
  readonly lines: readonly Line[]
}

/** Asks the server for something, or tells it; what it refuses fails the test. */
export async function ask<T>(page: Page, method: 'get' | 'post', path: string, data?: object): Promise<T> {
  const answer = await page.request[method](path, data ? { data } : undefined)
  expect(answer.ok(), await answer.text()).toBe(true)
  return (await answer.json()) as T
}

/** Buys labels for these orders, and says what is in those of one parcel. */
export async function buyOrders(page: Page, ids: readonly number[]): Promise<Bought[]> {
  const plan = await ask<{ total: number; labels: { order: number }[] }>(page, 'post', '/api/dispatch/plan', {
    orders: ids,
  })
  const orders = plan.labels.map(({ order }) => order)
  await ask(page, 'post', '/api/dispatch/batches', { orders, expected: plan.total, approval: 'a test' })
  const found: Bought[] = []
  for (const id of orders) {
    let parcels: { number: string }[] = []
    let order: { order: { number: string; items: Line[] }; labels: { state: string; parcels: typeof parcels }[] }
    do {
      await page.waitForTimeout(200)
      order = await ask(page, 'get', `/api/desk/orders/${id}`)
      parcels = order.labels.at(-1)?.parcels ?? []
    } while (parcels.length === 0)
    if (parcels.length === 1)
      found.push({ id, number: order.order.number, tracking: parcels[0]!.number, lines: order.order.items })
  }
  return found
}

/** Buys labels for ready orders of one service. */
export async function buy(page: Page, wanted: number, query = 'service=heron-road'): Promise<Bought[]> {
  const ids = await ask<number[]>(page, 'get', `/api/desk/ids?state=ready&${query}`)
  return buyOrders(page, ids.slice(0, wanted))
}

/** What a scanner sends: fast keys, and Enter where it is set so. */
export async function scan(page: Page, code: string, enter = true): Promise<void> {
  const field = page.getByLabel('Scan or type a code')
  if (enter) {
    // In one go: on a busy machine keys that are sent one by one come no faster than by hand.
    await field.focus()
    await page.keyboard.insertText(code)
    return page.keyboard.press('Enter')
  }
  await field.focus()
  await page.keyboard.insertText(code)
  await expect(field).toHaveValue('')
}

/** What the screen says last. */
export const said = (page: Page, words: string | RegExp) =>
  expect(page.getByRole('status').or(page.getByRole('alert')).filter({ hasText: words }).first()).toBeVisible()

/** Signs in the field for it. */
export async function sign(page: Page): Promise<void> {
  const box = (await page.getByLabel('Sign here').boundingBox())!
  await page.mouse.move(box.x + 20, box.y + 40)
  await page.mouse.down()
  for (let i = 1; i < 12; i++) await page.mouse.move(box.x + 20 + i * 12, box.y + 40 + (i % 2) * 20)
  await page.mouse.up()
}
