import { z } from 'zod'
import { writeRulebook } from '@/core/rulebook/language'
import { offers } from '@/core/rating'
import { labelById, labelsByAnyNumber, openOrders, orderRow, openParcels, type OrderRow } from '@/data'
import { pinDecision, releasePin } from '../desk/pinDecision'
import { showOrder } from '../desk/showOrder'
import { typeOrder } from '../desk/typeOrder'
import { papersOf } from '../dispatch/printBatch'
import { exploreRates } from '../ledger/exploreRates'
import { showTrialRun, startTrial } from '../rules/runTrial'
import { refuse } from '../shared/application'
import { orderInFull } from '../shared/oldOrders'
import { rulebookInForce } from '../shared/rulebookInForce'
import { fileOperation, numberIn, operation, type Operation, pageQuery } from './operation'
import { decisionShape, eventShape, labelShape, newOrder, orderFull, orderShort, parcelShape } from './shapes'

const done = z.object({ done: z.literal(true) })
const isDone = { done: true } as const

const shortOf = (row: OrderRow): z.input<typeof orderShort> => ({
  ...{ id: row.id, number: row.number, channel: row.channelId, state: row.state, placedAt: row.placedAt },
  ...{ country: row.country, location: row.location, service: row.service, cost: row.cost },
  ...{ arrivesOn: row.arrivesOn, problem: row.flag ?? row.problem, hold: row.hold },
})

const orders: readonly Operation[] = [
  operation({
    method: 'GET',
    path: '/orders',
    scope: 'orders:read',
    summary: 'Orders, the oldest first',
    query: z.object({
      ...pageQuery,
      state: z.string().max(40).optional(),
      channel: z.string().max(64).optional(),
      number: z.string().max(60).optional(),
    }),
    answer: z.object({ orders: z.array(orderShort), next: z.string().nullable() }),
    example: { query: 'state=ready&limit=2' },
    work: async ({ db }, { query: { cursor, limit, ...filter } }) => {
      const rows = await openOrders(db, filter, numberIn(cursor), limit + 1)
      const page = rows.slice(0, limit)
      return { orders: page.map(shortOf), next: rows.length > limit ? String(page.at(-1)!.id) : null }
    },
  }),
  operation({
    method: 'GET',
    path: '/orders/{id}',
    scope: 'orders:read',
    summary: 'One order with its items and address',
    answer: orderFull,
    example: { params: { id: '1' } },
    work: async (gharry, { params }) => {
      const id = numberIn(params.id)
      const [row, stored] = [await orderRow(gharry.db, id), await orderInFull(gharry, id)]
      if (!row || !stored) return null
      const { order } = stored
      return {
        ...shortOf(row),
        promisedBy: row.promisedBy,
        value: order.value,
        shipTo: { ...order.shipTo, lines: [...order.shipTo.lines] },
        buyer: { name: order.buyer.name, email: order.buyer.email, phone: order.buyer.phone },
        items: order.items.map(({ sku, title, quantity, unitWeight }) => ({
          ...{ sku, title, quantity, unitWeight: unitWeight ?? null },
        })),
      }
    },
  }),
  operation({
    method: 'POST',
    path: '/orders',
    scope: 'orders:write',
    summary: 'Create an order; it is decided at once',
    body: newOrder,
    status: 201,
    answer: z.object({ id: z.int(), number: z.string(), state: z.string() }),
    example: {
      body: {
        shipTo: { name: 'Noor Van Acker', lines: ['Coupure Links 88'], postcode: '9000', city: 'Gent', country: 'BE' },
        email: 'noor@vanacker.example',
        items: [{ what: 'A book', quantity: 1, weight: 850, size: [300, 230, 50] }],
        value: 2450,
      },
    },
    work: async (gharry, { body, key }) => {
      const made = await typeOrder(gharry, { ...body, key: `api-${key}`.slice(0, 60) })
      return made.ok ? { id: made.order, number: made.number, state: made.state } : made
    },
  }),
  operation({
    method: 'GET',
    path: '/orders/{id}/decision',
    scope: 'orders:read',
    summary: 'How the order goes and why: each decision with the rule that made it, quotes and refusals',
    answer: decisionShape,
    example: { params: { id: '1' } },
    work: async (gharry, { params }) => {
      const view = await showOrder(gharry, numberIn(params.id))
      if (!view) return null
      return {
        edition: view.edition,
        decidedAt: view.decidedAt,
        problems: view.problems.map(({ code, sentence }) => ({ code, sentence })),
        decisions: view.trail.map(({ decision, value, by, why, pinned, others }) => ({
          ...{ decision, value, by, why, pinned },
          others: others.map((other) => ({ rule: other.rule, value: other.value, why: other.why })),
        })),
        quotes: view.quotes.map(({ service, carrier, cost, arrivesOn }) => ({ service, carrier, cost, arrivesOn })),
        refusals: view.refusals.map(({ service, sentence }) => ({ service, sentence })),
      }
    },
  }),
  operation({
    method: 'PUT',
    path: '/orders/{id}/hold',
    scope: 'orders:write',
    summary: 'Hold the order, so that nothing is bought for it',
    body: z.object({
      reason: z.string().trim().min(1).max(200),
      until: z.iso.date().optional().describe('The day on which it goes on by itself'),
    }),
    answer: done,
    example: { params: { id: '1' }, body: { reason: 'Waits for the second delivery' } },
    work: async (gharry, { params, body: { reason, until } }) => {
      const value = until ? { reason, until: { day: until } } : reason
      const pinned = await pinDecision(gharry, numberIn(params.id), 'hold', value)
      return pinned.ok ? isDone : pinned
    },
  }),
  operation({
    method: 'DELETE',
    path: '/orders/{id}/hold',
    scope: 'orders:write',
    summary: 'Release an order that was held by hand',
    answer: done,
    example: { params: { id: '1' } },
    work: async (gharry, { params }) => {
      const released = await releasePin(gharry, numberIn(params.id), 'hold')
      return released.ok ? isDone : released
    },
  }),
  operation({
    method: 'PUT',
    path: '/orders/{id}/pins/{decision}',
    scope: 'orders:write',
    summary: 'Decide by hand; it goes before every rule until it is released',
    body: z.object({ value: z.unknown().describe('As a rule would say it; the catalogue of decisions has the forms') }),
    answer: done,
    example: { params: { id: '1', decision: 'priority' }, body: { value: 'urgent' } },
    work: async (gharry, { params, body }) => {
      const pinned = await pinDecision(gharry, numberIn(params.id), params.decision ?? '', body.value)
      return pinned.ok ? isDone : pinned
    },
  }),
  operation({
    method: 'DELETE',
    path: '/orders/{id}/pins/{decision}',
    scope: 'orders:write',
    summary: 'Let the rules decide again',
    answer: done,
    example: { params: { id: '1', decision: 'priority' } },
    work: async (gharry, { params }) => {
      const released = await releasePin(gharry, numberIn(params.id), params.decision ?? '')
      return released.ok ? isDone : released
    },
  }),
]

