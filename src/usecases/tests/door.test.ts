import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { buffer } from 'node:stream/consumers'
import { demoWorld } from '../../../demo/world'
import type { CarrierLabel } from '../../../standins/carrier'
import { closeDoor } from '../dispatch/door/closeDoor'
import { sendManifestAgain } from '../dispatch/door/deliverManifest'
import { showDoor } from '../dispatch/door/doorView'
import { printContainers, printManifest } from '../dispatch/door/manifestPapers'
import { newContainer, scanAtDoor, takeOff } from '../dispatch/door/scanAtDoor'
import { settleLeftBehind, showManifests } from '../dispatch/door/showManifests'
import { dispatchBatch } from '../dispatch/dispatchLabels'
import { requestVoid } from '../dispatch/voidLabel'
import { voidMany } from '../dispatch/voidMany'
import { buyReady, isPrinted, makeRig, type Rig, soundOrders } from './rig'

interface Told {
  reference: string
  confirmation: string
  driver: string
  parcels: { trackingNumber: string; container: string }[]
}

const door = { carrier: 'heron', location: 'ghent' }
let rig: Rig
beforeEach(async () => {
  const seller = { ...demoWorld.seller!, gs1Prefix: '5412345' }
  rig = await makeRig({ world: { ...demoWorld, seller } })
})
afterEach(() => rig.close())

/** Labels of Heron from Ghent, as they were bought. */
const heron = async () =>
  (await rig.labels()).filter(
    ({ carrier, location, state }) => carrier === 'heron' && location === 'ghent' && state === 'bought',
  )
const scan = async (code: string, container: string | null = null, at = door) => {
  const answer = await scanAtDoor(rig.gharry, { ...at, code, container })
  if (!answer.ok) throw new Error(answer.sentence)
  return answer
}
const close = async (more: Partial<Parameters<typeof closeDoor>[1]> = {}) => {
  const { manifest, parcels, leaving } = await showDoor(rig.gharry, door.carrier, door.location)
  return closeDoor(rig.gharry, { manifest: manifest ?? 0, parcels, leaving, driver: '', signature: [], ...more })
}
const signature = [[100, 100, 300, 200, 500, 90]]

test('a lorry is loaded by scan, mistakes are said, the door is closed, and the carrier has the list once', async () => {
  await buyReady(rig, soundOrders(8))
  // Whatever weekday it is, they are to leave today.
  await rig.gharry.db('labels').update({ shipOn: rig.gharry.now().toISOString().slice(0, 10) })
  const labels = await heron()
  expect(labels.length).toBeGreaterThan(3)
  const [first, second, third] = labels
  expect((await scan(first!.trackingNumber!)).said).toMatchObject({ verdict: 'right' })
  expect((await scan(first!.trackingNumber!)).said).toMatchObject({ verdict: 'again' })
  // A pallet, with a code of the seller's own prefix, that is scanned as its bars are.
  const pallet = await newContainer(rig.gharry, door)
  if (!pallet.ok) throw new Error(pallet.sentence)
  expect(pallet.code).toMatch(/^05412345\d{10}$/)
  expect((await scan(`00${pallet.code}`)).said).toMatchObject({ verdict: 'container', container: pallet.code })
  expect((await scan(second!.trackingNumber!, pallet.code)).said).toMatchObject({
    verdict: 'right',
    more: `in ${pallet.code}`,
  })

  const wrongs: [code: string, words: string][] = [
    ['https://gharry.example/order/7', 'Cannot be read'],
    ['x'.repeat(10_000), 'Cannot be read'],
    ['NX77000000001', 'Not known'],
    ['C99-1', 'Container of another manifest'],
    ['', 'Cannot be read'],
  ]
  for (const [code, words] of wrongs) expect((await scan(code)).said).toMatchObject({ verdict: 'wrong', words })
  expect((await scan(third!.trackingNumber!, null, { carrier: 'corvid', location: 'ghent' })).said).toMatchObject({
    verdict: 'wrong',
    words: 'Wrong carrier: Heron Parcel',
  })
  expect((await scan(third!.trackingNumber!, null, { carrier: 'heron', location: 'poznan' })).said.words).toBe(
    'Belongs to Ghent',
  )

  const view = await showDoor(rig.gharry, door.carrier, door.location)
  expect(view).toMatchObject({ parcels: 2, leaving: labels.length - 2 })
  expect(view.waiting.map(({ labelId }) => labelId)).not.toContain(first!.id)
  expect(await close({ leaving: 0 })).toMatchObject({ ok: false, code: 'total-moved' })
  expect(await close({ signature })).toMatchObject({ ok: false, code: 'incomplete' })
  expect(await close({ driver: ' Ilse Door ', signature })).toMatchObject({ ok: true, shipments: 2, parcels: 2 })
  expect(await close()).toMatchObject({ ok: false })
  await rig.workAll()

  const told = await rig.ask<Told[]>('heron', '/admin/manifests')
  expect(told).toHaveLength(1)
  expect(told[0]).toMatchObject({ driver: 'Ilse Door' })
  expect(told[0]!.parcels.map(({ trackingNumber, container }) => [trackingNumber, container]).sort()).toEqual(
    [
      [first!.trackingNumber, ''],
      [second!.trackingNumber, pallet.code],
    ].sort(),
  )
  const { manifests } = await showManifests(rig.gharry)
  expect(manifests).toMatchObject([{ state: 'sent', parcels: 2, confirmation: told[0]!.confirmation, signed: true }])
  const orders = await rig.orders()
  expect(orders.find(({ id }) => id === first!.orderId)?.state).toBe('dispatched')
  expect(orders.find(({ id }) => id === third!.orderId)?.state).toBe('labelled')
  // The next lorry does not get it once more.
  expect((await scan(first!.trackingNumber!)).said).toMatchObject({ verdict: 'wrong', words: 'On manifest M1 already' })
})

