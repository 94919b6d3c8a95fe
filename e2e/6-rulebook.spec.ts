import { readFileSync } from 'node:fs'
import { type APIRequestContext, expect, test, type Page } from '@playwright/test'
import { draftOf } from './draftOf'
import { ruleAt } from './ruleAt'
import { e2ePorts } from './ports'
import { backToRules, openList } from './lists'
import { message } from './message'

const saved = (page: Page): Promise<void> => expect(page.getByText('Draft saved')).toBeVisible()
const strip = (page: Page) => page.getByRole('status', { name: 'Trial of the draft' })

const tradeSlip = 'Everything gets the trade slip'
const putBack = ({ request }: { request: APIRequestContext }): Promise<void> => draftOf(request)
test.beforeEach(putBack)
test.afterEach(putBack)

/** A second try finds what the first one left: its pins, and the edition that it published. */
async function asBefore({ request }: Page): Promise<void> {
  const view = (await (await request.get('/api/rules/rulebook')).json()) as {
    pinned: { id: number }[]
    inForce: { number: number }
  }
  for (const { id } of view.pinned) await request.delete(`/api/rules/pinned/${id}`, { data: {} })
  const { editions } = (await (await request.get('/api/rules/editions')).json()) as {
    editions: { number: number; note: string }[]
  }
  const mine = editions.find(({ number }) => number === view.inForce.number)
  if (mine?.note !== tradeSlip) return
  await draftOf(request, mine.number - 1)
  const { revision } = (await (await request.get('/api/rules/rulebook')).json()) as { revision: number }
  const data = { revision, note: 'As it was before the test' }
  expect((await request.post('/api/rules/rulebook/publish', { data })).status()).toBe(200)
}

/** Pastes a text where the focus is, as the keyboard would. */
async function paste(page: Page, text: string): Promise<void> {
  await page.evaluate((given) => {
    const data = new DataTransfer()
    data.setData('text/plain', given)
    document.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }))
  }, text)
}

test('a sentence by keyboard, its counts, a trial of a range, both trails, a broken pin, a note, and the trail of an order', async ({
  page,
}) => {
  // A worker that is not alone on its machine takes its time for a range.
  await asBefore(page)
  await page.goto('/desk?state=ready&country=BE')
  await page.getByRole('row').nth(1).click()
  await page.getByRole('button', { name: 'Pin as an example' }).click()
  await expect(message(page, 'Pinned as an example')).toBeVisible()

  await page.goto('/rules')
  await expect(strip(page)).toContainText('decides as edition')
  const rule = await ruleAt(page, 'd-standard')
  await rule.getByRole('button', { name: 'Standard slip', exact: true }).focus()
  await page.keyboard.press('Enter')
  await page.keyboard.type('trade')
  await page.keyboard.press('Enter')
  await expect(rule).toContainText('Trade desk')
  const live = await ruleAt(page, 'd-live')
  await live.getByRole('button', { name: 'Live plants', exact: true }).focus()
  await page.keyboard.press('Enter')
  await page.keyboard.type('trade')
  await page.keyboard.press('Enter')
  await expect(strip(page)).toContainText('change')

  await strip(page).getByRole('button', { name: 'See them' }).click()
  const panel = page.getByRole('region', { name: 'Trial', exact: true })
  await panel.getByRole('tab', { name: 'A range of orders' }).click()
  await panel.getByRole('button', { name: 'Try the draft' }).click()
  await expect(panel.getByRole('region', { name: 'Orders that change' })).toBeVisible()
  await expect(panel).toContainText(/against edition \d+/)
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    panel.getByRole('link', { name: 'Save as CSV' }).click(),
  ])
  const lines = readFileSync(await file.path(), 'utf8')
    .trim()
    .split('\r\n')
  expect(lines[0]).toMatch(/^order,channel,country,service before,service after/)
  expect(lines.length).toBeGreaterThan(1000)
  await panel.getByRole('region', { name: 'Orders that change' }).getByRole('button').first().click()
  const trails = page.getByRole('dialog')
  await expect(trails.getByRole('row', { name: /△ slip template/ })).toContainText('Trade desk')
  await trails.getByRole('button', { name: 'Close' }).click()
  await panel.getByRole('button', { name: 'Close the trial' }).click()

  await saved(page)
  await page.getByRole('button', { name: 'Publish', exact: true }).click()
  const dialog = page.getByRole('dialog')
  await expect(dialog).toContainText('One pinned order comes out differently')
  await dialog.getByRole('button', { name: 'Publish' }).click()
  await expect(message(page, 'decided differently by this draft')).toBeVisible()
  await dialog.getByLabel('Note for the list of editions').fill(tradeSlip)
  await dialog.getByRole('button', { name: 'Publish' }).click()
  await expect(page.getByRole('region', { name: 'Waiting orders routed again' })).toContainText(
    /of [\d,]+ waiting orders changed/,
  )
  const edition = /Edition (\d+) in force/.exec((await page.locator('header').first().textContent()) ?? '')![1]!

  await page.goto('/desk?state=ready&country=BE')
  await expect
    .poll(async () => {
      await page.getByRole('row').nth(1).click()
      return page.getByRole('region', { name: 'Details of the order' }).textContent()
    })
    .toMatch(new RegExp(`Trade desk[\\s\\S]*by edition ${edition}`))
  await page.goto('/rules')
  await openList(page, 'Pinned orders')
  await page
    .getByRole('region', { name: 'Pinned orders' })
    .getByRole('button', { name: /^Unpin/ })
    .click()
})

