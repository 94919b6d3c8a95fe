import { requestImport } from '@/usecases/intake/importOrders'
import { showOrder } from '@/usecases/desk/showOrder'
import { showRerouting } from '@/usecases/rules/showRerouting'
import { changeWordings, showWordings } from '@/usecases/intake/wordings'
import { makeRig, soundOrders, type Rig } from './rig'

let rig: Rig
beforeEach(async () => {
  rig = await makeRig()
  await rig.stockShop(
    soundOrders(6).map((order, i) => ({
      ...order,
      shipping_method: i < 4 ? '810' : 'Free',
      placed_at: rig.gharry.now().toISOString(),
    })),
  )
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
})
afterEach(() => rig.close())

test('a wording without a meaning is listed with its orders; mapped, the waiting orders follow at once', async () => {
  const before = await showWordings(rig.gharry)
  const shop = before.channels.find(({ id }) => id === 'mossgill-shop')!
  expect(shop.seen).toEqual([
    { wording: '810', orders: 4, mapped: false },
    { wording: 'Free', orders: 2, mapped: true },
  ])
  const rows = [
    ...shop.table.rows,
    {
      wording: '810',
      weight: [0, 30_000],
      gives: { speed: 'express', pick: { by: 'service', service: 'corvid-parcel' } },
    },
  ]
  // The demo's own rules for speeds and the rest decide first: the table only says what no rule does.
  expect(await changeWordings(rig.gharry, 'mossgill-shop', rows, before.version)).toEqual({
    ok: true,
    version: before.version + 1,
  })
  await rig.workAll()
  const after = await showWordings(rig.gharry)
  expect(after.channels.find(({ id }) => id === 'mossgill-shop')!.seen[0]).toEqual({
    wording: '810',
    orders: 4,
    mapped: true,
  })
  expect((await rig.orders()).map((order) => order.speed)).toEqual([
    'express',
    'express',
    'express',
    'express',
    'economy',
    'economy',
  ])
  const [first] = await rig.orders()
  expect((await showOrder(rig.gharry, first!.id))!.trail.find((line) => line.decision === 'speed')).toMatchObject({
    value: 'express',
    by: 'wording table, “810”',
  })
  const rerouting = (await showRerouting(rig.gharry))!
  expect(rerouting).toMatchObject({
    state: 'done',
    cause: 'The wording table of Mossgill Shop changed',
    summary: { orders: 6, changed: 4 },
  })
  expect(rerouting.changes.map((change) => change.number).sort()).toEqual(
    (await rig.orders())
      .slice(0, 4)
      .map((order) => order.number)
      .sort(),
  )
})

test('a table that makes no sense, or is out of date, is refused with its row; nothing changes', async () => {
  const { version } = await showWordings(rig.gharry)
  const change = (rows: unknown, at = version): ReturnType<typeof changeWordings> =>
    changeWordings(rig.gharry, 'mossgill-shop', rows, at)
  expect(await change([{ wording: 'Free', gives: {} }])).toMatchObject({
    ok: false,
    sentence: expect.stringMatching(/^Row 1: .*gives nothing/) as string,
  })
  expect(
    await change([
      { wording: 'Free', gives: { speed: 'economy' } },
      { wording: 'x', weight: [5, 2], gives: { speed: 'economy' } },
    ]),
  ).toMatchObject({ ok: false, sentence: expect.stringMatching(/^Row 2: weight begins above its end/) as string })
  expect(await change([{ wording: 'Free', gives: { preset: 'gone' } }])).toMatchObject({
    ok: false,
    code: 'missing',
    sentence: 'Row 1: the package preset "gone" does not exist.',
  })
  expect(await change([], version - 1)).toMatchObject({ ok: false, code: 'world-changed' })
  expect(await changeWordings(rig.gharry, 'nowhere', [], version)).toMatchObject({ ok: false, code: 'unknown-channel' })
  expect((await showWordings(rig.gharry)).version).toBe(version)
})
