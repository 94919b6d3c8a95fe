import sharp from 'sharp'
import { orderRow, wordsOfOrders } from '@/data'
import { demoWorld } from '../../../demo/world'
import { usualFaces } from '@/core/telling'
import { buyBatch } from '../dispatch/buyBatch'
import { planBatch } from '../dispatch/planBatch'
import { requestImport } from '../intake/importOrders'
import { calendarFeed, makeFeed } from '../tracking/calendars'
import { closeCustomerWords, takeCustomerWords } from '../tracking/customerWords'
import { saveFaces, showFaces, showLogo, takeLogo } from '../tracking/faces'
import { followParcels } from '../tracking/followParcels'
import { stateBehind, trackByLink } from '../tracking/trackParcel'
import { makeRig, soundOrders, type Rig } from './rig'

/* The page that customers see: what the seller gives it, and what customers write on it. */
let rig: Rig
afterEach(() => rig.close())

async function bought(): Promise<{ token: string; order: number; number: string; carrier: string }> {
  rig = await makeRig({ world: demoWorld })
  await rig.stockShop(soundOrders(1).map((order) => ({ ...order, payment: 'card' })))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  const { id } = (await rig.orders())[0]!
  const plan = await planBatch(rig.gharry, [id])
  await buyBatch(rig.gharry, [id], plan.total)
  await rig.workAll()
  const [label] = await rig.labels()
  return { token: label!.token, order: id, number: label!.trackingNumber!, carrier: label!.carrier }
}

test('a logo is a picture that is drawn anew: no drawing with scripts, no picture of 400 megapixels, nothing else', async () => {
  rig = await makeRig({ empty: true })
  const svg = Buffer.from(
    '<svg xmlns="http://www.w3.org/2000/svg" width="50" height="50"><script>alert(1)</script></svg>',
  )
  const wide = await sharp({
    create: { width: 20_000, height: 20_000, channels: 3, background: '#fff' },
    limitInputPixels: false,
  })
    .png({ compressionLevel: 9 })
    .toBuffer()
  const small = await sharp({ create: { width: 4, height: 4, channels: 3, background: '#fff' } })
    .png()
    .toBuffer()
  const whole = await sharp({ create: { width: 900, height: 300, channels: 3, background: '#1f6b5c' } })
    .withMetadata({ exif: { IFD0: { Copyright: 'secret of the camera' } } })
    .jpeg()
    .toBuffer()
  for (const [content, said] of [
    [svg, /no picture/],
    [Buffer.from('GIF89a'), /no picture/],
    [Buffer.alloc(0), /no picture/],
    [whole.subarray(0, 200), /no picture/],
    [wide, /too many pixels/],
    [small, /too small/],
  ] as const)
    expect(await takeLogo(rig.gharry, content)).toMatchObject({ ok: false, sentence: expect.stringMatching(said) })
  const taken = await takeLogo(rig.gharry, whole)
  const kept = await showLogo(rig.gharry, (taken as { logo: string }).logo)
  expect(kept!.type).toBe('image/png')
  expect(kept!.content.includes('secret of the camera')).toBe(false)
  expect(await sharp(kept!.content).metadata()).toMatchObject({ format: 'png', width: 480, height: 160 })
}, 60_000)

test('a draft is seen by nobody before it is published, and two who edit it do not overwrite each other', async () => {
  const { token } = await bought()
  const red = { ...usualFaces, all: { ...usualFaces.all, colours: { ...usualFaces.all.colours, accent: '#AA0000' } } }
  expect(await saveFaces(rig.gharry, 0, red, false)).toMatchObject({ ok: true, version: 1 })
  expect((await trackByLink(rig.gharry, token))!.colours.accent).toBe(usualFaces.all.colours.accent)
  expect(await saveFaces(rig.gharry, 0, usualFaces, true)).toMatchObject({ ok: false, code: 'world-changed' })
  expect(await saveFaces(rig.gharry, 1, red, true)).toMatchObject({ ok: true })
  expect((await trackByLink(rig.gharry, token))!.colours.accent).toBe('#AA0000')
  expect(await showFaces(rig.gharry)).toMatchObject({ version: 2, draft: red, published: red })
  const own = { ...red, channels: { 'mossgill-shop': { ...red.all, asks: { note: false, report: false } } } }
  await saveFaces(rig.gharry, 2, own, true)
  expect((await trackByLink(rig.gharry, token))!.face.asks.note).toBe(false)
})

test('the page says where each parcel is, part of the address alone, and the way on the map', async () => {
  const { token, number, carrier } = await bought()
  for (const [status, place] of [
    ['collected', 'Brussels'],
    ['in transit', 'Nowhere at all'],
  ] as const)
    await rig.ask(carrier, '/admin/events', { trackingNumber: number, status, place, text: '<b>x</b>', astray: true })
  await followParcels(rig.gharry, carrier)
  const view = (await trackByLink(rig.gharry, token))!
  expect(view.parcels).toHaveLength(1)
  expect(view.parcels[0]).toMatchObject({ number, status: 'in transit', deliveredAt: null })
  expect(view.stops.map(({ name }) => name)).toContain('Brussels')
  expect(view.stops.map(({ name }) => name)).not.toContain('Nowhere at all')
  const { shipTo } = (await rig.shopOrders()).map(({ ship_to }) => ({ shipTo: ship_to }))[0]!
  expect(view.address).toContain(shipTo.city)
  expect(view.address).not.toContain(shipTo.postcode)
  expect(view.address).not.toContain(shipTo.street[0])
  expect(await trackByLink(rig.gharry, 'x'.repeat(24))).toBeNull()
  expect(await trackByLink(rig.gharry, "' OR 1=1 --")).toBeNull()
})

