import { z } from 'zod'
import { numberChecks } from '@/core/tracking'
import { handlings, isGtin } from '@/core/order'
import { blockKinds } from '@/core/papers'
import { labelFormats, offers, pickSchema, speeds, surchargeKinds } from '@/core/rating'
import { outageKinds } from './outages'
import { papers } from './seller'
import { type Grams, type Millimetres, type MinorUnits, schemaOf, unitSystems } from '@/core/units'
import type { World } from './world'

const id = z.string().min(1).max(64)
const name = z.string().min(1).max(120)
const country = z.string().regex(/^[A-Z]{2}$/, 'is no country code')
const whole = z.int().nonnegative()
const weight = schemaOf<Grams>(whole)
const length = schemaOf<Millimetres>(whole)
const amount = schemaOf<MinorUnits>(whole)
const someWeight = schemaOf<Grams>(z.int().positive())
const side = schemaOf<Millimetres>(z.int().positive())
const size = z.tuple([side, side, side])
const clock = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'is no time such as 16:30')
const weekdays = z.array(z.int().min(1).max(7))

const day = z.iso.date()
const area = z.strictObject({ country, prefixes: z.array(z.string().min(1)) })
const permille = z.int().min(-1000).max(5000)

/** One service; its tariffs stand apart. */
export const serviceSchema = z.strictObject({
  id,
  carrier: id,
  name,
  locations: z.array(id),
  zones: z.array(
    z.strictObject({
      zone: id,
      from: country,
      to: country,
      prefixes: z.array(z.string().min(1)).optional(),
      transitDays: whole.max(60),
    }),
  ),
  limits: z.strictObject({
    weight,
    longestSide: length,
    girth: length,
    volume: whole.optional(),
    postOfficeBox: z.boolean(),
    dangerousGoods: z.array(z.string()),
    cashOnDelivery: amount.optional(),
    domesticOnly: z.boolean().optional(),
    parcels: z.int().positive().optional(),
  }),
  cutOff: clock,
  collects: weekdays,
  collections: z.array(z.strictObject({ location: id, cutOff: clock, collects: weekdays })).optional(),
  delivers: weekdays,
  offers: z.array(z.enum(offers)),
  cover: z.strictObject({ included: amount, upTo: amount }),
  claimsBorneBy: z.array(id).optional(),
  claims: z
    .strictObject({
      late: z.strictObject({ permille: z.int().min(1).max(2000), within: whole.max(366) }).optional(),
      lost: z.strictObject({ after: z.int().min(1).max(366), within: whole.max(366) }).optional(),
      damaged: z.strictObject({ within: whole.max(366) }).optional(),
    })
    .optional(),
  formats: z.array(z.enum(labelFormats)).optional(),
  fetched: z.boolean().optional(),
  retired: z.boolean().optional(),
})

const surcharge = z.strictObject({
  on: z.enum(surchargeKinds),
  each: z.enum(['parcel', 'shipment']),
  amount: schemaOf<MinorUnits>(z.int()).optional(),
  permille: permille.optional(),
  months: z.record(z.string().regex(/^\d{4}-(0[1-9]|1[0-2])$/, 'is no month such as 2026-11'), permille).optional(),
  perHundred: amount.optional(),
  over: schemaOf<Grams | Millimetres>(whole).optional(),
  zones: z.array(id).optional(),
  areas: z.array(area).optional(),
  classes: z.array(z.string().min(1)).optional(),
  from: day.optional(),
  until: day.optional(),
})

/** One tariff; whether its bands make sense is asked of `checkTariffs`. */
export const tariffSchema = z.strictObject({
  service: id,
  from: day,
  until: day.nullable(),
  currency: z.string().regex(/^[A-Z]{3}$/, 'is no currency code'),
  basis: z.enum(['parcel', 'shipment']),
  dimensionalDivisor: z.number().positive().nullable(),
  roundUpTo: someWeight,
  discountPermille: z.int().min(0).max(1000),
  zones: z.record(
    z.string(),
    z.strictObject({
      bands: z.array(z.strictObject({ upTo: someWeight, price: amount })),
      step: z.strictObject({ every: someWeight, price: amount }).optional(),
      perShipment: amount.optional(),
      minimum: amount.optional(),
    }),
  ),
  surcharges: z.array(surcharge),
})

/** A slip template. */
export const slipSchema = z.strictObject({
  id,
  name,
  heading: z.string().max(2000),
  closing: z.string().max(5000),
  blocks: z
    .array(
      z.strictObject({
        kind: z.enum(blockKinds),
        text: z.string().max(20_000, 'is longer than 20,000 characters').optional(),
        when: z.string().max(300).optional(),
        texts: z.record(country, z.string().max(20_000)).optional(),
        size: z.enum(['small', 'usual', 'large']).optional(),
        bars: z.boolean().optional(),
      }),
    )
    .max(60)
    .optional(),
})

const band = <N extends number>(of: z.ZodType<N>) =>
  z.tuple([of, of]).refine(([low, high]) => low <= high, 'begins above its end')

