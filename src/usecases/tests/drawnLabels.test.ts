import { execFileSync } from 'node:child_process'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Readable } from 'node:stream'
import { buffer } from 'node:stream/consumers'
import { connectionsOfCarrier } from '@/data'
import { buyBatch } from '../dispatch/buyBatch'
import { planBatch } from '../dispatch/planBatch'
import { papersOf, printBatch, printLabel, usualProfile, type PrintProfile } from '../dispatch/printBatch'
import { saveConnection } from '../intake/connections'
import { requestImport } from '../intake/importOrders'
import { isPrinted, makeRig, soundOrders, type Rig } from './rig'

/* Labels that the carrier draws itself: kept, printed and printed again as they came. */

let rig: Rig
beforeEach(async () => {
  rig = await makeRig()
})
afterEach(() => rig.close())

async function bought(labels: string, count = 2): Promise<number> {
  for (const [carrier, address] of rig.carrierUrls) {
    const [row] = await connectionsOfCarrier(rig.gharry.db, carrier)
    if (row?.kind !== 'json-labels') continue
    const saved = await saveConnection(rig.gharry, row.id, {
      ...{ role: 'carrier', kind: 'json-labels', name: carrier, on: true, version: row.version },
      settings: { address, token: 't', labels },
    })
    expect(saved).toMatchObject({ ok: true })
  }
  await rig.stockShop(soundOrders(count))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  const ids = (await rig.orders()).map(({ id }) => id)
  const plan = await planBatch(rig.gharry, ids)
  const answer = await buyBatch(rig.gharry, ids, plan.total)
  if (!answer.ok) throw new Error(answer.sentence)
  await rig.workAll()
  return answer.batch
}
const profile = (more: Partial<PrintProfile>): PrintProfile => ({ ...usualProfile, ...more })
async function fileOf(content: Readable): Promise<string> {
  const path = join(mkdtempSync(join(tmpdir(), 'gharry-drawn-')), 'print.pdf')
  writeFileSync(path, await buffer(content))
  return path
}
const textOf = (path: string): string => execFileSync('pdftotext', ['-layout', path, '-'], { encoding: 'utf8' })

test('a PDF of the carrier is printed as it came, on any paper, with its bars readable, and again', async () => {
  const batch = await bought('pdf')
  const labels = await rig.labels()
  const kept = (await rig.gharry.db('label_papers')) as { content: Buffer }[]
  expect(kept).toHaveLength(2)
  for (const layout of ['thermal', 'a4-2', 'a4-4']) {
    const path = await fileOf(
      isPrinted(await printBatch(rig.gharry, batch, profile({ layout, parts: 'labels' }))).content,
    )
    execFileSync('qpdf', ['--check', path])
    const text = textOf(path)
    expect(text.match(/drawn by/g)).toHaveLength(2)
    for (const { trackingNumber } of labels) expect(text).toContain(trackingNumber)
    const picture = path.replace('.pdf', '')
    execFileSync('pdftoppm', ['-r', '300', '-png', path, picture])
    const read = execFileSync('sh', ['-c', `zbarimg -q --raw ${picture}*.png`], { encoding: 'utf8' })
    for (const { trackingNumber } of labels) expect(read).toContain(trackingNumber)
  }
  // With the slips, which are drawn here; what was printed before is the same label again.
  const both = textOf(await fileOf(isPrinted(await printBatch(rig.gharry, batch, profile({ parts: 'both' }))).content))
  expect(both.match(/drawn by/g)).toHaveLength(2)
  expect(both).toContain('REPRINT')
  const one = textOf(
    await fileOf(isPrinted(await printLabel(rig.gharry, labels[0]!.id, profile({ parts: 'labels' }))).content),
  )
  expect(one.match(/drawn by/g)).toHaveLength(1)
  // Other papers can be had in any format; this label cannot, and that is said.
  expect(await printBatch(rig.gharry, batch, profile({ format: 'zpl' }))).toMatchObject({
    code: 'other-format',
    sentence: expect.stringMatching(
      /^2 labels are drawn by the carrier .* as PDF, and cannot be printed as ZPL: choose PDF/,
    ) as string,
  })
  expect(isPrinted(await printBatch(rig.gharry, batch, profile({ format: 'zpl', parts: 'slips' }))).pages).toBe(2)
})

test('ZPL of the carrier goes to the printer byte by byte', async () => {
  const batch = await bought('zpl')
  const kept = (await rig.gharry.db('label_papers').orderBy('label_id')) as { content: Buffer }[]
  const printed = await buffer(
    isPrinted(await printBatch(rig.gharry, batch, profile({ format: 'zpl', parts: 'labels' }))).content,
  )
  expect(printed.equals(Buffer.concat(kept.map(({ content }) => content)))).toBe(true)
  expect(printed.toString()).toContain('drawn by')
})

test('papers in one file come in the format that the carrier drew, whatever is wanted: no label is blank', async () => {
  await bought('zpl', 1)
  const [label] = await rig.labels()
  const papers = await papersOf(rig.gharry, label!, 'pdf')
  expect(papers).toMatchObject({ format: 'zpl', type: 'application/octet-stream' })
  expect(papers.content.toString()).toContain('drawn by')
  expect(papers.content.toString()).toContain(label!.trackingNumber)
})

test('a label whose drawing is garbled stays queued under its key, and is bought once when it comes', async () => {
  for (const carrier of rig.carrierUrls.keys()) await rig.faults(carrier, { badDrawing: 2 })
  const batch = await bought('pdf', 3)
  expect((await rig.labels()).map(({ state }) => state)).toEqual(['bought', 'bought', 'bought'])
  expect(await rig.carrierLabels()).toHaveLength(3)
  expect(isPrinted(await printBatch(rig.gharry, batch, profile({ parts: 'labels' }))).pages).toBe(3)
})
