import { expect, test, type Locator, type Page } from '@playwright/test'
import { draftOf } from './draftOf'
import { ruleAt } from './ruleAt'
import { backToRules, openList } from './lists'
import { message } from './message'

// Each begins with the rules that are in force, a second try too.
test.beforeEach(({ request }) => draftOf(request))

test('a sentence is edited by keyboard alone, published, and seen in an order’s trail', async ({ page, request }) => {
  const { inForce } = (await (await request.get('/api/rules/rulebook')).json()) as { inForce: { number: number } }
  const published = inForce.number + 1
  await page.goto('/rules')
  const rule = await ruleAt(page, 'v-rest')
  await rule.getByRole('button', { name: 'the cheapest that arrives by the promised day' }).focus()
  await page.keyboard.press('Enter')
  await page.keyboard.type('fastest')
  await page.keyboard.press('Enter')
  await expect(rule.getByRole('button', { name: 'the fastest' })).toBeVisible()
  await expect(page.getByText('Draft saved')).toBeVisible()
  await expect(rule.getByText('changed')).toBeVisible()

  // Undo and redo.
  await page.keyboard.press('Control+z')
  await expect(rule.getByRole('button', { name: 'the cheapest that arrives by the promised day' })).toBeVisible()
  await page.keyboard.press('Control+y')
  await expect(rule.getByRole('button', { name: 'the fastest' })).toBeVisible()

  await page.getByRole('button', { name: 'Publish' }).click()
  await page.getByLabel('Note for the list of editions').fill('As fast as can be')
  await page.getByRole('dialog').getByRole('button', { name: 'Publish' }).click()
  await expect(page.getByText(`Edition ${published} in force`)).toBeVisible()
  await page.goto('/desk?state=ready')
  await expect
    .poll(async () => {
      await page.getByRole('row').nth(1).click()
      return page.getByRole('region', { name: 'Details of the order' }).textContent()
    })
    .toContain(`by edition ${published}`)
})

test('a new rule is written, moved by keyboard, switched off, deleted and brought back', async ({ page }) => {
  await page.goto('/rules')
  const stage = page.getByRole('region', { name: 'triage' })
  await stage.getByRole('button', { name: 'Add a rule' }).click()
  const name = stage.getByLabel('Name of the rule').last()
  await name.fill('Belgian plants')
  await name.press('Enter')
  const rule = stage.getByRole('listitem').last()
  await expect(page.getByRole('combobox', { name: 'Add a condition on' })).toBeFocused()
  await page.keyboard.type('ship-to country')
  await page.keyboard.press('Enter')
  // The list of the new condition opens by itself; Enter alone is done with it.
  await expect(page.getByRole('combobox', { name: 'Add a value or a group' })).toBeFocused()
  await page.keyboard.type('BE')
  await page.keyboard.press('Enter')
  await expect(rule).toContainText('BE')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('combobox', { name: 'Add a condition on' })).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('combobox', { name: 'Add an action' })).toBeFocused()
  await page.keyboard.type('add tags')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('textbox', { name: 'Tags' })).toBeFocused()
  await page.keyboard.type('home')
  await page.keyboard.press('Enter')
  await expect(rule).toContainText('ship-to country is one of BE')
  await expect(rule).toContainText('add tags home')

  const order = (): Promise<string[]> =>
    stage
      .getByLabel('Name of the rule')
      .evaluateAll((fields) => fields.map((field) => (field as HTMLInputElement).value))
  const before = await order()
  await rule.getByRole('button', { name: 'Move Belgian plants' }).focus()
  await page.keyboard.press('Alt+ArrowUp')
  await expect.poll(order).toEqual([...before.slice(0, -2), before.at(-1), before.at(-2)])

  const mine = stage.getByRole('listitem').filter({ has: page.getByRole('button', { name: 'Move Belgian plants' }) })
  await mine.getByRole('switch').uncheck()
  await expect(page.getByText('Draft saved')).toBeVisible()
  await mine.getByRole('button', { name: 'Delete Belgian plants' }).click()
  await expect(mine).toHaveCount(0)
  await page
    .getByRole('region', { name: /^Messages/ })
    .getByRole('button', { name: 'Undo' })
    .click()
  await expect(mine).toHaveCount(1)
  await expect(mine.getByRole('switch')).not.toBeChecked()
  await expect(page.getByText('Draft saved')).toBeVisible()
  await page.reload()
  await expect(mine.getByRole('switch')).not.toBeChecked()
})

