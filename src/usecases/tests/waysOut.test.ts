import { emptyRulebook, type Rulebook } from '@/core/rulebook/language'
import { showSuggestions } from '../rules/suggestRules'
import { pinDecision } from '../desk/pinDecision'
import { showEdits } from '../desk/editMany'
import { showDesk, spreadDesk } from '../desk/showDesk'
import { showWays, takeWay } from '../desk/waysOut'
import { requestImport } from '../intake/importOrders'
import { makeRig, soundOrders, type Rig } from './rig'

/* What keeps orders from going is a question with answers, each tried before it is offered. */

let rig: Rig
afterEach(() => rig.close())
async function begin(
  change: (order: ReturnType<typeof soundOrders>[number], i: number) => object,
  n = 4,
  rulebook?: Rulebook,
) {
  rig = await makeRig(rulebook ? { rulebook } : {})
  await rig.stockShop(soundOrders(n).map((order, i) => ({ ...order, ...change(order, i) })))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  return rig.orders()
}
const key = (): string => `key ${Math.random()}`

test('orders that are stuck for the same reason are found together, and let go together by a way that was tried', async () => {
  const orders = await begin(() => ({}))
  // Bars by hand stand for a rule that leaves nothing.
  for (const { id } of orders.slice(0, 3)) await pinDecision(rig.gharry, id, 'ceiling', { minor: 1, currency: 'EUR' })
  const filter = { states: ['attention' as const] }
  const { reasons } = await spreadDesk(rig.gharry, filter)
  expect(reasons).toEqual([{ value: 'All above the cost ceiling', count: 3 }])
  const stuck = await showDesk(rig.gharry, { reasons: [reasons[0]!.value] }, [], 0, 10)
  expect(stuck.rows.map(({ id }) => id).sort()).toEqual(orders.slice(0, 3).map(({ id }) => id))
  const ids = orders.map(({ id }) => id)
  const seen = await showWays(rig.gharry, ids)
  if (!seen.ok) throw new Error(seen.sentence)
  expect([seen.stuck, seen.without]).toEqual([3, 0])
  const [way] = seen.ways
  expect(way).toMatchObject({ words: 'above the cost ceiling' })
  expect(way!.orders).toHaveLength(3)
  const taken = await takeWay(rig.gharry, { ...way!, key: key() })
  expect(taken).toMatchObject({ ok: true, changed: 3, left: [] })
  const after = await rig.orders()
  expect(after.every(({ state }) => state === 'ready')).toBe(true)
  expect(after.slice(0, 3).reduce((sum, { cost }) => sum + cost!, 0)).toBe(way!.cost)
  expect(after.slice(0, 3).filter(({ daysLate }) => daysLate! > 0)).toHaveLength(way!.late)
  expect((await showEdits(rig.gharry)).edits[0]!.sentence).toBe('cost ceiling: none')
  expect(await showWays(rig.gharry, ids)).toMatchObject({ stuck: 0, ways: [] })
})

test('an address with a doubt goes corrected, which is remembered for the next order with it', async () => {
  const [order] = await begin(
    ({ ship_to }) => ({ ship_to: { ...ship_to, country: 'NL', postcode: '1012', city: 'Amsterdam' } }),
    1,
  )
  expect(order!.state).toBe('attention')
  const seen = await showWays(rig.gharry, [order!.id])
  if (!seen.ok) throw new Error(seen.sentence)
  const asItIs = seen.ways.find(({ address }) => address === 'as it is')
  expect(asItIs).toMatchObject({ words: 'with the address as it is', edits: [] })
  expect(await takeWay(rig.gharry, { ...asItIs!, key: key() })).toMatchObject({ ok: true, changed: 1, edit: null })
  expect((await rig.orders())[0]).toMatchObject({ state: 'ready', cost: asItIs!.cost, service: asItIs!.services[0] })
})

test('a way that is taken again and again is offered as a rule', async () => {
  // Heron does not collect in Leeds: a rulebook that cannot work.
  const all = { all: [] }
  const rulebook: Rulebook = {
    ...emptyRulebook,
    rules: [
      {
        id: 'a',
        name: 'All from Leeds',
        stage: 'origin',
        on: true,
        when: all,
        then: [{ set: 'location', to: 'leeds' }],
      },
      { id: 'b', name: 'Heron', stage: 'service', on: true, when: all, then: [{ set: 'allowed', to: ['heron'] }] },
    ],
  }
  const orders = await begin(() => ({ placed_at: new Date().toISOString() }), 5, rulebook)
  expect(orders.map(({ state }) => state)).toEqual(Array(5).fill('attention'))
  const ids = orders.map(({ id }) => id)
  const seen = await showWays(rig.gharry, ids)
  if (!seen.ok) throw new Error(seen.sentence)
  const fromGhent = seen.ways.find(({ words }) => words === 'from Ghent')!
  expect(fromGhent.orders).toHaveLength(5)
  expect(await takeWay(rig.gharry, { ...fromGhent, key: key() })).toMatchObject({ ok: true, changed: 5 })
  const suggestions = await showSuggestions(rig.gharry)
  expect(suggestions.map(({ decision, value }) => [decision, value])).toContainEqual(['location', 'ghent'])
})

test('too many at once are refused', async () => {
  await begin(() => ({}), 1)
  const many = Array.from({ length: 1001 }, (_, i) => i)
  expect(await showWays(rig.gharry, many)).toMatchObject({ ok: false, code: 'batch-too-large' })
  expect(await takeWay(rig.gharry, { key: key(), orders: many, edits: [], address: null })).toMatchObject({ ok: false })
  expect(await takeWay(rig.gharry, { key: key(), orders: [], edits: [], address: null })).toMatchObject({
    sentence: 'Choose the orders first.',
  })
})
