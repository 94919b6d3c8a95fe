import { weightText, lengthText } from '../../kit/format'
import { z } from 'zod'
import { offers, type Service } from '@/core/rating'
import { amountField, countField, lengthField, orEmpty, timeField, weightField } from '../../kit/typedFields'

/** A service as it is typed, read into its values. */
export const serviceForm = z.object({
  name: z.string().trim().min(1, 'The service needs a name.').max(60, 'At most 60 characters.'),
  locations: z.array(z.string()),
  cutOff: timeField,
  collects: z.array(z.number()),
  delivers: z.array(z.number()),
  weight: weightField('31.5 kg', 'kg'),
  longestSide: lengthField('175 cm'),
  girth: lengthField('300 cm'),
  parcels: orEmpty(countField('parcels'), undefined),
  dangerousGoods: z.string().transform((text) =>
    text
      .split(/[;,]/)
      .map((un) => un.trim())
      .filter(Boolean),
  ),
  postOfficeBox: z.boolean(),
  domesticOnly: z.boolean(),
  cash: orEmpty(amountField(), undefined),
  offers: z.array(z.enum(offers)),
  included: orEmpty(amountField(), 0),
  upTo: orEmpty(amountField(), 0),
  claimsBorneBy: z.array(z.string()),
})
export type ServiceForm = z.input<typeof serviceForm>
export type ServiceValues = z.output<typeof serviceForm>

const amountText = (minor: number | undefined): string => (minor === undefined ? '' : (minor / 100).toFixed(2))

export const formOf = (service: Service): ServiceForm => ({
  name: service.name,
  locations: [...service.locations],
  cutOff: service.cutOff,
  collects: [...service.collects],
  delivers: [...service.delivers],
  weight: weightText(service.limits.weight),
  longestSide: lengthText(service.limits.longestSide),
  girth: lengthText(service.limits.girth),
  parcels: service.limits.parcels === undefined ? '' : String(service.limits.parcels),
  dangerousGoods: service.limits.dangerousGoods.join('; '),
  postOfficeBox: service.limits.postOfficeBox,
  domesticOnly: service.limits.domesticOnly ?? false,
  cash: amountText(service.limits.cashOnDelivery),
  offers: [...service.offers],
  included: amountText(service.cover.included),
  upTo: amountText(service.cover.upTo),
  claimsBorneBy: [...(service.claimsBorneBy ?? [])],
})

/** The service with what was typed. */
export function withValues(service: Service, values: ServiceValues): Service {
  const { name, locations, cutOff, claimsBorneBy, cash, parcels, domesticOnly, included, upTo } = values
  const { weight, longestSide, girth, postOfficeBox, dangerousGoods } = values
  const { cashOnDelivery: _cash, parcels: _parcels, domesticOnly: _domestic, ...limits } = service.limits
  return {
    ...service,
    ...{ name, locations, cutOff, claimsBorneBy, offers: values.offers },
    collects: [...values.collects].sort(),
    delivers: [...values.delivers].sort(),
    cover: { included, upTo },
    limits: {
      ...limits,
      ...{ weight, longestSide, girth, postOfficeBox, dangerousGoods },
      ...(domesticOnly ? { domesticOnly: true } : {}),
      ...(cash === undefined ? {} : { cashOnDelivery: cash }),
      ...(parcels === undefined ? {} : { parcels }),
    },
  }
}

/** Where a service goes, by zone: `R2, 2 days: BE to DE FR LU NL`. */
const transitPhrase = (days: number): string => ['the same day', '1 day'][days] ?? `${days} days`

export function coverage({ zones }: Service): string[] {
  const groups = new Map<string, Map<string, string[]>>()
  for (const { zone, from, to, prefixes, transitDays } of zones) {
    const key = `${zone}, ${transitPhrase(transitDays)}`
    const origins = groups.get(key) ?? new Map<string, string[]>()
    groups.set(key, origins)
    origins.set(from, [...(origins.get(from) ?? []), prefixes ? `${to} ${prefixes.join('/')}` : to])
  }
  return [...groups].map(
    ([key, origins]) =>
      `${key}: ${[...origins].map(([from, ends]) => `${from} to ${[...new Set(ends)].sort().join(' ')}`).join('; ')}`,
  )
}
