import { ordersById } from '@/data'
import { showConnections } from '../intake/connections'
import { findItems, quoteTyped, showRecipient, typeOrder, type TypedOrder } from '../desk/typeOrder'
import { buyBatch } from '../dispatch/buyBatch'
import { planBatch } from '../dispatch/planBatch'
import { makeRig, type Rig } from './rig'

let rig: Rig
beforeAll(async () => {
  rig = await makeRig()
})
afterAll(() => rig.close())

const typed = (more: Partial<TypedOrder> = {}): TypedOrder => ({
  key: crypto.randomUUID(),
  number: '',
  shipTo: {
    ...{ name: 'Noor Van Acker', company: '', lines: ['Coupure Links 88'], city: 'Gent', postcode: '9000' },
    ...{ region: '', country: 'BE' },
  },
  email: 'noor@vanacker.example',
  phone: '',
  items: [{ what: 'A book', quantity: 2, weight: 500, size: [200, 150, 30] }],
  value: 2500,
  wording: 'Standard',
  promisedBy: '',
  ...more,
})
const to = (more: Partial<TypedOrder['shipTo']>): Partial<TypedOrder> => ({ shipTo: { ...typed().shipTo, ...more } })
const item = (more: Partial<TypedOrder['items'][number]>): Partial<TypedOrder> => ({
  items: [{ ...typed().items[0]!, ...more }],
})

test('typed, it is quoted as it will be decided; taken in, it is an order as any other, and is bought', async () => {
  const order = typed()
  const quote = await quoteTyped(rig.gharry, order)
  expect(quote).toMatchObject({ fields: {}, problems: [], held: null })
  expect(await rig.orders()).toHaveLength(0)
  const taken = await typeOrder(rig.gharry, order)
  if (!taken.ok) throw new Error(taken.sentence)
  expect(taken).toMatchObject({ number: 'H-1001', state: 'ready' })
  const [row] = await rig.orders()
  expect(row).toMatchObject({ service: quote.chosen, channelId: 'by-hand' })
  // Goods and the package.
  expect(row!.weight).toBeGreaterThan(1000)
  expect(row!.cost).toBe(quote.quotes.find(({ service }) => service === quote.chosen)!.cost)
  const plan = await planBatch(rig.gharry, [taken.order])
  expect(await buyBatch(rig.gharry, [taken.order], plan.total)).toMatchObject({ ok: true })
  await rig.workAll()
  expect(await rig.labels()).toMatchObject([{ state: 'bought', service: quote.chosen }])
  expect((await rig.mails()).map(({ to: recipient }) => recipient).flat()).toContain('noor@vanacker.example')
  expect((await showConnections(rig.gharry)).connections.find(({ id }) => id === 'by-hand')?.name).toBe('By hand')
})

test('the same key twice is one order; numbers follow each other', async () => {
  const order = typed()
  const both = await Promise.all([typeOrder(rig.gharry, order), typeOrder(rig.gharry, order)])
  expect(new Set(both.map((each) => each.ok && each.order)).size).toBe(1)
  expect(await typeOrder(rig.gharry, typed())).toMatchObject({ number: 'H-1003' })
  expect(await typeOrder(rig.gharry, typed({ number: 'Letter 7' }))).toMatchObject({ number: 'Letter 7' })
})

test('items of the list bring their weight; again to the same address begins with it', async () => {
  const { items } = await findItems(rig.gharry, 'NET')
  expect(items.length).toBeGreaterThan(0)
  const order = typed(item({ what: items[0]!.sku, weight: null, size: null, quantity: 1 }))
  const taken = await typeOrder(rig.gharry, order)
  if (!taken.ok) throw new Error(taken.sentence)
  const [stored] = await ordersById(rig.gharry.db, [taken.order])
  expect(stored!.order.items[0]).toMatchObject({ sku: items[0]!.sku, title: items[0]!.title })
  expect(stored!.order.items[0]!.unitWeight).toBeGreaterThan(0)
  expect(await showRecipient(rig.gharry, taken.order)).toEqual({
    shipTo: order.shipTo,
    email: order.email,
    phone: '',
  })
})

test('an e-mail address or a telephone number in an address line never reaches the label', async () => {
  const lines = ['Coupure Links 88', 'tel: +32 470 12 34 56', 'e-mail: noor.home@vanacker.example']
  const order = typed({ ...to({ lines }), email: '', phone: '' })
  expect((await quoteTyped(rig.gharry, order)).shipTo).toMatchObject({ lines: ['Coupure Links 88'] })
  const taken = await typeOrder(rig.gharry, order)
  if (!taken.ok) throw new Error(taken.sentence)
  const [stored] = await ordersById(rig.gharry.db, [taken.order])
  expect(stored!.order.shipTo.lines).toEqual(['Coupure Links 88'])
  expect(stored!.order.buyer).toMatchObject({ email: 'noor.home@vanacker.example', phone: '+32 470 12 34 56' })
  const plan = await planBatch(rig.gharry, [taken.order])
  await buyBatch(rig.gharry, [taken.order], plan.total)
  await rig.workAll()
  const label = (await rig.carrierLabels()).at(-1)!
  expect(JSON.stringify(label)).not.toMatch(/470|vanacker\.example/)
})

describe('what makes no sense is said at its field, and nothing is taken in', () => {
  test.each([
    ['no items', { items: [] }, 'items', /Add an item/],
    ['0 g', item({ weight: 0 }), 'items.0.weight', /more than 0 g/],
    ['3 t', item({ weight: 3_000_000 }), 'items.0.weight', /at most 1,000 kg/],
    ['no weight', item({ weight: null }), 'items.0.weight', /is not in the item list/],
    ['no pieces', item({ quantity: 0 }), 'items.0.quantity', /1 to 9,999/],
    ['no side', item({ size: [0, 100, 100] }), 'items.0.size', /above 0/],
    ['an unknown country', to({ country: 'Atlantis' }), 'country', /is no country/],
    ['nobody', to({ name: ' ' }), 'name', /Who is it for/],
    ['no street', to({ lines: [] }), 'lines', /At least one line/],
    ['no e-mail address', { email: 'noor' }, 'email', /is no e-mail address/],
  ] as const)('%s', async (_what, more, field, sentence) => {
    const before = (await rig.orders()).length
    const order = typed(more as Partial<TypedOrder>)
    expect((await quoteTyped(rig.gharry, order)).fields[field]).toMatch(sentence)
    expect(await typeOrder(rig.gharry, order)).toMatchObject({
      ok: false,
      code: 'incomplete',
      fields: { [field]: expect.stringMatching(sentence) as string },
    })
    expect(await rig.orders()).toHaveLength(before)
  })

  test('what no carrier takes is quoted with why, and waits for a person', async () => {
    const long = typed(item({ weight: 900_000, size: [3000, 2000, 2000] }))
    const quote = await quoteTyped(rig.gharry, long)
    expect(quote.chosen).toBeNull()
    expect(quote.problems.length).toBeGreaterThan(0)
    expect(await typeOrder(rig.gharry, long)).toMatchObject({ state: 'attention' })
  })
})