test('wrong input is said where it stands, and keeps the draft from being published', async ({ page }) => {
  await page.goto('/rules')
  const rule = await ruleAt(page, 's-insure')
  await rule.getByRole('button', { name: '€250.00' }).click()
  await page.keyboard.type('a lot')
  await page.keyboard.press('Enter')
  await expect(page.getByText('“a lot” cannot be read.')).toBeVisible()
  await page.keyboard.press('Escape')
  // What rules name is not deleted.
  await openList(page, 'Groups')
  await page.getByLabel('Search groups').fill('road')
  await page.getByRole('button', { name: 'Delete the group road countries' }).click()
  await expect(message(page, 'name this group').or(message(page, 'names this group'))).toBeVisible()
  // An error that came in another way keeps the draft from being published.
  const { draft, revision } = (await (await page.request.get('/api/rules/rulebook')).json()) as {
    draft: { rules: object[] }
    revision: number
  }
  const save = async (rules: object[]): Promise<void> => {
    const now = (await (await page.request.get('/api/rules/rulebook')).json()) as { revision: number }
    await page.request.put('/api/rules/rulebook', {
      data: { rulebook: { ...draft, rules }, revision: Math.max(revision, now.revision) },
    })
  }
  const when = { fact: 'country', op: 'is one of', value: [{ group: 'gone' }] }
  const then = [{ set: 'tags', to: ['far'] }]
  await save([
    ...draft.rules,
    { id: 'of-gone', stage: 'triage', name: 'Of a group that is gone', on: true, when, then },
  ])
  await page.goto('/rules')
  await expect(page.getByText(/There is no group "gone"/).first()).toBeVisible()
  await page.getByRole('button', { name: 'Publish' }).click()
  await expect(page.getByRole('button', { name: 'Correct the errors first' })).toBeDisabled()
  await page.getByRole('button', { name: 'Not now' }).click()
  await save(draft.rules)
})

test('the counts of a trial follow the typing, and every changed order can be looked at', async ({ page }) => {
  await page.goto('/rules')
  const strip = page.getByRole('status', { name: 'Trial of the draft' })
  await expect(strip).toBeVisible()
  const rule = await ruleAt(page, 'v-live')
  await rule.getByRole('button', { name: 'Heron Road', exact: true }).click()
  await page.keyboard.type('heron morning')
  await page.keyboard.press('Enter')
  await expect(strip).toContainText('change service')
  await expect(strip).toContainText('dearer')
  await strip.getByRole('button', { name: 'See them' }).click()
  const panel = page.getByRole('region', { name: 'Trial', exact: true })
  await expect(panel).toContainText('Heron Road → Heron Morning')
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    panel.getByRole('button', { name: 'Save as CSV' }).click(),
  ])
  expect(file.suggestedFilename()).toBe('trial.csv')
  await page.keyboard.press('Control+z')
  await expect(page.getByText('Draft saved')).toBeVisible()
  await expect(panel).toBeVisible()
})

test('a pinned order that a draft breaks keeps it from being published without a note', async ({ page }) => {
  // What ships from Leeds is neither alive nor fragile, so it has the standard slip, whatever the tests before have
  // published.
  await page.goto('/desk?state=ready&location=leeds')
  await page.getByRole('row').nth(1).click()
  await page.getByRole('button', { name: 'Pin as an example' }).click()
  await expect(message(page, 'Pinned as an example')).toBeVisible()
  await page.goto('/rules')
  await (await ruleAt(page, 'd-standard')).getByRole('switch').uncheck()
  await expect(page.getByText('Draft saved')).toBeVisible()
  await openList(page, 'Pinned orders')
  const pinned = page.getByRole('region', { name: 'Pinned orders' })
  await expect(pinned).toContainText('broken')
  await pinned.getByRole('button', { name: /^Unpin/ }).click()
  await expect(pinned).toContainText('None yet')
  await backToRules(page)
  await (await ruleAt(page, 'd-standard')).getByRole('switch').check()
  await expect(page.getByText('Draft saved')).toBeVisible()
})

/** Types into the list that is open, and takes it. */
const take = async (page: Page, list: string, ...texts: string[]): Promise<void> => {
  for (const text of texts) {
    await expect(page.getByLabel(list, { exact: true }).and(page.locator('input'))).toBeFocused()
    await page.keyboard.type(text)
    await page.keyboard.press('Enter')
  }
}
const add = async (page: Page, stageName: string, name: string): Promise<Locator> => {
  const stage = page.getByRole('region', { name: stageName })
  await stage.getByRole('button', { name: 'Add a rule' }).click()
  // The name is typed, and Enter opens the sentence's first word.
  await expect(stage.locator('input:focus')).toHaveValue('New rule')
  await page.keyboard.type(name)
  await page.keyboard.press('Enter')
  return stage.getByRole('listitem').filter({ has: page.getByRole('button', { name: `Move ${name}` }) })
}
const winter = async (rule: Locator): Promise<void> => {
  await rule.getByRole('button', { name: 'dates' }).click()
  await rule.page().getByLabel('from', { exact: true }).fill('2026-10-15')
  await rule.page().getByLabel('until', { exact: true }).fill('2027-03-31')
  await rule.page().keyboard.press('Enter')
  await expect(rule).toContainText('from 2026-10-15')
}