test('what is typed or pointed at is tried before it is taken, and Escape leaves the draft as it is', async ({
  page,
  request,
}) => {
  const revision = async (): Promise<number> =>
    ((await (await request.get('/api/rules/rulebook')).json()) as { revision: number }).revision
  await page.goto('/rules')
  await expect(strip(page)).toContainText('decides as edition')
  const before = await revision()
  const effect = page.getByRole('status', { name: 'What it would change' })
  const rule = await ruleAt(page, 's-sign')
  const amount = rule.getByRole('button', { name: '€400.00', exact: true })

  await amount.focus()
  await page.keyboard.press('Enter')
  await expect(effect).toBeHidden()
  await page.keyboard.type('15')
  await expect(effect).toContainText(/^\d+ of [\d,]+ orders change/)
  await expect(rule).toContainText(/typed: \d+ of/)
  const many = Number(/^[\d,]+/.exec((await effect.textContent())!)![0].replaceAll(',', ''))
  await page.keyboard.type('0')
  await expect(effect).toContainText(/orders change/)
  // Fewer orders are worth €150 than €15.
  await expect
    .poll(async () => Number(/^[\d,]+/.exec((await effect.textContent())!)?.[0].replaceAll(',', '') ?? NaN))
    .toBeLessThan(many)
  await page.keyboard.type(' kilos')
  await expect(effect).toBeHidden()
  await page.keyboard.press('Escape')
  await expect(amount).toBeFocused()
  await expect(rule).not.toContainText('typed:')

  // What Triage settles is known as well: light boxes with plants are fewer, not none.
  const plants = page.locator('[data-rule=p-plants]')
  await plants.getByRole('button', { name: '5.5 kg', exact: true }).focus()
  await page.keyboard.press('Enter')
  await page.keyboard.type('1 kg')
  await expect(plants).toContainText(/typed: [1-9]\d* of .*−\d+/)
  await page.keyboard.press('Escape')

  const first = (await ruleAt(page, 'v-live')).getByRole('button', { name: 'Heron Road', exact: true })
  await first.focus()
  await page.keyboard.press('Enter')
  await page.keyboard.press('ArrowDown')
  await expect(effect).toContainText('change service')
  await page.keyboard.press('Escape')
  await expect(strip(page)).toContainText('decides as edition')
  expect(await revision()).toBe(before)

  await first.focus()
  await page.keyboard.press('Enter')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Enter')
  await expect(strip(page)).toContainText('change service')
  await saved(page)
  expect(await revision()).toBeGreaterThan(before)
})