const parcels: readonly Operation[] = [
  operation({
    method: 'GET',
    path: '/orders/{id}/labels',
    scope: 'parcels:read',
    summary: 'The labels of an order with their parcels',
    answer: z.object({ labels: z.array(labelShape) }),
    example: { params: { id: '1' } },
    work: async (gharry, { params }) => {
      const view = await showOrder(gharry, numberIn(params.id))
      if (!view) return null
      return {
        labels: view.labels.map((label) => ({
          ...{ id: label.id, state: label.state, carrier: label.carrier, service: label.service },
          ...{ charged: label.charged, boughtAt: label.boughtAt, arrivesOn: label.arrivesOn },
          deliveredAt: label.deliveredAt,
          parcels: label.parcels.map((parcel) => ({ ...parcel })),
        })),
      }
    },
  }),
  fileOperation({
    method: 'GET',
    path: '/labels/{id}/papers',
    scope: 'papers:read',
    summary:
      'Slip, label and customs papers of a label as PDF, or as ZPL where its carrier drew it so; nothing is marked as printed',
    fileType: 'application/pdf',
    example: { params: { id: '1' } },
    work: async (gharry, { params }) => {
      const label = await labelById(gharry.db, numberIn(params.id))
      if (!label) return null
      if (label.state !== 'bought' || label.own || label.request === '{}')
        return refuse('not-bought', 'There are no papers: the label is not bought, or its papers are not kept.')
      const { content, type } = await papersOf(gharry, label, 'pdf')
      return { file: content, type }
    },
  }),
  operation({
    method: 'GET',
    path: '/parcels',
    scope: 'parcels:read',
    summary: 'Parcels on their way, by when their labels were bought',
    query: z.object({
      ...pageQuery,
      status: z.string().max(40).optional(),
      carrier: z.string().max(64).optional(),
    }),
    answer: z.object({ parcels: z.array(parcelShape), next: z.string().nullable() }),
    example: { query: 'limit=2' },
    work: async ({ db }, { query: { cursor, limit, ...filter } }) => {
      const rows = await openParcels(db, filter, cursor ?? '', limit + 1)
      const page = rows.slice(0, limit)
      const last = page.at(-1)
      return {
        parcels: page.map(({ orderId, number, trackingNumber, carrier, service, status, statusAt, due }) => ({
          ...{ trackingNumber, order: { id: orderId, number }, carrier, service, status, statusAt, due },
        })),
        next: rows.length > limit && last ? `${last.labelId}.${last.position}` : null,
      }
    },
  }),
  operation({
    method: 'GET',
    path: '/parcels/{number}',
    scope: 'parcels:read',
    summary: 'A parcel by its tracking number, with everything its carrier said',
    answer: z.object({
      order: z.object({ id: z.int() }),
      carrier: z.string(),
      state: z.string(),
      status: z.string(),
      arrivesOn: z.string().nullable(),
      deliveredAt: z.string().nullable(),
      events: z.array(eventShape),
    }),
    example: { params: { number: '00354900010000000011' } },
    work: async (gharry, { params }) => {
      const label = await labelsByAnyNumber(gharry.db, params.number ?? '')
      if (!label) return null
      const news = (await orderInFull(gharry, label.orderId))?.eventsOf(label.id)
      return {
        order: { id: label.orderId },
        ...{ carrier: label.carrier, state: label.state, status: label.status ?? 'announced' },
        ...{ arrivesOn: label.arrivesOn, deliveredAt: label.deliveredAt },
        events: ((await news) ?? []).map(({ at, status, place, text }) => ({ at, status, place, text })),
      }
    },
  }),
]

