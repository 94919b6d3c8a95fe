import { connectionById, hoursSince, listConnections, tableNames, type ConnectionRow } from '@/data'
import { healthOf } from '../intake/connectionHealth'
import {
  removeConnection,
  saveConnection,
  showConnections,
  testConnection,
  type ConnectionInput,
} from '../intake/connections'
import { importAll, requestImport } from '../intake/importOrders'
import { openApplication } from '../shared/application'
import { makeWebhook } from '../open/webhooks'
import { rotateKey } from '../shared/rotateKey'
import { makeRig, soundOrders, type Rig } from './rig'

let rig: Rig
beforeAll(async () => {
  rig = await makeRig({ env: { GHARRY_CALL_TIMEOUT_MS: '20000' } })
  await rig.stockShop(soundOrders(8))
})
afterAll(() => rig.close())

const shop = (more: Partial<ConnectionInput> = {}): ConnectionInput => ({
  role: 'channel',
  kind: 'keyed-shop',
  name: 'Second shop',
  settings: { address: rig.shopUrl, key: 'k', secret: 's' },
  on: true,
  ...more,
})
const view = async (id: string) => (await showConnections(rig.gharry)).connections.find((each) => each.id === id)

test('a channel is connected, tested without importing, and imported from with its settings', async () => {
  const tested = await testConnection(rig.gharry, null, shop())
  expect(tested).toMatchObject({ ok: true, works: true })
  if (!tested.ok) throw new Error('not tested')
  expect(tested.orders).toHaveLength(5)
  expect(await rig.orders()).toHaveLength(0)

  const [first] = soundOrders(8)
    .map(({ placed_at }) => placed_at.slice(0, 10))
    .sort()
    .reverse()
  const saved = await saveConnection(rig.gharry, null, shop({ channel: { fromDay: first!, mailBuyers: false } }))
  expect(saved).toMatchObject({ ok: true, id: 'second-shop' })
  await requestImport(rig.gharry, 'second-shop')
  await rig.workAll()
  const orders = await rig.orders()
  const wanted = soundOrders(8).filter(({ placed_at }) => placed_at >= first!)
  expect(orders.map(({ number }) => number).sort()).toEqual(wanted.map(({ number }) => number).sort())
  expect(await view('second-shop')).toMatchObject({ channel: { fromDay: first, mailBuyers: false } })
})

test('a secret is sealed in the books, never shown, and stays when its field is left empty', async () => {
  const row = (await connectionById(rig.gharry.db, 'second-shop'))!
  expect(row.secrets).toMatch(/^v2:[0-9a-f]{8}:/)
  expect(JSON.stringify(await listConnections(rig.gharry.db))).not.toContain('"s"')
  expect(JSON.stringify(await showConnections(rig.gharry))).not.toContain('"secret":"s"')
  const settings = { address: rig.shopUrl, key: 'k', secret: '' }
  expect(await saveConnection(rig.gharry, 'second-shop', shop({ settings, version: row.version }))).toMatchObject({
    ok: true,
  })
  expect(await testConnection(rig.gharry, 'second-shop', shop({ settings }))).toMatchObject({ works: true })
})

test('what is wrong is said at its field, and nothing is kept of it', async () => {
  const before = await listConnections(rig.gharry.db)
  const wrong = await saveConnection(
    rig.gharry,
    null,
    shop({ name: ' ', settings: { address: 'shop', key: '', secret: '' } }),
  )
  expect(wrong).toMatchObject({
    ok: false,
    code: 'bad-settings',
    fields: {
      name: 'Enter a name.',
      address: 'Enter an address that begins with https://.',
      key: 'Enter the key that the shop has given out.',
      secret: 'Enter the secret that belongs to the key.',
    },
  })
  expect(await saveConnection(rig.gharry, null, shop({ kind: 'nothing' }))).toMatchObject({
    fields: { kind: /Choose/ },
  })
  expect(
    await saveConnection(rig.gharry, null, {
      ...shop(),
      role: 'carrier',
      kind: 'json-labels',
      settings: { address: rig.shopUrl, token: 't' },
    }),
  ).toMatchObject({ fields: { carrier: 'Choose the carrier whose account it is.' } })
  expect(await listConnections(rig.gharry.db)).toEqual(before)
})

test('of two people who change the same one, the second is told', async () => {
  const { version } = (await connectionById(rig.gharry.db, 'second-shop'))!
  const change = (name: string) => saveConnection(rig.gharry, 'second-shop', shop({ name, version }))
  const results = await Promise.all([change('One'), change('Two')])
  expect(results.map(({ ok }) => ok).sort()).toEqual([false, true])
  expect(results.find(({ ok }) => !ok)).toMatchObject({ code: 'world-changed' })
})

test('wrong credentials are said, and put right without importing again', async () => {
  expect(
    await testConnection(rig.gharry, null, shop({ settings: { address: rig.shopUrl, key: 'k', secret: 'wrong' } })),
  ).toMatchObject({
    ok: true,
    works: false,
    sentence: /refuses the credentials/,
  })
  const before = (await connectionById(rig.gharry.db, 'second-shop'))!
  const put = async (secret: string): Promise<void> => {
    const { version } = (await connectionById(rig.gharry.db, 'second-shop'))!
    await saveConnection(
      rig.gharry,
      'second-shop',
      shop({ name: before.name, settings: { address: rig.shopUrl, key: 'k', secret }, version }),
    )
  }
  await put('wrong')
  await requestImport(rig.gharry, 'second-shop')
  const { workImport } = await import('../worker/work')
  await workImport(rig.gharry)
  await rig.note()
  expect((await view('second-shop'))?.health).toMatchObject({ state: 'refused', sentence: /Enter them again/ })
  await put('s')
  await rig.workAll()
  await rig.note()
  expect((await view('second-shop'))?.health.state).toMatch(/^(works|slow)$/)
  expect(
    (await hoursSince(rig.gharry.db, '2020')).find(({ connection }) => connection === 'second-shop'),
  ).toMatchObject({ failures: 1 })
})

