import type { FastifyInstance } from 'fastify'
import { money, measured, type Plain } from '@/core/units'
import { carrierSettings, carrierStandIn, type CarrierLabel } from '../../../../standins/carrier'
import { carrierClient } from '../json-labels/client'
import type { LabelRequest } from '../carrier'
import { freightClient } from './client'

const here = (timeoutMs = 10_000) => ({ timeoutMs, privateAddresses: true, pauseMs: 1 })
const open: FastifyInstance[] = []
afterEach(async () => {
  for (const app of open.splice(0)) await app.close()
})
async function begin(): Promise<string> {
  const { app } = carrierStandIn(carrierSettings('bramble', ':memory:', 't'))
  open.push(app)
  return app.listen({ host: '127.0.0.1', port: 0 })
}
const freight = (address: string, password = 't', timeoutMs?: number) =>
  freightClient({ address, account: 'mossgill', password }, here(timeoutMs))
const tell = (url: string, content: object): Promise<Response> =>
  fetch(url, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(content) })
const labels = async (url: string) => (await (await fetch(`${url}/admin/labels`)).json()) as CarrierLabel[]

const address = { lines: ['Mossgill & Co. <Ghent>', 'Kaai 1', '9000 Gent'] }
const request = (more: Partial<Plain<LabelRequest>> = {}) =>
  measured<LabelRequest>({
    service: 'bramble-freight',
    ...{ fromCountry: 'BE', toCountry: 'DE', toPostcode: '50823', from: address, to: address },
    parcels: [
      { weight: 31_250, size: [801, 602, 403] },
      { weight: 12_001, size: [600, 400, 300], dangerousGoods: [], notStackable: true },
    ],
    ...{ reference: 'MG-1 "urgent"', shipOn: '2026-11-30', signature: false, insured: 0, toCollect: 0 },
    ...{ residential: false, postOfficeBox: false, notStackable: true, dangerousGoods: [], duties: 'DAP' },
    ...{ returnLabel: false, customs: null },
    ...more,
  })

test('what is booked in XML costs, and is, what the carrier’s other interface says of the same', async () => {
  const [url, other] = [await begin(), await begin()]
  const asked = request()
  const booked = await freight(url).buy(asked, 'key-number-1')
  expect(booked).toEqual(await carrierClient(other, 't', here(), null).buy(asked, 'key-number-1'))
  if (!booked.ok) throw new Error(booked.sentence)
  expect(booked.body.parcels).toHaveLength(2)
  expect(booked.body.charged.minor).toBeGreaterThan(0)
  expect(await labels(url)).toMatchObject([{ reference: 'MG-1 "urgent"', state: 'bought' }])

  // The same message again is the same booking.
  expect(await freight(url).buy(asked, 'key-number-1')).toEqual(booked)
  expect(await labels(url)).toHaveLength(1)

  const { trackingNumber } = booked.body.parcels[0]!
  expect(await freight(url).voidLabel(trackingNumber, 'void-key-1')).toMatchObject({ ok: true })
  expect(await labels(url)).toMatchObject([{ state: 'voided' }])
  expect(await freight(url).voidLabel('nobody', 'void-key-2')).toMatchObject({
    kind: 'refused',
    sentence: 'There is no such label.',
  })
})

test('money is paid in once for each message; parcels are reported page by page', async () => {
  const url = await begin()
  for (const key of ['pay-key-1', 'pay-key-1', 'pay-key-2'])
    expect(await freight(url).topUp(money(5000, 'EUR'), key)).toMatchObject({ ok: true })
  expect(await (await fetch(`${url}/admin/balance`)).json()).toHaveLength(2)
  expect(await freight(url).events('')).toEqual({ ok: true, body: { events: [], cursor: '0', more: false } })
  await freight(url).buy(request(), 'key-number-1')
  await tell(`${url}/admin/clock`, { days: 2 })
  const events = await freight(url).events('')
  expect(events).toEqual(await carrierClient(url, 't', here(), null).events(''))
  expect(events.ok && events.body.events.map(({ status }) => status)).toContain('collected')
})

test.each([
  [{ tooManyCalls: 1 }, { kind: 'rate-limited', retryAfter: 1 }],
  [{ serverError: 1 }, { kind: 'server error' }],
  [{ malformedBody: 1 }, { kind: 'garbled answer' }],
  [{ timeOutAfterWork: 1 }, { kind: 'unreachable' }],
  [{ latencyMs: 900 }, { kind: 'time-out' }],
])('on a bad day (%j) the call says which kind of failure it was', async (faults, wanted) => {
  const url = await begin()
  await tell(`${url}/admin/faults`, faults)
  const got = await freight(url, 't', 400).buy(request(), 'key-number-1')
  expect(got).toMatchObject({ ok: false, ...wanted })
})

test('a wrong password, a booking that makes no sense, an answer that is none', async () => {
  const url = await begin()
  expect(await freight(url, 'wrong').buy(request(), 'key-number-1')).toMatchObject({
    kind: 'not allowed',
    sentence: 'It refuses the credentials: Account or password is wrong. Enter them again.',
  })
  expect(await freight(url).buy(request({ parcels: [{ weight: 0, size: [1, 1, 1] }] }), 'key-number-2')).toMatchObject({
    kind: 'refused',
    sentence: expect.stringMatching(/^parcels\.0\./) as string,
  })
  expect(await freight(`${url}/admin`).buy(request(), 'key-number-3')).toMatchObject({ ok: false, kind: 'refused' })
})

test('what was bought since a moment is listed with its keys, the same in both interfaces', async () => {
  const url = await begin()
  const began = new Date().toISOString()
  expect(await freight(url).labelsSince!(began, '')).toMatchObject({ ok: true, body: { labels: [], more: false } })
  const first = await freight(url).buy(request(), 'key-number-1')
  await carrierClient(url, 't', here(), null).buy(request({ reference: 'MG-2' }), 'key-number-2')
  if (!first.ok) throw new Error(first.sentence)
  await freight(url).voidLabel(first.body.parcels[0]!.trackingNumber, 'void-key-1')
  const listed = await freight(url).labelsSince!(began, '')
  expect(listed).toEqual(await carrierClient(url, 't', here(), null).labelsSince!(began, ''))
  expect(listed).toMatchObject({
    body: {
      labels: [
        { key: 'key-number-1', reference: 'MG-1 "urgent"', state: 'voided', charged: first.body.charged },
        { key: 'key-number-2', reference: 'MG-2', service: 'bramble-freight', state: 'bought' },
      ],
    },
  })
  await freight(url).topUp(money(2500, 'EUR'), 'top-up-key-1')
  const paid = await freight(url).paymentsSince!(began)
  expect(paid).toMatchObject({ body: { payments: [{ key: 'top-up-key-1', amount: { minor: 2500 } }] } })
  expect(paid).toEqual(await carrierClient(url, 't', here(), null).paymentsSince!(began))
  const later = new Date(Date.now() + 60_000).toISOString()
  expect(await freight(url).labelsSince!(later, '')).toMatchObject({ body: { labels: [] } })
})
