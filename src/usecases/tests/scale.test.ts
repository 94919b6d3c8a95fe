import type { AddressInfo } from 'node:net'
import type { FastifyInstance } from 'fastify'
import { makeServer } from '../../../standins/server'
import { type OnScale, scaleStandIn } from '../../../standins/scale'
import { readScale, saveBench } from '../dispatch/bench/benchPrinter'
import { makeRig, type Rig } from './rig'

/* The scale of a bench, asked over the network. */
let rig: Rig
let app: FastifyInstance
let url: string
beforeEach(async () => {
  rig = await makeRig({ env: { GHARRY_CALL_TIMEOUT_MS: '1500' } })
  app = makeServer()
  const scale = scaleStandIn(app)
  await new Promise<void>((resolve) => void scale.listen(0, '127.0.0.1', resolve))
  url = await app.listen({ host: '127.0.0.1', port: 0 })
  const address = `127.0.0.1:${(scale.address() as AddressInfo).port}`
  const settings = { printer: 'none', address: '', prints: 'asked', scale: address } as const
  expect(await saveBench(rig.gharry, { bench: 'Bench 1', settings })).toMatchObject({ ok: true })
})
afterEach(async () => {
  await rig.close()
  await app.close()
})
const put = (on: Partial<OnScale>): Promise<unknown> =>
  fetch(`${url}/admin/scale`, {
    ...{ method: 'POST', headers: { 'content-type': 'application/json' } },
    body: JSON.stringify(on),
  })
const read = (bench = 'Bench 1') => readScale(rig.gharry, bench)

test.each([
  [{ value: 380, unit: 'g' }, 380],
  [{ value: 1.234, unit: 'kg' }, 1234],
  [{ value: 2.5, unit: 'lb' }, 1134],
  [{ value: 12, unit: 'oz' }, 340],
] as const)('%j is read in grams', async (on, grams) => {
  await put(on)
  expect(await read()).toEqual({ ok: true, grams })
})

test.each([
  ['nothing on it', { value: 0 }, /Nothing stands/],
  ['less than nothing', { value: -40 }, /less than nothing/],
  ['one that jumps', { value: 100, jumps: true }, /does not come to rest/],
  ['one that is off', { off: true }, /broke off|is it on/],
] as const)('%s is said, and no weight is taken', async (_what, on, sentence) => {
  await put(on)
  expect(await read()).toMatchObject({ ok: false, sentence: expect.stringMatching(sentence) as string })
})

test('a bench without a scale types its weights, and none in the house is asked where that is not allowed', async () => {
  expect(await read('Bench 2')).toMatchObject({ ok: false, sentence: expect.stringMatching(/has no scale/) as string })
  const closed = { ...rig.gharry, outside: { ...rig.gharry.outside, privateAddresses: false } }
  expect(await readScale(closed, 'Bench 1')).toMatchObject({
    sentence: expect.stringMatching(/within this machine or house/) as string,
  })
  const settings = { printer: 'none', address: '', prints: 'asked', scale: 'a scale' } as const
  expect(await saveBench(rig.gharry, { bench: 'Bench 1', settings })).toMatchObject({ ok: false })
})
