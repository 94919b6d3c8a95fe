import type { Offer, Service } from '@/core/rating'
import { formatLength, formatWeight } from '@/core/units'
import { typedAmount, typedLength, typedWeight } from '../../kit/read'

/** A service as it is typed. */
export interface ServiceForm {
  readonly name: string
  readonly locations: readonly string[]
  readonly cutOff: string
  readonly collects: readonly number[]
  readonly delivers: readonly number[]
  readonly weight: string
  readonly longestSide: string
  readonly girth: string
  readonly parcels: string
  readonly dangerousGoods: string
  readonly postOfficeBox: boolean
  readonly domesticOnly: boolean
  readonly cash: string
  readonly offers: readonly Offer[]
  readonly included: string
  readonly upTo: string
  readonly claimsBorneBy: readonly string[]
}

const amountText = (minor: number | undefined): string => (minor === undefined ? '' : (minor / 100).toFixed(2))

export const formOf = (service: Service): ServiceForm => ({
  name: service.name,
  locations: service.locations,
  cutOff: service.cutOff,
  collects: service.collects,
  delivers: service.delivers,
  weight: formatWeight(service.limits.weight),
  longestSide: formatLength(service.limits.longestSide),
  girth: formatLength(service.limits.girth),
  parcels: service.limits.parcels === undefined ? '' : String(service.limits.parcels),
  dangerousGoods: service.limits.dangerousGoods.join('; '),
  postOfficeBox: service.limits.postOfficeBox,
  domesticOnly: service.limits.domesticOnly ?? false,
  cash: amountText(service.limits.cashOnDelivery),
  offers: service.offers,
  included: amountText(service.cover.included),
  upTo: amountText(service.cover.upTo),
  claimsBorneBy: service.claimsBorneBy ?? [],
})

/** Reads the form into the service; a sentence when something in it makes no sense. */
export function readForm(service: Service, form: ServiceForm): Service | string {
  const weight = typedWeight(form.weight, 'kg')
  const longestSide = typedLength(form.longestSide)
  const girth = typedLength(form.girth)
  const parcels = form.parcels.trim() === '' ? undefined : Number(form.parcels)
  const [cash, included, upTo] = [form.cash, form.included, form.upTo].map((text) =>
    text.trim() === '' ? undefined : typedAmount(text, 'EUR'),
  )
  if (form.name.trim() === '') return 'The service needs a name.'
  if (!/^([01]\d|2[0-3]):[0-5]\d$/.test(form.cutOff)) return `“${form.cutOff}” is no time such as 16:30.`
  if (weight === null || weight <= 0) return `“${form.weight}” is no weight such as 31.5 kg.`
  if (longestSide === null || longestSide <= 0) return `“${form.longestSide}” is no length such as 175 cm.`
  if (girth === null || girth <= 0) return `“${form.girth}” is no length such as 300 cm.`
  if (parcels !== undefined && !(Number.isInteger(parcels) && parcels > 0))
    return `“${form.parcels}” is no number of parcels.`
  if (cash === null || included === null || upTo === null) return 'Amounts are written such as 500.00.'
  const { cashOnDelivery: _cash, parcels: _parcels, domesticOnly: _domestic, ...limits } = service.limits
  return {
    ...service,
    name: form.name.trim(),
    locations: form.locations,
    cutOff: form.cutOff,
    collects: [...form.collects].sort(),
    delivers: [...form.delivers].sort(),
    offers: form.offers,
    cover: { included: included ?? 0, upTo: upTo ?? 0 },
    claimsBorneBy: form.claimsBorneBy,
    limits: {
      ...limits,
      weight,
      longestSide,
      girth,
      postOfficeBox: form.postOfficeBox,
      dangerousGoods: form.dangerousGoods
        .split(/[;,]/)
        .map((un) => un.trim())
        .filter(Boolean),
      ...(form.domesticOnly ? { domesticOnly: true } : {}),
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