test('what a page rests on is the same until there is news, or its face is another one', async () => {
  const { token, carrier, number } = await bought()
  const before = await stateBehind(rig.gharry, token)
  expect(await stateBehind(rig.gharry, token)).toBe(before)
  await rig.ask(carrier, '/admin/events', { trackingNumber: number, status: 'collected', place: 'Brussels', text: '' })
  await followParcels(rig.gharry, carrier)
  const moved = await stateBehind(rig.gharry, token)
  expect(moved).not.toBe(before)
  await saveFaces(
    rig.gharry,
    0,
    { ...usualFaces, all: { ...usualFaces.all, logo: '', colours: { ...usualFaces.all.colours, accent: '#AA0000' } } },
    true,
  )
  expect(await stateBehind(rig.gharry, token)).not.toBe(moved)
  // No link leads to a page that is kept.
  expect(await stateBehind(rig.gharry, 'x'.repeat(24))).toBe(await stateBehind(rig.gharry, 'no link'))
})

test('what a customer writes: only of the list, in a thousand signs, five times a day; a report is a case until it is closed', async () => {
  const { token, order } = await bought()
  const write = (change: object): ReturnType<typeof takeCustomerWords> =>
    takeCustomerWords(rig.gharry, token, { kind: 'note', about: 'neighbour', text: '', day: '', ...change })
  expect(await write({ about: 'launch' })).toMatchObject({ ok: false, sentence: 'choose' })
  expect(await write({ about: 'place' })).toMatchObject({ ok: false, sentence: 'say-it' })
  expect(await write({ about: 'another day', day: 'soon' })).toMatchObject({ ok: false, sentence: 'which-day' })
  expect(await write({ text: 'x'.repeat(1001) })).toMatchObject({ ok: false, sentence: 'too-long' })
  expect(
    await takeCustomerWords(rig.gharry, 'y'.repeat(24), { kind: 'note', about: 'neighbour', text: '', day: '' }),
  ).toMatchObject({ ok: false })
  expect(await write({ text: 'Number 12\u0000\u001b[31m <script>' })).toMatchObject({ ok: true })
  expect((await wordsOfOrders(rig.gharry.db, [order]))[0]!.text).toBe('Number 12 [31m <script>')
  expect(await write({ kind: 'report', about: 'not here' })).toMatchObject({ ok: true })
  expect((await orderRow(rig.gharry.db, order))!.report).toBe('The customer says that it did not arrive')
  const [report] = await wordsOfOrders(rig.gharry.db, [order])
  expect(await closeCustomerWords(rig.gharry, report!.id, 'It was at the neighbours.')).toMatchObject({ ok: true })
  expect((await orderRow(rig.gharry.db, order))!.report).toBeNull()
  expect((await trackByLink(rig.gharry, token))!.words[0]!.answer).toBe('It was at the neighbours.')
  for (let n = 0; n < 3; n++) expect(await write({})).toMatchObject({ ok: true })
  expect(await write({})).toMatchObject({ ok: false, sentence: 'too-many' })
})

test('news from the far future, of unknown parcels, after the delivery, and out of order change nothing that is so', async () => {
  const { token, number, carrier } = await bought()
  const news = async (status: string, hours: number, more: object = {}): Promise<void> => {
    const at = new Date(rig.gharry.now().getTime() + hours * 3_600_000).toISOString()
    await rig.ask(carrier, '/admin/events', { trackingNumber: number, status, at, astray: true, ...more })
    await followParcels(rig.gharry, carrier)
  }
  await news('out for delivery', -2)
  await news('collected', -9)
  expect((await trackByLink(rig.gharry, token))!.parcels[0]!.status).toBe('out for delivery')
  await news('held at customs', 24 * 4000)
  expect((await trackByLink(rig.gharry, token))!.parcels[0]!.status).toBe('held at customs')
  await news('out for delivery', 1)
  expect((await trackByLink(rig.gharry, token))!.parcels[0]!.status).toBe('out for delivery')
  await news('delivered', -1)
  expect((await trackByLink(rig.gharry, token))!.parcels[0]!.status).toBe('delivered')
  await news('in transit', 1)
  await news('delivered', 2)
  expect((await trackByLink(rig.gharry, token))!.parcels[0]!.status).toBe('delivered')
  await news('returned', 3)
  await news('arrived back', 4)
  expect((await trackByLink(rig.gharry, token))!.parcels[0]!.status).toBe('arrived back')
})

test('a calendar with a link that can be changed: collections, and nothing for another link', async () => {
  rig = await makeRig({ world: demoWorld })
  const { url } = await makeFeed(rig.gharry)
  const secret = url.split('/').at(-1)!
  const feed = (await calendarFeed(rig.gharry, secret))!
  expect(feed).toMatch(/^BEGIN:VCALENDAR/)
  expect(feed).toContain('SUMMARY:Heron Parcel collects in Ghent')
  expect(feed.match(/BEGIN:VEVENT/g)!.length).toBe(feed.match(/END:VEVENT/g)!.length)
  expect(new Set(feed.match(/^UID:.*$/gm)).size).toBe(feed.match(/^UID:/gm)!.length)
  await makeFeed(rig.gharry)
  expect(await calendarFeed(rig.gharry, secret)).toBeNull()
  expect(await calendarFeed(rig.gharry, '')).toBeNull()
})
