import { type z } from 'zod'
import { countryCode } from '@/core/order'
import { equalJson, type Rulebook } from '@/core/rulebook/language'
import { checkRulebook } from '@/core/rulebook/findings'
import { checkTariffs, type Tariff } from '@/core/rating'
import {
  carrierSchema,
  locationSchema,
  outageSchema,
  presetSchema,
  serviceSchema,
  tariffSchema,
  type World,
} from '@/core/world'
import { refuse, type Refused } from '../shared/application'
import { idsFrom } from '../shared/freshId'

/** The lists of the world that people keep by hand, and what each holds one of. */
interface Things {
  readonly locations: World['locations'][number]
  readonly carriers: World['carriers'][number]
  readonly services: World['services'][number]
  readonly presets: World['presets'][number]
  readonly tariffs: Tariff
  readonly outages: NonNullable<World['outages']>[number]
}
export type ListName = keyof Things
export const listNames = [
  'locations',
  'carriers',
  'services',
  'presets',
  'tariffs',
  'outages',
] as const satisfies readonly ListName[]

/**
 * One change of a list: what was loaded, and what is to be in its place. Null before is a new one, null after deletes.
 */
export interface ListChange {
  readonly list: ListName
  readonly before: Readonly<Record<string, unknown>> | null
  readonly after: Readonly<Record<string, unknown>> | null
}

interface Kind {
  readonly one: string
  readonly schema: z.ZodType
  /** Why it cannot be in a world, as a sentence at its field; null when it can. */
  readonly check: (thing: never, world: World) => string | null
}

const kinds: Readonly<Record<ListName, Kind>> = {
  locations: {
    one: 'location',
    schema: locationSchema,
    check: ({ country, timeZone, partner }: Things['locations'], { partners = [] }: World) =>
      (isCountryCode(country) ? null : `“${country}” is no country code such as BE.`) ??
      (isZone(timeZone) ? null : `“${timeZone}” is no time zone such as Europe/Brussels.`) ??
      (partner === undefined || partners.some(({ id }) => id === partner)
        ? null
        : `There is no partner “${partner}”: connect it first.`),
  },
  carriers: { one: 'carrier', schema: carrierSchema, check: () => null },
  services: { one: 'service', schema: serviceSchema, check: checkService },
  presets: {
    one: 'package preset',
    schema: presetSchema,
    check: ({ inner, outer }: Things['presets']) =>
      sorted(inner).every((side, i) => side <= sorted(outer)[i]!) ? null : 'It is bigger inside than outside.',
  },
  tariffs: { one: 'tariff', schema: tariffSchema, check: checkTariff },
  outages: { one: 'outage', schema: outageSchema, check: checkOutage },
}

const isCountryCode = (text: string): boolean => countryCode(text) === text

const sorted = (size: readonly number[]): number[] => [...size].sort((a, b) => a - b)

function isZone(timeZone: string): boolean {
  try {
    return Intl.DateTimeFormat('en', { timeZone }).format(0) !== ''
  } catch {
    return false
  }
}

function checkService({ carrier, locations, collections = [], cover, zones }: Things['services'], world: World) {
  if (!world.carriers.some(({ id }) => id === carrier)) return `There is no carrier “${carrier}”: add it first.`
  const unknown = [...locations, ...collections.map(({ location }) => location)].find(
    (id) => !world.locations.some((location) => location.id === id),
  )
  if (unknown !== undefined) return `There is no location “${unknown}”.`
  if (cover.included > cover.upTo) return 'The cover that is included is more than the most that can be had.'
  const odd = zones.flatMap(({ from, to }) => [from, to]).find((country) => !isCountryCode(country))
  return odd === undefined ? null : `“${odd}” is no country code such as BE.`
}

function checkTariff(tariff: Things['tariffs'], world: World): string | null {
  const error = checkTariffs(
    [...world.tariffs.filter((other) => keyOf('tariffs', other) !== keyOf('tariffs', tariff)), tariff],
    world.services,
    (currency) => currency === world.rates.home || (world.rates.micro[currency] ?? 0) > 0,
  ).find(({ severity, service }) => severity === 'error' && service === tariff.service)
  return error ? `${error.zone ? `Zone ${error.zone}: ` : ''}${error.sentence}` : null
}

