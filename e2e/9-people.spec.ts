import { expect, type Page, test } from '@playwright/test'
import { TOTP } from 'otpauth'
import { accessible, as, base, freshPage, signIn } from './asRole'
import { personOf } from './demoPeople'
import { message } from './message'
import { e2ePorts } from './ports'

const stops = (page: Page): Promise<string[]> =>
  page.getByRole('navigation', { name: 'The line' }).getByRole('listitem').locator('.font-semibold').allTextContents()

test('nobody gets anywhere without signing in, and comes back to where they were going', async ({ browser }) => {
  const page = await freshPage(browser)
  await page.goto('/desk?state=ready')
  await expect(page).toHaveURL(/\/sign-in\?to=%2Fdesk%3Fstate%3Dready$/)
  await expect(page.getByLabel('E-mail address')).toBeFocused()
  await accessible(page)
  const { email } = personOf('dispatcher')
  await signIn(page, email, 'not the password, sorry')
  await expect(page.getByRole('alert').filter({ hasText: 'is not right' })).toBeVisible()
  await signIn(page, email)
  await expect(page).toHaveURL(/\/desk\?state=ready$/)
  expect(await page.evaluate(() => document.cookie)).toBe('')
  const [cookie] = await page.context().cookies()
  expect(cookie).toMatchObject({ name: 'gharry', httpOnly: true, sameSite: 'Lax' })
  // Signed out elsewhere, the screen says so, and what is typed stays.
  await page.getByLabel('Search orders').fill('MG')
  await expect(page).toHaveURL(/q=MG/)
  await page.context().clearCookies()
  await expect(page.getByRole('dialog').getByText('You are signed out')).toBeVisible()
  await page.getByRole('link', { name: 'Sign in again' }).click()
  await signIn(page, email)
  await expect(page).toHaveURL(/\/desk\?.*q=MG/)
  const [last] = await page.context().cookies()
  await page.getByRole('button', { name: /account and signing out/ }).click()
  await page.getByRole('button', { name: 'Sign out' }).click()
  await expect(page).toHaveURL(/\/sign-in$/)
  // The secret of before is none any more.
  await page.context().addCookies([last!])
  expect((await page.request.get('/api/line')).status()).toBe(401)
})

test('each role sees its own screens, and of others who may', async ({ browser }) => {
  const line = ['Intake', 'Rules', 'Desk', 'Dispatch', 'Tracking', 'Ledger']
  for (const [role, home, seen, notTheirs] of [
    ['owner', '/desk', line, null],
    ['lead', '/desk', line, '/setup/people'],
    ['dispatcher', '/desk', line, '/setup/audit'],
    ['agent', '/desk', ['Desk', 'Dispatch', 'Tracking'], '/rules'],
    ['accountant', '/ledger', ['Desk', 'Dispatch', 'Tracking', 'Ledger'], '/intake'],
    ['reader', '/desk', line, '/setup/interface'],
  ] as const) {
    const page = await as(browser, role)
    await expect(page).toHaveURL(new RegExp(`${home}$`))
    expect([role, await stops(page)]).toEqual([role, seen])
    if (notTheirs) {
      await page.goto(notTheirs)
      await expect(page.getByRole('heading', { name: 'This screen is not yours' })).toBeVisible()
      await expect(page.getByText(/may not .*Ask one of those who may: .*the owner/)).toBeVisible()
    }
    await page.context().close()
  }
  const packer = await as(browser, 'packer')
  await expect(packer).toHaveURL(/\/bench$/)
  await packer.goto('/desk')
  await expect(packer.getByText('Packers may not see orders and parcels.')).toBeVisible()
  await accessible(packer)
  expect((await packer.request.get('/api/desk')).status()).toBe(403)
  expect((await packer.request.get('/api/dispatch/bench?bench=1')).status()).not.toBe(403)
})