test('findings stand beside the rules with a made-up order; rules are found, pasted, and moved after a look at what it changes', async ({
  page,
}) => {
  await page.goto('/rules')
  const express = await ruleAt(page, 'v-express')
  await express.getByRole('button', { name: 'All findings in full' }).click()
  await expect(express.getByRole('list', { name: 'Findings' })).toContainText(
    'Clash: where both match, “Live plants arrive fast” decides the service',
  )
  await (await ruleAt(page, 'v-express')).getByRole('button', { name: 'Show an order' }).first().click()
  await expect(page.getByRole('dialog')).toContainText('wanted by Express goes by morning, but a rule above decided it')
  await page.keyboard.press('Escape')

  await page.locator('[data-rule=t-dg]').getByRole('button', { name: 'More for Dangerous goods' }).focus()
  await paste(page, 'no rule at all')
  await expect(message(page, 'is no rule')).toBeVisible()
  await paste(
    page,
    'rulebook: x\nrules:\n  - id: a\n    stage: triage\n    name: Two places at once\n    when: { all: [{ fact: country, op: is, value: BE }, { fact: country, op: is, value: NL }] }\n    then: [{ set: hold, to: why }]\n',
  )
  const pasted = page
    .getByRole('listitem')
    .filter({ has: page.getByRole('button', { name: 'Move Two places at once' }) })
  await expect(pasted).toContainText(
    'It can never match: when ship-to country is NL, it cannot be that ship-to country is BE.',
  )
  await page.getByRole('button', { name: /with findings/ }).click()
  await expect(page.locator('[data-rule=t-live]')).toHaveCount(0)
  await expect(pasted).toHaveCount(1)
  await page.getByRole('button', { name: 'Show all' }).click()
  await page.getByLabel('Search rules, facts and values').fill('dangerous-goods class')
  await expect(page.locator('[data-rule=t-dg]')).toBeVisible()
  await expect(page.locator('[data-rule=t-live]')).toHaveCount(0)
  await page.getByRole('button', { name: 'Show all' }).click()

  await page.getByRole('button', { name: 'More for British orders from Leeds' }).click()
  await page.getByRole('menuitem', { name: 'Move to another stage …' }).click()
  const dialog = page.getByRole('dialog')
  await expect(dialog).toContainText(/The move changes none|\d+ of [\d,]+ orders change/)
  await dialog.getByLabel('It goes to').selectOption('papers')
  await expect(dialog).toContainText('"ship from" belongs to origin; a rule of papers comes too late for it.')
  await dialog.getByRole('button', { name: 'Not now' }).click()
  await expect(page.getByRole('region', { name: 'origin' })).toContainText('Leeds (partner)')
})

test('a wording gets its meaning with one click, and the waiting orders follow', async ({ page }) => {
  await page.goto('/intake/wordings')
  const shop = page.getByRole('region', { name: 'Mossgill Shop' })
  await shop.getByRole('button', { name: 'Pick-up point means economy' }).click()
  await expect(page.getByRole('region', { name: 'Waiting orders routed again' })).toContainText(
    'The wording table of Mossgill Shop changed',
  )
  await expect(page.getByRole('region', { name: 'Waiting orders routed again' })).toContainText(
    'waiting orders changed',
  )
  await expect(shop.getByLabel('Wording, row 6')).toHaveValue('Pick-up point')
  await shop.getByLabel('Weight, row 6').fill('heavy')
  await shop.getByRole('button', { name: 'Save and route again' }).click()
  await expect(shop.getByRole('alert')).toContainText('"heavy" is no weight band: write to 2 kg')
  await shop.getByLabel('Weight, row 6').fill('from 2 kg')
  await shop.getByLabel('Weight, row 6').press('Enter')
  await expect(message(page, 'routed again').first()).toBeVisible()
  await page.reload()
  await expect(shop.getByLabel('Weight, row 6')).toHaveValue('from 2 kg')
})