function checkOutage({ what, of }: Things['outages'], world: World): string | null {
  const list = { service: world.services, carrier: world.carriers, location: world.locations }[what]
  return list.some(({ id }) => id === of) ? null : `There is no ${what} “${of}”.`
}

/** What tells the things of a list apart. */
export const keyOf = (list: ListName, thing: unknown): string => {
  const { id, service, from } = thing as { id?: string; service?: string; from?: string }
  return list === 'tariffs' ? `${service ?? ''} ${from ?? ''}` : (id ?? '')
}

/** How people call a thing. */
export function nameOf(list: ListName, thing: unknown): string {
  const { name } = thing as { name?: string }
  return name ?? `this ${kinds[list].one}`
}

/** The identifier of something new, from its name, that none of `taken` has. */
function freshId(name: string, taken: (id: string) => boolean): string {
  const ids = idsFrom(name, 'new')
  let id = ids.next().value
  while (taken(id)) id = ids.next().value
  return id
}

/**
 * The world with a change in one of its lists, and the thing as it is then. Refused when the thing makes no sense
 * there, and when somebody else has changed it since it was loaded.
 */
export function withChange(
  world: World,
  { list, before, after }: ListChange,
): { readonly world: World; readonly thing: Things[ListName] | null } | Refused {
  const { one, schema, check } = kinds[list]
  const all = (world[list] ?? []) as readonly Things[ListName][]
  const key = before === null ? null : keyOf(list, before)
  const current = key === null ? undefined : all.find((thing) => keyOf(list, thing) === key)
  if (key !== null && !current)
    return refuse('world-changed', `Somebody else has deleted the ${one} “${nameOf(list, before)}” meanwhile.`)
  if (current && !equalJson(current, before))
    return refuse(
      'world-changed',
      `Somebody else has changed “${nameOf(list, current)}” meanwhile: theirs is shown beside yours.`,
    )
  const others = all.filter((thing) => thing !== current)
  if (after === null) {
    const gone = current as { id: string }
    // A service's prices go with it.
    const tariffs = list === 'services' ? world.tariffs.filter(({ service }) => service !== gone.id) : world.tariffs
    return { world: { ...world, tariffs, [list]: others }, thing: null }
  }
  const given = (after as { id?: string; name?: string }).id
  const named =
    given === '' || (list === 'outages' && given === undefined)
      ? {
          ...(after as object),
          id: freshId((after as { name?: string }).name ?? one, (id) => all.some((thing) => keyOf(list, thing) === id)),
        }
      : after
  const parsed = schema.safeParse(named)
  if (!parsed.success) {
    const issue = parsed.error.issues[0]!
    return refuse('bad-value', `${issue.path.join(' › ')} ${issue.message}`.trim())
  }
  const thing = parsed.data as Things[ListName]
  if (others.some((other) => keyOf(list, other) === keyOf(list, thing)))
    return refuse('taken', `There is a ${one} “${keyOf(list, thing)}” already.`)
  const wrong = check(thing as never, world)
  if (wrong !== null) return refuse('bad-value', wrong)
  return {
    world: { ...world, [list]: current ? all.map((other) => (other === current ? thing : other)) : [...all, thing] },
    thing,
  }
}

/** Rules that name something which a world does not have any more: by the check of the rulebook itself. */
export function rulesThatMiss(rulebook: Rulebook, before: World, after: World): string[] {
  const said = (world: World): Set<string> =>
    new Set(
      checkRulebook(rulebook, world)
        .filter(({ code }) => code === 'missing' || code === 'unknown-value')
        .map(({ rule, sentence }) => `${rule} ${sentence}`),
    )
  const known = said(before)
  const rules = new Set([...said(after)].filter((text) => !known.has(text)).map((text) => text.split(' ')[0]!))
  return rulebook.rules.filter(({ id }) => rules.has(id)).map(({ name }) => name)
}