test('with the line to the carrier failing in every way the list comes once, and nothing is told twice', async () => {
  await buyReady(rig, soundOrders(6))
  const labels = await heron()
  for (const { trackingNumber } of labels) await scan(trackingNumber!)
  expect(await close()).toMatchObject({ ok: true, shipments: labels.length })
  await rig.faults('heron', { timeOutAfterWork: 2, serverError: 3, malformedBody: 4, tooManyCalls: 5 })
  await rig.workAll()
  const told = await rig.ask<Told[]>('heron', '/admin/manifests')
  expect(told.map(({ parcels }) => parcels.length)).toEqual([labels.length])
  expect((await showManifests(rig.gharry)).manifests).toMatchObject([{ state: 'sent' }])
  expect(await showManifests(rig.gharry, 1)).toMatchObject({ manifests: [], closed: 1 })
})

test('a label that is voided is off the lorry, and what changed while the door was being closed is said first', async () => {
  await buyReady(rig, soundOrders(6))
  const [first, second, third] = await heron()
  for (const { trackingNumber } of [first!, second!, third!]) await scan(trackingNumber!)
  const before = await showDoor(rig.gharry, door.carrier, door.location)
  expect(await requestVoid(rig.gharry, second!.id)).toMatchObject({ ok: true })
  expect((await scan(second!.trackingNumber!)).said).toMatchObject({ verdict: 'wrong', words: 'Label voided' })
  expect(await close({ parcels: before.parcels, leaving: before.leaving })).toMatchObject({
    ok: false,
    code: 'total-moved',
  })
  await rig.gharry.db('orders').where({ id: third!.orderId }).update({ flag: 'The buyer has cancelled it.' })
  expect(await close()).toMatchObject({ ok: false, code: 'order-moved' })
  const off = await takeOff(rig.gharry, { manifest: before.manifest!, label: third!.id, position: 1 })
  expect(off).toMatchObject({ ok: true, view: { parcels: 1 } })
  expect(await takeOff(rig.gharry, { manifest: before.manifest!, label: third!.id, position: 1 })).toMatchObject({
    ok: false,
  })
  expect((await scan(third!.trackingNumber!)).said).toMatchObject({ verdict: 'wrong', words: 'The order has changed' })
  expect(await close()).toMatchObject({ ok: true, parcels: 1 })
  await rig.workAll()
  expect((await rig.ask<Told[]>('heron', '/admin/manifests'))[0]!.parcels).toHaveLength(1)
})

test('what a location wants checked stays at the door, whatever the scan', async () => {
  const locations = demoWorld.locations.map((location) =>
    location.id === 'ghent' ? { ...location, checked: true } : location,
  )
  await rig.close()
  rig = await makeRig({ world: { ...demoWorld, locations } })
  await buyReady(rig, soundOrders(3))
  const [first] = await heron()
  expect((await scan(first!.trackingNumber!)).said).toMatchObject({ verdict: 'wrong', words: 'Not checked' })
})

test('two scanners on one parcel put it on one manifest', async () => {
  await buyReady(rig, soundOrders(4))
  const [first] = await heron()
  const said = await Promise.all(Array.from({ length: 8 }, () => scan(first!.trackingNumber!)))
  expect(said.map((one) => one.said.verdict).sort()).toEqual([...Array<string>(7).fill('again'), 'right'])
  expect(await rig.gharry.db('manifests').count({ n: '*' })).toEqual([{ n: 1 }])
})

test('a batch that is marked as handed over has manifests of its own, and what was scanned before is on none twice', async () => {
  const batch = await buyReady(rig, soundOrders(6))
  const labels = await heron()
  await scan(labels[0]!.trackingNumber!)
  await dispatchBatch(rig.gharry, batch)
  const rows = await rig.gharry.db('manifest_parcels').select('label_id', 'manifest_id')
  expect(new Set(rows.map((row: { labelId: number }) => row.labelId)).size).toBe(rows.length)
  // The one on the open lorry waits for its door to be closed.
  expect((await rig.labels()).find(({ id }) => id === labels[0]!.id)?.dispatchedAt).toBeNull()
  expect(await close()).toMatchObject({ ok: true, parcels: 1, shipments: 1 })
  await rig.workAll()
  const told = (await rig.ask<Told[]>('heron', '/admin/manifests')).flatMap(({ parcels }) => parcels)
  expect(told.map(({ trackingNumber }) => trackingNumber).sort()).toEqual(
    labels.map((label) => label.trackingNumber).sort(),
  )
})

