import { z } from 'zod'

/* What goes in and out of the open interface; its description is made of these. */

export const moneyShape = z
  .object({ minor: z.int().describe('Minor units of the currency'), currency: z.string().describe('ISO 4217') })
  .meta({ id: 'Money' })

export const addressShape = z
  .object({
    name: z.string().max(200).default(''),
    company: z.string().max(200).default(''),
    lines: z.array(z.string().max(200)).max(6).describe('Street and number, at least'),
    city: z.string().max(200),
    postcode: z.string().max(20).default(''),
    region: z.string().max(200).default(''),
    country: z.string().max(60).describe('ISO 3166-1, two letters, or a name'),
  })
  .meta({ id: 'Address' })

export const orderShort = z
  .object({
    id: z.int(),
    number: z.string(),
    channel: z.string(),
    state: z.string(),
    placedAt: z.string(),
    country: z.string(),
    location: z.string().nullable(),
    service: z.string().nullable(),
    cost: z.int().nullable().describe('Minor units of the home currency'),
    arrivesOn: z.string().nullable(),
    problem: z.string().nullable().describe('Why it needs a person'),
    hold: z.string().nullable(),
  })
  .meta({ id: 'OrderSummary' })

export const orderFull = orderShort
  .extend({
    promisedBy: z.string().nullable(),
    value: moneyShape,
    shipTo: addressShape,
    buyer: z.object({ name: z.string(), email: z.string(), phone: z.string() }),
    items: z.array(
      z.object({
        sku: z.string(),
        title: z.string(),
        quantity: z.int(),
        unitWeight: z.int().nullable().describe('Grams'),
      }),
    ),
  })
  .meta({ id: 'Order' })

export const newOrder = z
  .object({
    number: z.string().trim().max(40).default('').describe('Empty: the next one'),
    shipTo: addressShape,
    email: z.string().trim().max(254).default(''),
    phone: z.string().trim().max(40).default(''),
    items: z
      .array(
        z.object({
          what: z.string().max(200).describe('A SKU of the item list, or what it is'),
          quantity: z.int().min(1).max(9999),
          weight: z.int().positive().nullable().default(null).describe('Grams of one; null: as the item list has it'),
          size: z.tuple([z.int(), z.int(), z.int()]).nullable().default(null).describe('Millimetres of one'),
        }),
      )
      .min(1)
      .max(100),
    value: z.int().min(0).max(1_000_000_000).default(0).describe('Minor units of the home currency'),
    wording: z.string().max(200).default('').describe('What the checkout called the shipping method'),
    promisedBy: z.union([z.literal(''), z.iso.date()]).default(''),
  })
  .meta({ id: 'NewOrder' })

export const decisionShape = z
  .object({
    edition: z.int(),
    decidedAt: z.string(),
    problems: z.array(z.object({ code: z.string(), sentence: z.string() })),
    decisions: z.array(
      z.object({
        decision: z.string(),
        value: z.string().describe('In words'),
        by: z.string().describe('The rule, the hand or the wording that decided'),
        why: z.string(),
        pinned: z.boolean(),
        others: z.array(z.object({ rule: z.string(), value: z.string(), why: z.string() })),
      }),
    ),
    quotes: z.array(z.object({ service: z.string(), carrier: z.string(), cost: z.int(), arrivesOn: z.string() })),
    refusals: z.array(z.object({ service: z.string(), sentence: z.string() })),
  })
  .meta({ id: 'Decision' })

export const labelShape = z
  .object({
    id: z.int(),
    state: z.string(),
    carrier: z.string(),
    service: z.string(),
    charged: z.int().nullable(),
    boughtAt: z.string().nullable(),
    arrivesOn: z.string().nullable(),
    deliveredAt: z.string().nullable(),
    parcels: z.array(z.object({ number: z.string(), status: z.string(), returnNumber: z.string() })),
  })
  .meta({ id: 'Label' })

export const parcelShape = z
  .object({
    trackingNumber: z.string(),
    order: z.object({ id: z.int(), number: z.string() }),
    carrier: z.string(),
    service: z.string(),
    status: z.string(),
    statusAt: z.string(),
    due: z.string().nullable(),
  })
  .meta({ id: 'Parcel' })

export const eventShape = z.object({ at: z.string(), status: z.string(), place: z.string(), text: z.string() })

export const problemShape = z
  .object({
    type: z.string(),
    title: z.string(),
    status: z.int(),
    detail: z.string(),
    code: z.string(),
    fields: z.record(z.string(), z.string()).optional(),
  })
  .meta({ id: 'Problem', description: 'RFC 9457' })