const plants = async (
  page: Page,
  stage: string,
  name: string,
  action: string,
  list: string,
  text: string,
): Promise<Locator> => {
  const rule = await add(page, stage, name)
  await take(page, 'Add a condition on', 'tags')
  await take(page, 'Add a value or a group', 'live', '')
  await take(page, 'Add a condition on', '')
  await take(page, 'Add an action', action)
  await take(page, list, text)
  await winter(rule)
  return rule
}

test('a rule in the words of the lead, typed on from word to word: plants bought after Wednesday noon wait for Monday', async ({
  page,
}) => {
  await page.goto('/rules')
  const wait = await add(page, 'triage', 'Plants wait for Monday')
  await take(page, 'Add a condition on', 'any item where', 'tags')
  // What comes next opens by itself; Enter alone goes on, out of the items and of the groups, to what it does.
  await take(page, 'Add a value or a group', 'live', '')
  await take(page, 'Add a condition on', '', 'a group: any of', 'order was placed')
  await take(page, 'Operator', 'weekday')
  await take(page, 'Add a weekday', 'Thursday', 'Friday', 'Saturday', '')
  await take(page, 'Add a condition on', 'a group: all of', 'order was placed')
  await take(page, 'Operator', 'weekday')
  await take(page, 'Add a weekday', 'Wednesday', '')
  await take(page, 'Add a condition on', 'order was placed')
  await take(page, 'Operator', 'time of day between')
  await take(page, 'Value', 'noon')
  await expect(page.getByText('“noon” cannot be read.')).toBeVisible()
  await page.keyboard.press('Escape')
  await wait.getByRole('button', { name: 'add an action', exact: true }).press('Enter')
  await take(page, 'Add an action', 'hold because')
  await expect(page.getByLabel('Why')).toBeFocused()
  await page.keyboard.type('waits for Monday')
  await page.keyboard.press('Tab')
  await page.keyboard.type('Monday')
  await page.keyboard.press('Enter')
  await expect(wait).toContainText(
    'any item where tags has any live + and (order was placed weekday is Thursday, Friday, Saturday or (order was placed weekday is Wednesday and order was placed time of day between 12:00 and 23:59',
  )
  await expect(wait).toContainText('hold because waits for Monday, until Monday')
  await expect(page.getByText('Draft saved')).toBeVisible()
  await expect(wait).not.toContainText('◆')
  // Plants are held that were not: the trial says how many before anything is published.
  await expect(page.getByRole('status', { name: 'Trial of the draft' })).toContainText(
    /\d+ of [\d,]+ orders of the last 30 days change/,
  )
  await wait.getByRole('button', { name: /^Delete / }).click()
  await expect(page.getByText('Draft saved')).toBeVisible()
})

test('a new rule of a stage that ends with “Everything else” stands above it, and acts', async ({ page }) => {
  await page.goto('/rules')
  const stage = page.getByRole('region', { name: 'service' })
  const rule = await add(page, 'service', 'Heavy things by road')
  await take(page, 'Add a condition on', 'parcel weight')
  await take(page, 'Value', 'ten kilos')
  await expect(page.getByText('“ten kilos” cannot be read.')).toBeVisible()
  await page.keyboard.press('ControlOrMeta+a')
  await take(page, 'Value', '10 kg')
  await rule.getByRole('button', { name: 'add an action', exact: true }).press('Enter')
  await take(page, 'Add an action', 'choose')
  await take(page, 'Service', 'Heron Road')
  await expect(rule).toContainText('choose Heron Road')
  const names = await stage
    .getByLabel('Name of the rule')
    .evaluateAll((fields) => fields.map((field) => (field as HTMLInputElement).value))
  expect(names.slice(-2)).toEqual(['Heavy things by road', 'Everything else'])
  await expect(page.getByText('Draft saved')).toBeVisible()
  await expect(rule).not.toContainText('never acts')
  await rule.getByRole('button', { name: /^Delete / }).click()
  await expect(page.getByText('Draft saved')).toBeVisible()
})