test('a list that the carrier refuses is kept with its reason, and sent again once that is mended', async () => {
  await buyReady(rig, soundOrders(3))
  const [first] = await heron()
  await scan(first!.trackingNumber!)
  // The carrier has voided it by itself: it does not take it.
  const [kept] = (await rig.ask<CarrierLabel[]>('heron', '/admin/labels')).filter(
    ({ trackingNumber }) => trackingNumber === first!.trackingNumber,
  )
  await rig.ask('heron', '/admin/labels', [{ ...kept, state: 'voided' }])
  await close()
  await rig.workAll()
  const { manifests } = await showManifests(rig.gharry)
  expect(manifests[0]).toMatchObject({ state: 'failed', problem: `${first!.trackingNumber} is voided.` })
  expect(await sendManifestAgain(rig.gharry, manifests[0]!.id + 1)).toMatchObject({ ok: false })
  await rig.ask('heron', '/admin/labels', [kept])
  expect(await sendManifestAgain(rig.gharry, manifests[0]!.id)).toMatchObject({ ok: true })
  await rig.workAll()
  expect((await showManifests(rig.gharry)).manifests[0]).toMatchObject({ state: 'sent', problem: null })
})

test('what should have left yesterday is asked about today: it did, it is here still, or its label is voided', async () => {
  await buyReady(rig, soundOrders(6))
  const labels = await heron()
  expect((await showManifests(rig.gharry)).leftBehind).toEqual([])
  await rig.gharry.db('labels').update({ shipOn: '2026-11-01' })
  const asked = (await showManifests(rig.gharry)).leftBehind.filter(({ carrier }) => carrier === 'heron')
  expect(asked.map(({ labelId }) => labelId).sort()).toEqual(labels.map(({ id }) => id).sort())
  const [left, here, gone] = labels
  expect(await settleLeftBehind(rig.gharry, { labels: [left!.id], left: true })).toMatchObject({ ok: true, settled: 1 })
  expect(await settleLeftBehind(rig.gharry, { labels: [left!.id], left: true })).toMatchObject({ ok: false })
  expect(await settleLeftBehind(rig.gharry, { labels: [here!.id], left: false })).toMatchObject({ ok: true })
  expect(await voidMany(rig.gharry, [gone!.id, 9999])).toMatchObject({ ok: true, asked: 1, refused: [{ label: 9999 }] })
  await rig.workAll()
  const ids = (await showManifests(rig.gharry)).leftBehind.map(({ labelId }) => labelId)
  for (const label of [left, here, gone]) expect(ids).not.toContain(label!.id)
  expect((await rig.labels()).find(({ id }) => id === gone!.id)?.state).toBe('voided')
  // The next day it is asked about again.
  rig.put(24 * 60)
  expect((await showManifests(rig.gharry)).leftBehind.map(({ labelId }) => labelId)).toContain(here!.id)
})

test('the manifest and the labels of containers are papers that other programs read', async () => {
  await buyReady(rig, soundOrders(6))
  const labels = await heron()
  const pallet = await newContainer(rig.gharry, door)
  if (!pallet.ok) throw new Error(pallet.sentence)
  for (const { trackingNumber } of labels) await scan(trackingNumber!, pallet.code)
  await close({ driver: 'Ilse Door', signature })
  const folder = mkdtempSync(join(tmpdir(), 'gharry-manifest-'))
  const read = async (name: string, work: ReturnType<typeof printManifest>) => {
    const file = isPrinted(await work)
    const path = join(folder, name)
    writeFileSync(`${path}.pdf`, await buffer(file.content))
    execFileSync('pdftoppm', ['-r', '203', '-gray', '-png', `${path}.pdf`, path])
    const text = execFileSync('pdftotext', ['-layout', `${path}.pdf`, '-']).toString()
    const images = execFileSync('sh', ['-c', `ls ${path}-*.png`])
      .toString()
      .trim()
      .split('\n')
    const bars = execFileSync('zbarimg', ['-q', '--raw', ...images]).toString()
    return { text, bars }
  }
  const paper = await read('manifest', printManifest(rig.gharry, 1))
  for (const { trackingNumber } of labels) expect(paper.text).toContain(trackingNumber!)
  expect(paper.text).toContain(`${labels.length} parcels`)
  expect(paper.text).toContain('Ilse Door')
  expect(paper.bars).toContain(`00${pallet.code}`)
  const [row] = (await rig.gharry.db('manifests').select('reference')) as { reference: string }[]
  expect(paper.bars).toContain(row!.reference)
  const label = await read('pallet', printContainers(rig.gharry, 1))
  expect(label.bars.trim()).toBe(`00${pallet.code}`)
  expect(label.text).toContain('Heron Parcel')
  expect(await printManifest(rig.gharry, 99)).toBeNull()
  rmSync(folder, { recursive: true })
})