test('the rulebook leaves as a file and comes back with a readable difference; a broken file changes nothing', async ({
  page,
}) => {
  await page.goto('/rules')
  await openList(page, 'File')
  const section = page.getByRole('region', { name: 'As a file' })
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    section.getByRole('button', { name: 'Save the draft as a file' }).click(),
  ])
  const text = readFileSync(await file.path(), 'utf8')
  const put = (name: string, content: string): Promise<void> =>
    section
      .getByLabel('Read a rulebook from a file')
      .setInputFiles({ name, mimeType: 'text/yaml', buffer: Buffer.from(content) })
  await put('same.yaml', text)
  await expect(section).toContainText('same.yaml says what the draft says.')
  await put('broken.yaml', text.replace('op: ≥', 'op: resembles'))
  await expect(section.getByRole('alert')).toContainText(/Line \d+: .*[Ii]nvalid/)
  await put('mine.yaml', text.replace('name: Glass\n', 'name: Glass and ceramics\n'))
  await expect(section).toContainText('"Glass" is now called "Glass and ceramics"')
  await section.getByRole('button', { name: 'Take it as the draft' }).click()
  await backToRules(page)
  await expect(page.locator('[data-rule=t-glass]').getByLabel('Name of the rule')).toHaveValue('Glass and ceramics')
})

test('an edition from a day on, withdrawn again; and what people keep pinning becomes a rule', async ({
  page,
  request,
}) => {
  await page.goto('/rules')
  await page.locator('[data-rule=t-dg]').getByRole('switch').uncheck()
  await saved(page)
  await page.getByRole('button', { name: 'Publish', exact: true }).click()
  const day = new Date(Date.now() + 5 * 86_400_000).toISOString().slice(0, 10)
  await page.getByRole('dialog').getByLabel('Note for the list of editions').fill('Without the tag, later')
  await page.getByRole('dialog').getByLabel('In force from').fill(day)
  await page.getByRole('dialog').getByRole('button', { name: 'Publish' }).click()
  await expect(page.getByText(/· edition \d+ from/)).toBeVisible()
  await openList(page, 'Editions')
  await page.getByRole('button', { name: 'Withdraw' }).click()
  await expect(page.getByText('Withdrawn before it came into force')).toBeVisible()

  // Four orders with a wording that nobody has seen before, pinned alike.
  const shop = `http://127.0.0.1:${e2ePorts.GHARRY_SHOP_PORT}`
  const [model] = (
    (await (await request.get(`${shop}/admin/orders`)).json()) as { ship_to: { country: string; street: string[] } }[]
  ).filter((order) => order.ship_to.country === 'BE' && order.ship_to.street.length > 0)
  const made = [1, 2, 3, 4].map((n) => ({
    ...model,
    id: `noon-${n}`,
    number: `MG-NOON-${n}`,
    shipping_method: 'Courier at noon',
    status: 'open',
    fulfilments: [],
    placed_at: new Date().toISOString(),
    changed_at: new Date().toISOString(),
  }))
  await request.post(`${shop}/admin/orders`, { data: made })
  await page.goto('/intake')
  await page.getByRole('button', { name: 'Import now from Mossgill Shop' }).click()
  const waiting = async (): Promise<{ id: number }[]> =>
    ((await (await request.get('/api/desk?q=MG-NOON')).json()) as { rows: { id: number }[] }).rows
  await expect.poll(async () => (await waiting()).length).toBe(4)
  for (const { id } of await waiting())
    expect(
      (await request.post(`/api/desk/orders/${id}/pins`, { data: { decision: 'priority', value: 'urgent' } })).status(),
    ).toBe(200)
  await page.goto('/rules')
  await openList(page, 'Suggestions')
  const suggestions = page.getByRole('region', { name: 'Suggestions' })
  await expect(suggestions).toContainText('When checkout wording is Courier at noon: treat it as urgent')
  await expect(suggestions).toContainText('4 for it of 4 pinned so')
  await suggestions.getByRole('button', { name: 'Take it into the draft' }).click()
  await expect(suggestions).toContainText('It is in the draft.')
  await backToRules(page)
  await expect(page.getByRole('region', { name: 'triage' }).getByRole('listitem').first()).toContainText(
    'checkout wording is Courier at noon',
  )
})