const side = z.int().min(1).max(20_000)
const rules: readonly Operation[] = [
  operation({
    method: 'POST',
    path: '/quotes',
    scope: 'quotes:read',
    summary: 'What each service would take for parcels, and why others do not go',
    body: z.object({
      location: z.string().max(64).describe('Where it leaves from'),
      country: z.string().max(60),
      postcode: z.string().max(20).default(''),
      parcels: z.int().min(1).max(99).default(1),
      weight: z.int().min(1).max(5_000_000).describe('Grams of one parcel'),
      size: z.tuple([side, side, side]).describe('Millimetres of one parcel'),
      residential: z.boolean().default(true),
      postOfficeBox: z.boolean().default(false),
      signature: z.boolean().default(false),
      insured: z.int().min(0).max(100_000_000).default(0).describe('Minor units of the home currency'),
      needs: z.array(z.enum(offers)).default([]),
      dangerousGoods: z.array(z.string().max(20)).default([]),
      day: z
        .union([z.literal(''), z.iso.date()])
        .default('')
        .describe('Empty: now'),
      time: z.string().max(5).default(''),
    }),
    answer: z.object({
      quotes: z.array(
        z.object({
          ...{ service: z.string(), carrier: z.string(), zone: z.string(), cost: z.int(), arrivesOn: z.string() },
          lines: z.array(z.object({ what: z.string(), amount: z.int() })),
        }),
      ),
      refusals: z.array(z.object({ service: z.string(), sentence: z.string() })),
    }),
    example: { body: { location: 'ghent', country: 'DE', postcode: '50667', weight: 1200, size: [300, 200, 100] } },
    work: async (gharry, { body }) => {
      const explored = await exploreRates(gharry, body)
      if (!explored.ok) return explored
      return {
        quotes: explored.quotes.map(({ service, carrier, zone, cost, arrivesOn, lines }) => ({
          ...{ service, carrier, zone, cost, arrivesOn },
          lines: lines.map(({ what, minor }) => ({ what, amount: minor })),
        })),
        refusals: explored.refusals.map(({ service, sentence }) => ({ service, sentence })),
      }
    },
  }),
  fileOperation({
    method: 'GET',
    path: '/rulebook',
    scope: 'rules:read',
    summary: 'The rulebook in force, in its text form',
    fileType: 'text/yaml',
    work: async (gharry) => {
      const inForce = await rulebookInForce(gharry)
      return inForce ? { file: writeRulebook(inForce.program.rulebook), type: 'text/yaml; charset=utf-8' } : null
    },
  }),
  operation({
    method: 'POST',
    path: '/trials',
    scope: 'trials:run',
    summary: 'Run the draft over the orders of some days, beside the edition in force',
    body: z.object({ from: z.iso.date(), until: z.iso.date(), channels: z.array(z.string().max(64)).optional() }),
    status: 201,
    answer: z.object({ id: z.int() }),
    example: { body: { from: '2026-11-01', until: '2026-11-30' } },
    work: async (gharry, { body }) => {
      const started = await startTrial(gharry, { ...body, channels: body.channels ?? [], everyNth: 1, asOf: '' })
      return started.ok ? { id: started.id } : started
    },
  }),
  operation({
    method: 'GET',
    path: '/trials/{id}',
    scope: 'trials:run',
    summary: 'How far a trial is, and what it found',
    answer: z.object({
      state: z.string(),
      done: z.int(),
      total: z.int(),
      result: z.unknown().describe('What changes, and what it costs; null until it is done'),
    }),
    example: { params: { id: '1' } },
    work: async (gharry, { params }) => {
      const run = await showTrialRun(gharry, numberIn(params.id))
      return run ? { state: run.state, done: run.done, total: run.total, result: run.result ?? null } : null
    },
  }),
]

/** The whole open interface. */
export const operations: readonly Operation[] = [...orders, ...parcels, ...rules]