test('a partner sees the orders of one location, by no way those of another', async ({ browser, request }) => {
  const page = await as(browser, 'partner')
  await expect(page).toHaveURL(/\/orders$/)
  await expect(page.getByRole('heading', { name: 'Leeds' })).toBeVisible()
  await accessible(page)
  const { rows } = (await (await request.get('/api/desk?location=ghent&most=1&state=ready')).json()) as {
    rows: { id: number; number: string }[]
  }
  const [{ id, number }] = rows as [{ id: number; number: string }]
  await page.getByLabel('Search these orders').fill(number)
  await page.getByRole('button', { name: 'Find' }).click()
  await expect(page.getByText('No such orders here')).toBeVisible()
  await page.goto('/orders?location=ghent&q=&state=ready%27')
  await expect(page.getByText(number)).toHaveCount(0)
  for (const path of [
    `/api/desk/orders/${id}`,
    `/api/find?q=${number}`,
    '/api/desk?location=ghent',
    '/api/desk/file?format=csv',
    '/api/dispatch/prints/x.pdf',
    '/api/rules/trial',
    '/api/ledger',
    '/api/setup/webhooks',
    '/api/tracking/board',
  ])
    expect([path, (await page.request.get(path)).status()]).toEqual([path, 403])
})

test('what a role may not change says who may; a changed role holds at the next click', async ({ browser }) => {
  const owner = await as(browser, 'owner')
  await owner.goto('/setup/people')
  await expect(owner.getByRole('row', { name: /Noor Claes/ })).toBeVisible()
  await accessible(owner)
  await owner.getByLabel('Name', { exact: true }).fill('Sam Ortiz')
  await owner.getByLabel('E-mail address').fill('sam@mossgill.example')
  await owner.getByRole('form', { name: 'New person' }).getByLabel('Role').selectOption('reader')
  await owner.getByRole('button', { name: 'Add, and make a link' }).click()
  const link = (await owner.locator('code').filter({ hasText: '/welcome/' }).textContent())!
  const page = await freshPage(browser)
  await page.goto(link)
  await expect(page.getByRole('heading', { name: 'Welcome, Sam Ortiz' })).toBeVisible()
  await accessible(page)
  await page.getByLabel('Password').fill('river stones and moss')
  await page.getByLabel('Once more').fill('river stones and fern')
  await page.getByRole('button', { name: 'Go in' }).click()
  await expect(page.getByText('The two are not the same.')).toBeVisible()
  await page.getByLabel('Once more').fill('river stones and moss')
  await page.getByRole('button', { name: 'Go in' }).click()
  await page.waitForURL(/\/desk$/)
  await page.goto('/rules')
  const publish = page.getByRole('button', { name: 'Publish' })
  await expect(publish).toHaveAttribute(
    'title',
    /Readers may not publish the rulebook\. Those who may: the owner and operations leads/,
  )
  // A word of a rule is not theirs either.
  const before = await (await page.request.get('/api/rules/rulebook')).text()
  const answer = await page.request.put('/api/rules/rulebook', { data: { rulebook: {}, revision: 1 } })
  expect([answer.status(), ((await answer.json()) as { code: string }).code]).toEqual([403, 'not-allowed'])
  expect(await (await page.request.get('/api/rules/rulebook')).text()).toBe(before)
  await owner.getByLabel('Role of Sam Ortiz').selectOption('agent')
  await expect(message(owner, 'Sam Ortiz')).toBeVisible()
  expect((await page.request.get('/api/rules/rulebook')).status()).toBe(403)
  await owner
    .getByRole('row', { name: /Sam Ortiz/ })
    .getByRole('button', { name: 'End …' })
    .click()
  await owner.getByRole('button', { name: 'End', exact: true }).click()
  await expect(message(owner, 'may not sign in any more')).toBeVisible()
  expect((await page.request.get('/api/line')).status()).toBe(401)
  // All of it is in the audit, with who did it.
  await owner.goto('/setup/audit?q=person')
  await expect(owner.getByRole('row', { name: /Ilse Vermaere.*person changed/ }).first()).toBeVisible()
  await owner.getByRole('button', { expanded: false }).filter({ hasText: '"reader"' }).first().click()
  await expect(owner.getByText('Before', { exact: true })).toBeVisible()
  await accessible(owner)
})

