import { expect, test, type Page } from '@playwright/test'

/*
 * Five usual rules, written from *Add a rule* on by the keyboard alone. Every key counts, those of the words too.
 * Before, the same five took 71 to 153 keys.
 */
const rules: readonly (readonly [
  stage: string,
  says: string,
  atMost: number,
  typed: readonly (readonly [text: string, opens: string])[],
])[] = [
  [
    'protection',
    'When order value > €400.00 + then insure for the order value +',
    35,
    [
      ['', 'Add a condition on'],
      ['val>400', 'Add a condition on'],
      ['', 'Add an action'],
      ['ins order', ''],
    ],
  ],
  [
    'triage',
    'When weight of the items > 30 kg + then hold because too heavy +',
    35,
    [
      ['', 'Add a condition on'],
      ['w>30kg', 'Add a condition on'],
      ['', 'Add an action'],
      ['hold too heavy', ''],
    ],
  ],
  [
    'service',
    'When ship-to country is one of CH, NO and order value < €50.00 + then choose the cheapest else … +',
    76,
    [
      ['', 'Add a condition on'],
      ['country ch,no', 'Add a condition on'],
      ['val<50', 'Add a condition on'],
      ['', 'Add an action'],
      ['first of', 'Service'],
      ['', ''],
    ],
  ],
  [
    'triage',
    'When order was placed time of day between 14:00 and 23:59 + then treat it as later +',
    76,
    [
      ['', 'Add a condition on'],
      ['placed 14:00-23:59', 'Add a condition on'],
      ['', 'Add an action'],
      ['pri later', ''],
    ],
  ],
  [
    'service',
    'When tags has any live + then never use Bramble Freight, Corvid Letter +',
    76,
    [
      ['', 'Add a condition on'],
      ['tags live', 'Add a condition on'],
      ['', 'Add an action'],
      ['never use bramble fr, corvid l', ''],
    ],
  ],
]

const focused = (page: Page) => page.locator('input:focus')

for (const [stage, says, atMost, typed] of rules)
  test(`“${says.replace(/ \+/g, '').replace(/^When /, '')}” takes at most ${atMost} keys`, async ({ page }) => {
    let keys = 0
    const press = async (text: string): Promise<void> => {
      await page.keyboard.type(text)
      await page.keyboard.press('Enter')
      keys += text.length + 1
    }
    await page.goto('/rules')
    const part = page.getByRole('region', { name: stage })
    await part.getByRole('button', { name: 'Add a rule' }).focus()
    await press('')
    await expect(focused(page)).toHaveValue('New rule')
    const id = await focused(page).evaluate((field) => field.closest('[data-rule]')?.getAttribute('data-rule'))
    const rule = page.locator(`[data-rule="${id}"]`)
    for (const [text, opens] of typed) {
      await press(text)
      if (opens === '') await expect(page.getByRole('combobox')).toHaveCount(0)
      else await expect(page.getByRole('combobox', { name: opens })).toBeFocused()
    }
    await expect(rule.locator('[data-sentence]')).toHaveText(says)
    await expect(rule.getByLabel('Name of the rule')).not.toHaveValue('New rule')
    expect(keys).toBeLessThanOrEqual(atMost)
    await page.getByRole('button', { name: 'Undo' }).click()
  })

test('what people call an action finds it; a moment asks first how it is compared', async ({ page }) => {
  await page.goto('/rules')
  const part = page.getByRole('region', { name: 'service' })
  await part.getByRole('button', { name: 'Add a rule' }).click()
  await page.keyboard.press('Enter')
  await page.keyboard.type('order was placed')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('combobox', { name: 'Operator' })).toBeFocused()
  await page.keyboard.type('time of')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('textbox', { name: 'Value' })).toBeFocused()
  await page.keyboard.type('10:00 and 12:00')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('combobox', { name: 'Add a condition on' })).toBeFocused()
  await page.keyboard.press('Enter')
  for (const word of ['first of', 'among', 'use']) {
    await page.getByRole('combobox', { name: 'Add an action' }).fill(word)
    await expect(page.getByRole('option').first()).toHaveText(/^choose/)
  }
})