/** The wording tables of all channels. */
export const wordingTables = z.array(
  z.strictObject({
    channel: id,
    rows: z
      .array(
        z.strictObject({
          wording: z.string().trim().min(1, 'is empty').max(200),
          countries: z.array(country).min(1).optional(),
          weight: band(weight).optional(),
          value: band(amount).optional(),
          gives: z
            .strictObject({ speed: z.enum(speeds).optional(), preset: id.optional(), pick: pickSchema.optional() })
            .refine((gives) => Object.keys(gives).length > 0, 'gives nothing: say a speed, a service or a package'),
        }),
      )
      .max(2000),
  }),
)

/** A place that parcels are sent from. */
export const locationSchema = z.strictObject({
  id,
  name,
  country,
  timeZone: z.string().min(1),
  stock: z.record(z.string(), whole).optional(),
  address: z.strictObject({
    company: z.string().max(200),
    lines: z.array(z.string().max(200)).max(6),
    postcode: z.string().max(20),
    city: z.string().max(100),
    phone: z.string().max(40),
  }),
  openDays: weekdays.optional(),
  closedOn: z.array(day).max(400).optional(),
  partner: id.optional(),
  checked: z.boolean().optional(),
  weighed: z.boolean().optional(),
  retired: z.boolean().optional(),
})

/** A box, mailer or tube. */
export const presetSchema = z.strictObject({
  id,
  name,
  inner: size,
  outer: size,
  tare: weight,
  limit: weight,
  cost: amount.optional(),
  stock: whole.optional(),
  retired: z.boolean().optional(),
})

export const carrierSchema = z.strictObject({
  id,
  name,
  numbers: z
    .array(
      z.strictObject({
        form: z.string().regex(/^[A-Z0-9#@]{6,40}$/, 'is no form: capitals, digits, # for a digit and @ for a letter'),
        check: z.enum(numberChecks),
      }),
    )
    .max(20)
    .optional(),
  refundDays: z.int().min(0, 'is no number of days').max(366, 'is more than a year').optional(),
  retired: z.boolean().optional(),
})

/** A service, carrier or location that is switched off for a while. */
export const outageSchema = z
  .strictObject({
    id,
    what: z.enum(outageKinds),
    of: id,
    from: z.iso.datetime(),
    until: z.iso.datetime(),
    note: z.string().max(200),
  })
  .refine(({ from, until }) => from < until, 'The outage ends before it begins.')

export const sellerSchema = z.strictObject({
  name: z.string().trim().max(120),
  mail: z.union([z.literal(''), z.email('is no e-mail address').max(200)]),
  units: z.enum(unitSystems),
  paper: z.enum(papers),
  gs1Prefix: z
    .string()
    .regex(/^\d{4,12}$/, 'is no company prefix: 4 to 12 digits')
    .optional(),
})

/** Everything a decision may look at besides order and rulebook, as the command line reads it. */
export const worldSchema = z.strictObject({
  rates: z.strictObject({ home: z.string().regex(/^[A-Z]{3}$/), micro: z.record(z.string(), z.int().positive()) }),
  locations: z.array(locationSchema),
  presets: z.array(presetSchema),
  carriers: z.array(carrierSchema),
  services: z.array(serviceSchema),
  tariffs: z.array(tariffSchema),
  slips: z.array(slipSchema),
  items: z.array(
    z.strictObject({
      sku: z.string().min(1),
      title: z.string(),
      weight,
      size,
      tags: z.array(z.string()),
      dangerousGoods: z.string(),
      hsCode: z.string(),
      origin: z.string(),
      handling: z.array(z.enum(handlings)).optional(),
      gtins: z.array(z.string().refine(isGtin, 'is no GTIN')).max(20).optional(),
      places: z.record(z.string().max(60), z.string().max(40)).optional(),
      measured: z.boolean().optional(),
    }),
  ),
  customsUnion: z.array(country),
  wordings: wordingTables.optional(),
  remoteAreas: z.array(area).optional(),
  holidays: z.array(z.strictObject({ country, days: z.array(day) })).optional(),
  arrivals: z
    .array(
      z.strictObject({
        ...{ service: id, location: id, zone: id, country: z.string().max(2) },
        weekday: z.int().min(1).max(7),
        came: z.array(z.tuple([z.int().min(-60).max(366), z.int().positive()])),
      }),
    )
    .optional(),
  punctuality: z.array(z.strictObject({ service: id, zone: id, shipments: whole, onTime: whole })).optional(),
  demands: z
    .array(
      z.strictObject({
        channel: id,
        offers: z.array(z.enum(offers)).optional(),
        byPromise: z.boolean().optional(),
        protected: z.boolean().optional(),
        carriers: z.array(id).optional(),
      }),
    )
    .optional(),
  dutyRates: z
    .array(
      z.strictObject({
        country,
        hs: z.string().max(14),
        dutyPermille: z.int().min(0).max(5000),
        taxPermille: z.int().min(0).max(1000),
        dutyFreeUpTo: amount.optional(),
        taxFreeUpTo: amount.optional(),
      }),
    )
    .optional(),
  seller: sellerSchema.optional(),
  outages: z.array(outageSchema).optional(),
  partners: z.array(z.strictObject({ id, name })).optional(),
}) as unknown as z.ZodType<World>