test('a second factor is set up, asked for, and a recovery code stands in for the phone once', async ({ browser }) => {
  const page = await as(browser, 'agent')
  await page.goto('/setup/account')
  await page.waitForLoadState('networkidle')
  await page.getByRole('button', { name: 'Set one up …' }).click()
  const secret = (await page.getByRole('region', { name: 'Second factor' }).locator('code').textContent())!
  const code = (): string => new TOTP({ secret }).generate()
  await page.getByLabel('Code').fill('000000')
  await page.getByRole('button', { name: 'Switch it on' }).click()
  await expect(message(page, 'This code is not right')).toBeVisible()
  await page.getByLabel('Code').fill(code())
  await page.getByRole('button', { name: 'Switch it on' }).click()
  await expect(page.getByText('They are shown this once.')).toBeVisible()
  const recovery = await page.getByRole('region', { name: 'Second factor' }).getByRole('listitem').allTextContents()
  expect(recovery).toHaveLength(10)
  await page.getByRole('button', { name: 'I have them' }).click()
  const again = await freshPage(browser)
  for (const [given, right] of [
    [recovery[0]!, true],
    [recovery[0]!, false],
  ] as const) {
    await again.context().clearCookies()
    await again.goto('/sign-in')
    await signIn(again, personOf('agent').email)
    await expect(again.getByRole('heading', { name: 'One more step' })).toBeVisible()
    // Half in is not in.
    expect((await again.request.get('/api/line')).status()).toBe(401)
    await again.getByLabel('Code').fill(given)
    await again.keyboard.press('Enter')
    if (right) await expect(again).toHaveURL(/\/desk$/)
    else await expect(again.getByRole('alert').filter({ hasText: 'This code is not right' })).toBeVisible()
  }
  await page.getByRole('button', { name: 'Take it off …' }).click()
  await page.getByLabel('Code').fill(recovery[1]!)
  await page.getByRole('button', { name: 'Take it off', exact: true }).click()
  await expect(page.getByRole('button', { name: 'Set one up …' })).toBeVisible()
})

test('a passkey is made and signs in, without a word typed', async ({ browser }) => {
  // Passkeys are for names, not for numbers.
  const page = await freshPage(browser, base.replace('127.0.0.1', 'localhost'))
  const client = await page.context().newCDPSession(page)
  await client.send('WebAuthn.enable')
  await client.send('WebAuthn.addVirtualAuthenticator', {
    options: {
      ...{ protocol: 'ctap2', transport: 'internal', hasResidentKey: true, hasUserVerification: true },
      isUserVerified: true,
    },
  })
  await page.goto('/sign-in')
  await signIn(page, personOf('accountant').email)
  await expect(page).toHaveURL(/\/ledger$/)
  await page.goto('/setup/account')
  await page.waitForLoadState('networkidle')
  await page.getByRole('button', { name: 'Add a passkey …' }).click()
  await expect(message(page, 'The passkey is kept')).toBeVisible()
  await page.context().clearCookies()
  await page.goto('/sign-in')
  await page.waitForLoadState('networkidle')
  await page.getByRole('button', { name: 'With a passkey' }).click()
  await expect(page).toHaveURL(/\/ledger$/)
  await page.goto('/setup/account')
  await expect(page.getByRole('row').filter({ hasText: 'here, now' })).toContainText('passkey')
  await page.waitForLoadState('networkidle')
  await page.getByRole('button', { name: 'Forget it' }).click()
  await expect(page.getByText('None yet.')).toBeVisible()
  await page.context().clearCookies()
  await page.goto('/sign-in')
  await page.waitForLoadState('networkidle')
  await page.getByRole('button', { name: 'With a passkey' }).click()
  await expect(page.getByRole('alert').filter({ hasText: 'not known here' })).toBeVisible()
})

test('a badge is made by the owner, scanned at the bench, and lets onto the floor alone', async ({ browser }) => {
  const owner = await as(browser, 'owner')
  await owner.goto('/setup/people')
  await owner.waitForLoadState('networkidle')
  const { name } = personOf('packer')
  await owner.getByRole('row', { name }).getByRole('button', { name: 'Badge …' }).click()
  await owner.getByRole('button', { name: 'Make a badge' }).click()
  const shown = owner.getByRole('status').filter({ hasText: `The badge of ${name}` })
  const badge = (await shown.getByRole('img').getAttribute('alt'))!.replace('Badge ', '')
  const code = (await shown.locator('b').textContent())!
  await accessible(owner)
  const page = await freshPage(browser)
  await page.goto('/sign-in')
  await page.waitForLoadState('networkidle')
  await page.getByRole('button', { name: 'With a badge' }).click()
  // As a scanner types it.
  await page.keyboard.type(`${badge}\n`)
  await expect(page.getByLabel('Code')).toBeFocused()
  await page.keyboard.type('12\n')
  await expect(page.getByRole('alert').filter({ hasText: 'do not fit' })).toBeVisible()
  await accessible(page)
  await page.getByLabel('Code').fill(code)
  await page.keyboard.press('Enter')
  await expect(page).toHaveURL(/\/bench$/)
  expect((await page.request.get('/api/desk')).status()).toBe(403)
  await page.getByRole('button', { name: /account and signing out/ }).click()
  await page.getByRole('link', { name: 'Counter' }).click()
  await expect(page).toHaveURL(/\/counter$/)
})

