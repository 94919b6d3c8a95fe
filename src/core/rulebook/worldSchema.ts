import { z } from 'zod'
import { speeds } from './catalogue'
import { pickSchema } from './schema'
import type { World } from './world'

const id = z.string().min(1).max(64)
const name = z.string().min(1).max(120)
const country = z.string().regex(/^[A-Z]{2}$/, 'is no country code')
const whole = z.int().nonnegative()
const size = z.tuple([z.int().positive(), z.int().positive(), z.int().positive()])
const clock = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'is no time such as 16:30')
const weekdays = z.array(z.int().min(1).max(7))

const service = z.strictObject({
  id, carrier: id, name, locations: z.array(id), zones: z.array(z.strictObject({ zone: id, from: country, to: country, prefixes: z.array(z.string().min(1)).optional(), transitDays: whole.max(60) })),
  bands: z.record(z.string(), z.array(z.strictObject({ upTo: z.int().positive(), price: whole }))), dimensionalDivisor: z.number().positive().nullable(), fuelPermille: whole.max(2000),
  limits: z.strictObject({ weight: whole, longestSide: whole, girth: whole, postOfficeBox: z.boolean(), dangerousGoods: z.array(z.string()) }), cutOff: clock, collects: weekdays, delivers: weekdays, tracked: z.boolean(), offers: z.array(z.string()).optional(), signatureFee: whole.nullable(),
  cover: z.strictObject({ included: whole, upTo: whole, perHundred: whole }),
})

const band = z.tuple([whole, whole]).refine(([low, high]) => low <= high, 'begins above its end')

/** The wording tables of all channels. */
export const wordingTables = z.array(z.strictObject({
  channel: id,
  rows: z.array(z.strictObject({
    wording: z.string().trim().min(1, 'is empty').max(200), countries: z.array(country).min(1).optional(), weight: band.optional(), value: band.optional(),
    gives: z.strictObject({ speed: z.enum(speeds).optional(), preset: id.optional(), pick: pickSchema.optional() }).refine((gives) => Object.keys(gives).length > 0, 'gives nothing: say a speed, a service or a package'),
  })).max(2000),
}))

/** Everything a decision may look at besides order and rulebook, as the command line reads it. */
export const worldSchema = z.strictObject({
  rates: z.strictObject({ home: z.string().regex(/^[A-Z]{3}$/), micro: z.record(z.string(), z.int().positive()) }),
  locations: z.array(z.strictObject({ id, name, country, timeZone: z.string().min(1), stock: z.record(z.string(), whole).optional(), address: z.strictObject({ company: z.string(), lines: z.array(z.string()), postcode: z.string(), city: z.string(), phone: z.string() }) })),
  presets: z.array(z.strictObject({ id, name, inner: size, outer: size, tare: whole, limit: whole })),
  carriers: z.array(z.strictObject({ id, name })), services: z.array(service), slips: z.array(z.strictObject({ id, name, heading: z.string().max(2000), closing: z.string().max(5000) })),
  items: z.array(z.strictObject({ sku: z.string().min(1), title: z.string(), weight: whole, size, tags: z.array(z.string()), dangerousGoods: z.string(), hsCode: z.string(), origin: z.string() })), customsUnion: z.array(country), wordings: wordingTables.optional(), remoteAreas: z.array(z.strictObject({ country, prefixes: z.array(z.string().min(1)) })).optional(),
}) as unknown as z.ZodType<World>
