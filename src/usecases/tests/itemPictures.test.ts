import sharp from 'sharp'
import { demoItems } from '../../../demo/items'
import { openParcel } from '../dispatch/bench/openParcel'
import { showItemPicture, takeItemPicture } from '../intake/itemPictures'
import { showItems } from '../intake/items'
import { buyReady, makeRig, soundOrders, type Rig } from './rig'

/* Pictures of items: taken by the name of the file, drawn anew and small, shown where a packer looks. */
let rig: Rig
beforeEach(async () => {
  rig = await makeRig()
})
afterEach(() => rig.close())

const { sku } = demoItems[0]!
const photo = (width: number, colour = '#3a7'): Promise<Buffer> =>
  sharp({ create: { width, height: 300, channels: 3, background: colour } })
    .withExif({ IFD0: { Copyright: 'Somewhere in Gent' } })
    .jpeg()
    .toBuffer()
const pictureOf = async (which: string): Promise<string | null> =>
  (await showItems(rig.gharry, which))!.items.find(({ row }) => row.sku === which)!.picture

test('a file that is called as a SKU becomes its picture, small and without what the camera wrote; another one has another address', async () => {
  expect(await takeItemPicture(rig.gharry, `${sku.toLowerCase()}.JPG`, await photo(2400))).toEqual({ ok: true, sku })
  const kept = (await showItemPicture(rig.gharry, sku))!
  const shape = await sharp(kept).metadata()
  expect(shape).toMatchObject({ format: 'webp', width: 480, height: 60 })
  expect(shape.exif).toBeUndefined()
  expect(kept.includes('Somewhere')).toBe(false)
  const first = await pictureOf(sku)
  expect(new URL(first!, 'http://x').searchParams.get('name')).toBe(sku)
  rig.put(1)
  await takeItemPicture(rig.gharry, sku, await photo(100, '#00f'))
  expect(await pictureOf(sku)).not.toBe(first)
  expect(await takeItemPicture(rig.gharry, sku, Buffer.alloc(0))).toMatchObject({ ok: true })
  expect([await pictureOf(sku), await showItemPicture(rig.gharry, sku)]).toEqual([null, undefined])
})

test.each<[string, string, () => Promise<Buffer> | Buffer, RegExp]>([
  ['an item that is not on the list', 'NOBODY.png', () => photo(100), /^NOBODY.png: no item of the list is called so/],
  ['no name', '', () => photo(100), /^A picture without a name/],
  ['text', sku, () => Buffer.from('a picture'), /is no picture that can be shown/],
  [
    'a drawing with a script',
    sku,
    () => Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" width="99" height="99"><script>alert(1)</script></svg>'),
    /is no picture that can be shown/,
  ],
  [
    'a picture of few points',
    sku,
    async () =>
      sharp(await photo(100))
        .resize(8, 8)
        .png()
        .toBuffer(),
    /is too small/,
  ],
  ['half a picture', sku, async () => (await photo(2400)).subarray(0, 400), /is no picture that can be shown/],
])('%s is refused, and nothing is changed', async (_, name, content, why) => {
  await takeItemPicture(rig.gharry, sku, await photo(200))
  const before = await pictureOf(sku)
  const answer = await takeItemPicture(rig.gharry, name, await content())
  expect(answer).toMatchObject({ ok: false, sentence: expect.stringMatching(why) as string })
  expect(await pictureOf(sku)).toBe(before)
})

test('the bench shows the pictures of what belongs in the parcel', async () => {
  await buyReady(rig, soundOrders(2))
  const [label] = await rig.labels()
  const open = () => openParcel(rig.gharry, { bench: 'Bench 1', code: label!.trackingNumber!, take: false })
  const first = await open()
  if (!first.ok) throw new Error(first.sentence)
  expect(first.view.pictures).toEqual({})
  const [line] = first.view.parcel.lines
  await takeItemPicture(rig.gharry, `${line!.sku}.png`, await photo(300))
  const again = await open()
  expect(again).toMatchObject({ view: { pictures: { [line!.sku]: await pictureOf(line!.sku) } } })
})