test('two people at one wording table: the other’s change is shown beside mine, and I choose', async ({
  page,
  context,
}) => {
  const other = await context.newPage()
  for (const tab of [page, other]) await tab.goto('/intake/wordings')
  const mine = page.getByRole('region', { name: 'Mossgill Shop' })
  const theirs = other.getByRole('region', { name: 'Mossgill Shop' })
  const before = await mine.getByLabel('Weight, row 6').inputValue()
  await mine.getByLabel('Weight, row 6').fill('to 9 kg')
  await theirs.getByLabel('Weight, row 6').fill('to 8 kg')
  await theirs.getByRole('button', { name: 'Save and route again' }).click()
  await expect(message(other, 'Saved; the waiting orders are routed again')).toBeVisible()
  const alert = mine.getByRole('alert')
  await expect(alert).toContainText('Somebody else has changed this table while you were editing.')
  await expect(alert).toContainText('to 9 kg')
  await expect(alert).toContainText('to 8 kg')
  await expect(mine.getByRole('button', { name: 'Save and route again' })).toBeDisabled()
  await alert.getByRole('button', { name: 'Take theirs' }).click()
  await expect(mine.getByLabel('Weight, row 6')).toHaveValue('to 8 kg')
  // And the other way round: what was shown may be replaced, knowingly.
  await mine.getByLabel('Weight, row 6').fill(before)
  await theirs.getByLabel('Weight, row 6').fill('to 7 kg')
  await theirs.getByRole('button', { name: 'Save and route again' }).click()
  await alert.getByRole('button', { name: /^Keep mine/ }).click()
  await mine.getByRole('button', { name: 'Save and route again' }).click()
  await expect(message(page, 'Saved; the waiting orders are routed again')).toBeVisible()
  await page.reload()
  await expect(mine.getByLabel('Weight, row 6')).toHaveValue(before)
  await other.close()
})

test('of 300 rules only those in view are drawn whole, also after a search is cleared; so are orders of a large plan', async ({
  page,
  request,
}) => {
  const { draft, revision } = (await (await request.get('/api/rules/rulebook')).json()) as {
    draft: { rules: { id: string }[] }
    revision: number
  }
  const base = draft.rules.find(({ id }) => id === 't-dg')!
  const many = Array.from({ length: 300 }, (_, i) => ({ ...base, id: `many-${i}`, name: `Tag number ${i}` }))
  expect(
    (await request.put('/api/rules/rulebook', { data: { rulebook: { ...draft, rules: many }, revision } })).status(),
  ).toBe(200)
  await page.goto('/rules')
  await expect(page.getByText('Tag number 0', { exact: true })).toBeVisible()
  const rules = page.locator('[data-rule]')
  const whole = rules.filter({ has: page.getByRole('switch') })
  await expect(rules).toHaveCount(300)
  const few = async (): Promise<void> => {
    await expect.poll(() => whole.count()).toBeGreaterThan(3)
    expect(await whole.count()).toBeLessThan(60)
  }
  await few()
  await page.getByLabel('Search rules, facts and values').fill('number 29')
  await expect(rules).toHaveCount(13)
  await page.getByLabel('Search rules, facts and values').fill('')
  await expect(rules).toHaveCount(300)
  await few()
  await page.goto('/dispatch')
  await page.getByRole('button', { name: 'Plan all ready orders' }).click()
  const grid = page.getByRole('grid', { name: 'Orders of the batch' })
  await grid.getByRole('row').nth(3).waitFor()
  const [told, drawn] = [Number(await grid.getAttribute('aria-rowcount')), await grid.getByRole('row').count()]
  expect(told).toBeGreaterThan(150)
  expect(drawn).toBeLessThan(80)
})
