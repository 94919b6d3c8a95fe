import { z } from 'zod'
import { offers, readZoneTable, type Service, writeZoneTable, type Zone, type ZoneRow } from '@/core/rating'
import { measured, minorUnits } from '@/core/units'
import { lengthText, plainHome, weightText } from '../../kit/format'
import { amountField, countField, lengthField, orEmpty, timeField, weightField } from '../../kit/typedFields'

/** A service as it is typed, read into its values. */
export const serviceForm = z.object({
  carrier: z.string().min(1, 'Choose the carrier.'),
  /** What the carrier calls it in its interface; only of a new one. */
  code: z.string().trim().max(64, 'At most 64 characters.'),
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
  fetched: z.boolean(),
  cash: orEmpty(amountField(), undefined),
  offers: z.array(z.enum(offers)),
  included: orEmpty(amountField(), minorUnits(0)),
  upTo: orEmpty(amountField(), minorUnits(0)),
  claimsBorneBy: z.array(z.string()),
  latePercent: orEmpty(countField('per cent'), undefined),
  lateWithin: orEmpty(countField('days'), 14),
  lostAfter: orEmpty(countField('days'), undefined),
  lostWithin: orEmpty(countField('days'), 90),
  damagedWithin: orEmpty(countField('days'), undefined),
  zones: z.array(z.record(z.string(), z.string())).transform((rows, context): Zone[] => {
    const { zones, problems } = readZoneTable(rows.map((cells, i) => ({ line: i + 1, cells })))
    const [problem] = problems
    if (!problem) return zones
    context.addIssue({ code: 'custom', message: `Row ${problem.line}, ${problem.column}: ${problem.sentence}` })
    return z.NEVER
  }),
})
export type ServiceForm = z.input<typeof serviceForm>
export type ServiceValues = z.output<typeof serviceForm>

const weekdays = [1, 2, 3, 4, 5]

/** A service before anything is typed. */
export const blankService = (locations: readonly string[]): Service => ({
  ...{ id: '', carrier: '', name: '', locations, zones: [] },
  limits: measured({ weight: 30_000, longestSide: 1500, girth: 3000, postOfficeBox: false, dangerousGoods: [] }),
  ...{
    cutOff: '16:00',
    collects: weekdays,
    delivers: weekdays,
    offers: ['tracking'],
    cover: measured({ included: 0, upTo: 0 }),
  },
})

export const formOf = (service: Service): ServiceForm => ({
  carrier: service.carrier,
  code: service.id,
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
  fetched: service.fetched ?? false,
  cash: plainHome(service.limits.cashOnDelivery),
  offers: [...service.offers],
  included: plainHome(service.cover.included),
  upTo: plainHome(service.cover.upTo),
  claimsBorneBy: [...(service.claimsBorneBy ?? [])],
  latePercent: service.claims?.late ? String(service.claims.late.permille / 10) : '',
  lateWithin: String(service.claims?.late?.within ?? ''),
  lostAfter: String(service.claims?.lost?.after ?? ''),
  lostWithin: String(service.claims?.lost?.within ?? ''),
  damagedWithin: String(service.claims?.damaged?.within ?? ''),
  zones: writeZoneTable(service.zones).map((row: ZoneRow) => ({ ...row })),
})

/** The service with what was typed. */
export function withValues(service: Service, values: ServiceValues): Service {
  const { name, carrier, code, locations, cutOff, claimsBorneBy, cash, parcels, domesticOnly, included, upTo } = values
  const { weight, longestSide, girth, postOfficeBox, dangerousGoods } = values
  const { cashOnDelivery: _cash, parcels: _parcels, domesticOnly: _domestic, ...limits } = service.limits
  const { claimsBorneBy: borne, zones: before, claims: _claims, fetched: _fetched, ...rest } = service
  const claims = claimsIn(values)
  const zones = sameRows(before, values.zones) ? before : values.zones
  return {
    ...rest,
    ...{ id: service.id || code, carrier, name, locations, cutOff, offers: values.offers, zones },
    ...(borne || claimsBorneBy.length > 0 ? { claimsBorneBy } : {}),
    ...(claims ? { claims } : {}),
    ...(values.fetched ? { fetched: true } : {}),
    collects: inWeek(service.collects, values.collects),
    delivers: inWeek(service.delivers, values.delivers),
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

/** Days in the order of the week; as they were where they are the same. */
function inWeek(before: readonly number[], after: readonly number[]): readonly number[] {
  const sorted = [...after].sort((a, b) => a - b)
  return JSON.stringify([...before].sort((a, b) => a - b)) === JSON.stringify(sorted) ? before : sorted
}

const sameRows = (before: readonly Zone[], after: readonly Zone[]): boolean =>
  JSON.stringify(writeZoneTable(before)) === JSON.stringify(writeZoneTable(after))

/** What the carrier owes, as it was typed; undefined where it owes nothing. */
function claimsIn({ latePercent, lateWithin, lostAfter, lostWithin, damagedWithin }: ServiceValues): Service['claims'] {
  const terms = {
    ...(latePercent === undefined ? {} : { late: { permille: latePercent * 10, within: lateWithin } }),
    ...(lostAfter === undefined ? {} : { lost: { after: lostAfter, within: lostWithin } }),
    ...(damagedWithin === undefined ? {} : { damaged: { within: damagedWithin } }),
  }
  return Object.keys(terms).length > 0 ? terms : undefined
}
