import { z } from 'zod'
import { handlings, type Order } from './order'

const text = z.string().max(2000)
const amount = z.strictObject({ minor: z.int(), currency: z.string().regex(/^[A-Z]{3}$/, 'is no currency code') })
const side = z.int().positive()

/** An order as the command line reads and writes it, one a line. */
export const orderSchema = z.strictObject({
  channel: text,
  remoteId: text,
  number: text.min(1, 'is empty'),
  status: z.enum(['open', 'cancelled', 'fulfilled']),
  placedAt: z.iso.datetime(),
  paidAt: z.iso.datetime().optional(),
  changedAt: z.iso.datetime(),
  promisedBy: z.union([z.literal(''), z.iso.date()]),
  paymentMethod: z.enum(['prepaid', 'cash on delivery']),
  wording: text,
  shippingPaid: amount,
  value: amount,
  discount: amount,
  buyer: z.strictObject({ name: text, email: text, phone: text, returning: z.boolean() }),
  shipTo: z.strictObject({
    name: text,
    company: text,
    lines: z.array(text).max(20),
    city: text,
    postcode: text,
    region: text,
    country: z.union([z.literal(''), z.string().regex(/^[A-Z]{2}$/, 'is no country code')]),
  }),
  items: z
    .array(
      z.strictObject({
        line: text,
        sku: text,
        title: text,
        quantity: z.int().positive(),
        unitWeight: z.int().nonnegative().nullable(),
        unitPrice: amount,
        size: z.tuple([side, side, side]).nullable(),
        tags: z.array(text),
        dangerousGoods: text,
        hsCode: text,
        origin: text,
        handling: z.array(z.enum(handlings)).optional(),
      }),
    )
    .max(10_000),
  problems: z.array(z.strictObject({ code: text, sentence: text })),
}) as unknown as z.ZodType<Order>