test('and in winter they go warm and fast: two rules with dates', async ({ page }) => {
  await page.goto('/rules')
  const warm = await plants(page, 'packing', 'Plants packed warm', 'put in', 'Inserts', 'Heat pack 60 g')
  const fast = await plants(page, 'protection', 'Plants go fast', 'take at most', 'Days', '2')
  await expect(warm).toContainText('then put in Heat pack (60 g)')
  await expect(fast).toContainText('take at most this many days on the way: 2 days')
  await expect(page.getByText('Draft saved')).toBeVisible()
  for (const rule of [fast, warm]) await rule.getByRole('button', { name: /^Delete / }).click()
  await expect(page.getByText('Draft saved')).toBeVisible()
})

test('a condition is understood as it is typed in one go, and a value sets its operator', async ({ page }) => {
  await page.goto('/rules')
  const rule = page.locator('[data-rule]').filter({ hasText: 'check the payment' })
  await expect(page.getByRole('status', { name: 'Trial of the draft' })).toBeVisible()
  const before = (await rule.locator('[data-sentence]').textContent()) ?? ''
  await rule.hover()
  await rule.getByTitle('Add a condition').first().click()
  await page.keyboard.type('country be, nl')
  await expect(page.getByRole('option', { name: /ship-to country is one of BE, NL/ })).toBeVisible()
  await page.keyboard.press('Enter')
  await expect(rule).toContainText('ship-to country is one of BE, NL')
  await rule.getByRole('button', { name: '€1,500.00' }).first().click()
  await page.keyboard.type('between 400 and 900')
  await page.keyboard.press('Enter')
  await expect(rule).toContainText('order value between €400.00 and €900.00')
  await rule.getByRole('button', { name: '€400.00' }).first().click()
  await page.keyboard.type('lots')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('alert').filter({ hasText: '“lots” cannot be read.' })).toBeVisible()
  await page.keyboard.press('Escape')
  for (let i = 0; i < 2; i++) await page.getByRole('button', { name: 'Undo' }).click()
  await expect(rule.locator('[data-sentence]')).toHaveText(before)
  await expect(page.getByText('Draft saved')).toBeVisible()
})

test('a group is a list of names: chosen, typed, pasted, and taken out again', async ({ page }) => {
  await page.goto('/rules')
  await openList(page, 'Groups')
  await expect(page).toHaveURL(/lists=groups/)
  await page.getByLabel('Name of a new group').fill('Far north')
  await page.getByRole('button', { name: 'Add', exact: true }).click()
  const members = page.getByRole('list', { name: 'Members of Far north' })
  const add = page.getByRole('combobox', { name: 'Add to Members of Far north' })
  await add.fill('icel')
  await page.getByRole('option', { name: /Iceland/ }).click()
  await add.fill('NO, greenland; Atlantis')
  await add.press('Enter')
  await expect(message(page, '“Atlantis” is not known and not added.')).toBeVisible()
  await expect(members.getByRole('listitem')).toHaveText(['Iceland', 'Norway', 'Greenland'])
  await members.getByRole('button', { name: 'Take out Norway' }).click()
  await expect(members.getByRole('listitem')).toHaveText(['Iceland', 'Greenland'])
  await expect(page.getByText('Draft saved')).toBeVisible()
  await page.reload()
  await expect(members.getByRole('listitem')).toHaveText(['Iceland', 'Greenland'])
  await page.getByRole('button', { name: 'Delete the group Far north' }).click()
  await expect(page.getByText('Draft saved')).toBeVisible()
})

test('a draft that could not be saved says so, tries again by itself, and at once when asked', async ({ page }) => {
  await page.goto('/rules')
  const rule = (await ruleAt(page, 'd-standard')).getByRole('switch')
  let gone = true
  await page.route('**/api/rules/rulebook', (route) =>
    gone && route.request().method() === 'PUT' ? route.abort() : route.continue(),
  )
  await rule.uncheck()
  const problem = page.getByRole('alert').filter({ hasText: 'Gharry cannot be reached. What you did is not saved yet' })
  await expect(problem).toBeVisible()
  await expect(page.getByText('Not saved yet', { exact: true })).toBeVisible()
  gone = false
  await expect(page.getByText('Draft saved')).toBeVisible()
  await expect(problem).toBeHidden()
  gone = true
  await rule.check()
  await expect(problem).toBeVisible()
  gone = false
  await problem.getByRole('button', { name: 'Try again' }).click()
  await expect(page.getByText('Draft saved')).toBeVisible()
  await page.reload()
  await expect((await ruleAt(page, 'd-standard')).getByRole('switch')).toBeChecked()
})