test('people of the house come in by its provider, as what their groups say; a strange return opens nothing', async ({
  browser,
}) => {
  const page = await freshPage(browser)
  const come = async (who: string): Promise<void> => {
    await page.context().clearCookies()
    await page.goto('/sign-in?to=/tracking')
    await page.getByRole('link', { name: 'With your Mossgill account' }).click()
    await page.getByRole('button', { name: who }).click()
  }
  await come('Mira Dahl')
  // Of her groups the one that may more counts.
  await expect(page).toHaveURL(/\/tracking$/)
  expect(await stops(page)).toContain('Ledger')
  await page.goto('/setup/account')
  await expect(page.getByText('Mira Dahl, Accountant, mira@mossgill.example')).toBeVisible()
  // Her groups change: at the next sign-in they hold.
  const identity = `http://127.0.0.1:${e2ePorts.GHARRY_IDENTITY_PORT}`
  const mira = { sub: 'u-1002', name: 'Mira Dahl', email: 'mira@mossgill.example', verified: true, groups: ['packing'] }
  await page.request.post(`${identity}/admin/people`, { data: mira })
  await come('Mira Dahl')
  await expect(page.getByText('Packers may not see orders and parcels.')).toBeVisible()
  await come('Olu Brandt')
  await expect(page.getByRole('alert').filter({ hasText: 'none of your groups may use Gharry' })).toBeVisible()
  await come('Ilse Vermaere')
  await expect(page.getByRole('alert').filter({ hasText: 'may use Gharry' })).toBeVisible()
  expect((await page.request.get('/api/line')).status()).toBe(401)
  await come('Nobody')
  await expect(page.getByRole('alert').filter({ hasText: 'not let in there' })).toBeVisible()
  // Somebody who is known here comes in as themselves.
  await come('Tomasz Lis')
  await expect(page).toHaveURL(/\/tracking$/)
  // A return that this browser did not begin, or has used.
  for (const path of ['?code=x&state=y', '?error=access_denied&state=y', '']) {
    const fresh = await freshPage(browser)
    await fresh.goto(`/api/people/provider/callback${path}`)
    await expect(fresh.getByRole('alert').filter({ hasText: 'Try again' })).toBeVisible()
    await fresh.context().close()
  }
})

test('where the owner wants two people, what one begins waits until another one agrees', async ({ browser, page }) => {
  const owner = await as(browser, 'owner')
  await owner.goto('/setup/agree')
  await owner.waitForLoadState('networkidle')
  await owner.getByLabel('Top-ups, and what may be spent').click()
  await expect(message(owner, 'From now on two people')).toBeVisible()
  try {
    await page.goto('/ledger/balance')
    const row = page.getByRole('row').filter({ hasText: 'Skua Air' }).first()
    await row.getByLabel('Top-up of Skua Air').fill('27.31')
    await row.getByRole('button', { name: 'Top up' }).click()
    await page.getByRole('dialog').getByRole('button', { name: 'Top up by €27.31' }).click()
    await expect(message(page, 'It is written down, and done when somebody else agrees')).toBeVisible()
    await page.goto('/setup/agree')
    await expect(page.getByRole('listitem').filter({ hasText: 'Top-up asked for' })).toContainText('You have begun it')
    await expect(page.getByRole('button', { name: 'Agree', exact: true })).toBeDisabled()
    await owner.reload()
    await owner.waitForLoadState('networkidle')
    await accessible(owner)
    await owner.getByRole('button', { name: 'Agree', exact: true }).click()
    await expect(owner.getByRole('listitem').filter({ hasText: 'Top-up asked for' })).toContainText(
      'done, Ilse Vermaere',
    )
    await page.goto('/ledger/balance')
    await expect(page.getByRole('row').filter({ hasText: '27.31' }).filter({ hasText: 'top-up' })).toHaveCount(1)
  } finally {
    await owner.goto('/setup/agree')
    await owner.waitForLoadState('networkidle')
    await owner.getByLabel('Top-ups, and what may be spent').click()
    await expect(message(owner, 'One person is enough')).toBeVisible()
  }
})
