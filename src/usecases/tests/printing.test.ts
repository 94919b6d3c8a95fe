import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { demoRulebook } from '../../../demo/rulebook'
import { type PrintedJob, printersStandIn } from '../../../standins/printers'
import { newestPrintJobs, type LabelRow } from '@/data'
import { type BenchSettings, printAtBench, saveBench } from '../dispatch/bench/benchPrinter'
import { tellOnce } from '../worker/work'
import { buyReady, makeRig, soundOrders, type Rig } from './rig'

/* Papers of a bench on their printers: read back from what was printed. */
let rig: Rig
let printers: ReturnType<typeof printersStandIn>
let raw: string
let ipp: string
afterEach(async () => {
  await rig.close()
  await printers.app.close()
})

async function begin(env: Record<string, string> = {}): Promise<LabelRow> {
  printers = printersStandIn(':memory:')
  ipp = `${await printers.app.listen({ host: '127.0.0.1', port: 0 })}/ipp/print`
  await new Promise<void>((resolve) => void printers.raw.listen(0, '127.0.0.1', resolve))
  raw = `127.0.0.1:${(printers.raw.address() as AddressInfo).port}`
  rig = await makeRig({ rulebook: demoRulebook, env: { GHARRY_CALL_TIMEOUT_MS: '1500', ...env } })
  await buyReady(rig, soundOrders(1))
  return (await rig.labels())[0]!
}
const set = (settings: Partial<BenchSettings>) =>
  saveBench(rig.gharry, {
    bench: 'Bench 1',
    settings: { printer: 'raw', address: raw, prints: 'asked', scale: '', ...settings },
  })
const print = (label: LabelRow, key = 'one printing') =>
  printAtBench(rig.gharry, { bench: 'Bench 1', label: label.id, key })
const jobs = async (): Promise<PrintedJob[]> =>
  (await (await fetch(new URL('/admin/jobs', ipp))).json()) as PrintedJob[]
const faults = (given: object): Promise<unknown> =>
  fetch(new URL('/admin/faults', ipp), {
    ...{ method: 'POST', headers: { 'content-type': 'application/json' } },
    body: JSON.stringify(given),
  })
const textOf = ({ content }: PrintedJob): string => Buffer.from(content, 'base64').toString('utf8')
const state = async () => (await newestPrintJobs(rig.gharry.db, 'Bench 1', 9)).map((job) => [job.state, job.problem])

test('a label printer gets ZPL, once for one key; asked for again it says that it is a reprint', async () => {
  const label = await begin()
  expect(await print(label)).toMatchObject({ ok: false, sentence: expect.stringMatching(/has no printer/) as string })
  await set({})
  await Promise.all([print(label), print(label)])
  await rig.workAll()
  const [job, ...others] = await jobs()
  expect(others).toEqual([])
  expect(job).toMatchObject({ by: 'raw', whole: true })
  expect(textOf(job!)).toMatch(/^\^XA[\s\S]*\^XZ\s*$/)
  expect(textOf(job!)).toContain(label.trackingNumber)
  expect(textOf(job!)).not.toContain('REPRINT')
  await print(label, 'another printing')
  await rig.workAll()
  expect(textOf((await jobs())[0]!)).toContain('REPRINT')
})

test('a printer that is off is tried again, and what it then prints is no reprint', async () => {
  const label = await begin()
  await set({ address: '127.0.0.1:9' })
  await print(label)
  await rig.gharry.db('print_jobs').update({ attempts: 0 })
  for (let i = 0; i < 2; i++) await rig.workAll()
  expect(await jobs()).toEqual([])
  expect((await state())[0]).toEqual(['failed', expect.stringMatching(/does not answer: is it on/)])
  await set({})
  await print(label, 'once more')
  await rig.workAll()
  expect((await jobs()).map((job) => textOf(job).includes('REPRINT'))).toEqual([false])
})

test('one that breaks off in the middle may have printed: what comes again is marked', async () => {
  const label = await begin()
  await set({})
  await faults({ cutAfter: 200 })
  await print(label)
  await rig.workAll()
  const printed = await jobs()
  expect(printed.map(({ whole }) => whole).sort()).toEqual([false, true])
  const whole = printed.find((job) => job.whole)!
  expect(textOf(whole)).toContain('REPRINT')
  expect(await state()).toEqual([['sent', null]])
})

test('one without paper takes nothing, and is said so', async () => {
  const label = await begin()
  await set({})
  await faults({ noPaper: true })
  await print(label)
  await rig.workAll()
  expect(await state()).toEqual([['failed', expect.stringMatching(/is there paper in it/)]])
  expect(await jobs()).toEqual([])
})

test('any printer that speaks IPP gets a PDF that another program reads', async () => {
  const label = await begin()
  await set({ printer: 'ipp', address: ipp.replace('http:', 'ipp:') })
  await print(label)
  await rig.workAll()
  const [job] = await jobs()
  expect(job).toMatchObject({ by: 'ipp', whole: true, name: `Gharry ${label.trackingNumber}` })
  const folder = mkdtempSync(join(tmpdir(), 'gharry-ipp-'))
  writeFileSync(join(folder, 'job.pdf'), Buffer.from(job!.content, 'base64'))
  const text = execFileSync('pdftotext', [join(folder, 'job.pdf'), '-'], { encoding: 'utf8' })
  expect(text.replaceAll(' ', '')).toContain(label.trackingNumber!)
  rmSync(folder, { recursive: true })
  await faults({ noPaper: true })
  await print(label, 'another printing')
  await rig.workAll()
  expect((await state())[0]).toEqual(['failed', expect.stringMatching(/takes no jobs now/)])
})

test('an address that is none is refused, and none within the house is called where that is not allowed', async () => {
  const label = await begin()
  for (const [given, why] of [
    [{ address: 'a printer' }, /name or number/],
    [{ address: '10.0.0.7:999999' }, /name or number/],
    [{ printer: 'ipp', address: 'ftp://printer' }, /address, such as http/],
  ] as const)
    expect(await set(given as Partial<BenchSettings>)).toMatchObject({
      ok: false,
      sentence: expect.stringMatching(why) as string,
    })
  await set({})
  const closed = { ...rig.gharry, outside: { ...rig.gharry.outside, privateAddresses: false } }
  await printAtBench(closed, { bench: 'Bench 1', label: label.id, key: 'to the house' })
  await tellOnce(closed)
  expect((await state())[0]).toEqual(['failed', expect.stringMatching(/within this machine or house/)])
  expect(await jobs()).toEqual([])
})