test('an address of the house is refused where the settings forbid it', async () => {
  const strict = await openApplication({ ...rig.env, GHARRY_PRIVATE_ADDRESSES: 'no' })
  for (const address of [rig.shopUrl, 'http://localhost:1', 'http://169.254.169.254/latest', 'http://[fd00::1]'])
    expect(await testConnection(strict, null, shop({ settings: { address, key: 'k', secret: 's' } }))).toMatchObject({
      works: false,
      sentence: /within this machine or house/,
    })
  await strict.close()
})

test('without its key nothing is destroyed: it says so, and works again with it', async () => {
  const lost = await openApplication({ ...rig.env, GHARRY_KEY: Buffer.alloc(32, 7).toString('base64') })
  expect(await (await lost.channel('mossgill-shop')).fetchOrders('')).toMatchObject({
    ok: false,
    sentence: /start Gharry with that key/,
  })
  await lost.close()
  expect(await (await rig.gharry.channel('mossgill-shop')).fetchOrders('')).toMatchObject({ ok: true })
})

test('the key is changed while Gharry runs: credentials work on, sealed anew', async () => {
  const sealed = (await connectionById(rig.gharry.db, 'mossgill-shop'))!.secrets!
  const changed = await rotateKey(rig.gharry)
  expect(changed).toMatchObject({ ok: true })
  const now = (await connectionById(rig.gharry.db, 'mossgill-shop'))!.secrets!
  expect(now.split(':')[1]).not.toBe(sealed.split(':')[1])
  const another = await openApplication(rig.env)
  expect(await (await another.channel('mossgill-shop')).fetchOrders('')).toMatchObject({ ok: true })
  await another.close()
  // Twice, so that the first key is nowhere any more: nothing in any table is left under it.
  await makeWebhook(rig.gharry, { name: 'Told', url: 'https://told.example/in', types: ['order.decided'] })
  const { keyId } = rig.gharry.vault
  await rotateKey(rig.gharry)
  const tables = await tableNames(rig.gharry.db)
  for (const name of tables.filter((table) => !table.startsWith('order_search')))
    for (const row of (await rig.gharry.db(name)) as object[])
      expect([
        name,
        JSON.stringify(row).includes(`:${sealed.split(':')[1]}:`) || JSON.stringify(row).includes(`:${keyId}:`),
      ]).toEqual([name, false])
  expect(
    await testConnection(
      rig.gharry,
      'mossgill-shop',
      shop({ settings: { address: rig.shopUrl, key: 'k', secret: '' } }),
    ),
  ).toMatchObject({ works: true })
})

test('what is switched off is not called; all channels are imported from at once', async () => {
  const { version, name } = (await connectionById(rig.gharry.db, 'second-shop'))!
  await saveConnection(rig.gharry, 'second-shop', shop({ name, on: false, version }))
  expect(await (await rig.gharry.channel('second-shop')).fetchOrders('')).toMatchObject({ sentence: /switched off/ })
  expect((await view('second-shop'))?.health.state).toBe('off')
  expect(await importAll(rig.gharry)).toEqual({ ok: true, channels: 2 })
})

test('taken out, its orders stay and nobody asks it', async () => {
  const orders = (await rig.orders()).length
  const { version } = (await connectionById(rig.gharry.db, 'second-shop'))!
  expect(await removeConnection(rig.gharry, 'second-shop', version - 1)).toMatchObject({
    ok: false,
    code: 'world-changed',
  })
  expect(await removeConnection(rig.gharry, 'second-shop', version)).toEqual({ ok: true })
  expect(await view('second-shop')).toBeUndefined()
  expect((await rig.orders()).length).toBe(orders)
  expect(await importAll(rig.gharry)).toEqual({ ok: true, channels: 1 })
})

describe('how a connection is', () => {
  const now = new Date('2026-11-27T12:00:00Z')
  const row = (more: Partial<ConnectionRow>): ConnectionRow =>
    ({
      on: true,
      lastSuccessAt: '2026-11-27T11:59:00Z',
      lastFailureAt: null,
      lastFailureKind: null,
      lastFailure: null,
      endsAt: null,
      ...more,
    }) as ConnectionRow
  const hour = (calls: number, ms: number) => [
    { connection: 'c', hour: '2026-11-27T12', calls, failures: 0, ms, heard: 0, refused: 0 },
  ]
  const failed = { lastFailureAt: '2026-11-27T11:59:30Z', lastFailure: 'It did not answer in time.' }
  test.each([
    ['works', {}, hour(10, 2000)],
    ['not tried', { lastSuccessAt: null }, []],
    ['slow', {}, hour(2, 14_000)],
    ['failing', { ...failed, lastFailureKind: 'time-out' }, []],
    ['rate-limited', { ...failed, lastFailureKind: 'rate-limited' }, []],
    ['refused', { ...failed, lastFailureKind: 'not allowed' }, []],
    ['works', { ...failed, lastFailureAt: '2026-11-27T11:00:00Z', lastFailureKind: 'time-out' }, []],
    ['ends soon', { endsAt: '2026-12-01T12:00:00Z' }, []],
    ['works', { endsAt: '2027-12-01T12:00:00Z' }, []],
    ['ended', { endsAt: '2026-11-27T11:00:00Z' }, []],
    ['off', { on: false, endsAt: '2026-11-27T11:00:00Z' }, []],
  ])('%s: %j', (state, more, hours) => {
    expect(healthOf(row(more), hours, now).state).toBe(state)
  })
})
