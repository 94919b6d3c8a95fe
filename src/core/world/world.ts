import { type ItemCard, postcodeKey } from '@/core/order'
import { type PackagePreset, packingMemory, type PackingMemory } from '@/core/packing'
import type { SlipTemplate } from '@/core/papers'
import { arrivalBook, type ArrivalBook, type LaneArrivals } from '@/core/arrival'
import { type Day, dayOf } from '@/core/calendar'
import {
  type Carrier,
  type ChannelDemand,
  compileRates,
  type DutyRate,
  type Location,
  type Punctuality,
  type RateBook,
  type Service,
  type Tariff,
} from '@/core/rating'
import { type Rates, usualHome } from '@/core/units'
import type { Outage } from './outages'
import { type Seller } from './seller'
import { readyWordings, type ReadyWordings, type WordingTable } from './wordings'

/** Everything a decision may look at besides the order and the rulebook. */
export interface World {
  readonly rates: Rates
  /** The first one that is not retired is where orders ship from when nothing else is decided. */
  readonly locations: readonly Location[]
  readonly presets: readonly PackagePreset[]
  readonly carriers: readonly Carrier[]
  readonly services: readonly Service[]
  readonly tariffs: readonly Tariff[]
  readonly slips: readonly SlipTemplate[]
  readonly items: readonly ItemCard[]
  /** Countries that trade without customs among themselves, by name of the union. */
  readonly customsUnion: readonly string[]
  /** What the checkouts' wordings mean, by channel. */
  readonly wordings?: readonly WordingTable[]
  /** Postcodes that carriers count as remote, as prefixes by country. */
  readonly remoteAreas?: readonly { readonly country: string; readonly prefixes: readonly string[] }[]
  /** Public holidays (`YYYY-MM-DD`) on which nothing is collected or delivered, by country. */
  readonly holidays?: readonly { readonly country: string; readonly days: readonly string[] }[]
  /** From history: how often services kept the foreseen day. */
  readonly punctuality?: readonly Punctuality[]
  /** From history: how parcels of each lane came against the foreseen day. */
  readonly arrivals?: readonly LaneArrivals[]
  /** What channels demand of the service, whatever the rules say. */
  readonly demands?: readonly ChannelDemand[]
  /** Import duties and taxes of other countries, for estimates. */
  readonly dutyRates?: readonly DutyRate[]
  readonly seller?: Seller
  readonly outages?: readonly Outage[]
  /** Whom papers can be handed over to; each is a connection of the same identifier. */
  readonly partners?: readonly { readonly id: string; readonly name: string }[]
}

/** The world before anything is known of it. */
export const emptyWorld: World = {
  rates: { home: usualHome, micro: {} },
  locations: [],
  presets: [],
  carriers: [],
  services: [],
  tariffs: [],
  slips: [],
  items: [],
  customsUnion: [],
}

/** Where orders ship from when nothing else is decided: the first location that is not retired. */
export const firstLocation = ({ locations }: Pick<World, 'locations'>): Location | undefined =>
  locations.find(({ retired }) => !retired)

/** The zone by which times are told until Origin has settled a location: that of the first one. */
export const firstZone = (world: Pick<World, 'locations'>): string => firstLocation(world)?.timeZone ?? 'UTC'

/** The world without what is retired: what rules may name. */
export function withoutRetired(world: World): World {
  const inUse = <T extends { readonly retired?: boolean }>(list: readonly T[]): readonly T[] =>
    list.some(({ retired }) => retired) ? list.filter(({ retired }) => !retired) : list
  const { locations, presets, carriers, services } = world
  return {
    ...world,
    ...{ locations: inUse(locations), presets: inUse(presets), carriers: inUse(carriers), services: inUse(services) },
  }
}

/** A world made ready for routing many orders. */
export interface ReadyWorld {
  readonly world: World
  readonly rateBook: RateBook
  readonly arrivals: ArrivalBook
  readonly cards: ReadonlyMap<string, ItemCard>
  readonly unionMembers: ReadonlySet<string>
  readonly wordings: ReadyWordings
  readonly isRemote: (country: string, postcode: string) => boolean
  readonly demands: ReadonlyMap<string, ChannelDemand>
  /** The services of each carrier. */
  readonly servicesOf: ReadonlyMap<string, readonly string[]>
  /** Those that are not retired. */
  readonly presets: readonly PackagePreset[]
  readonly pack: PackingMemory
}

/** A world made ready for deciding: its tariffs compiled, its lists by identifier. Once for each world. */
export function readyWorld(world: World): ReadyWorld {
  const remote = new Map<string, readonly string[]>()
  for (const { country, prefixes } of world.remoteAreas ?? [])
    remote.set(country, [...(remote.get(country) ?? []), ...prefixes.map(postcodeKey)])
  const presets = world.presets.filter(({ retired }) => !retired)
  const servicesOf = new Map<string, string[]>()
  for (const { id, carrier, retired } of world.services)
    if (!retired) servicesOf.set(carrier, [...(servicesOf.get(carrier) ?? []), id])
  return {
    world,
    rateBook: compileRates(
      world.services,
      world.tariffs,
      world.rates,
      new Map((world.holidays ?? []).map(({ country, days }) => [country, new Set<Day>(days.map(dayOf))])),
      world.punctuality,
      world.locations,
    ),
    arrivals: arrivalBook(world.arrivals ?? []),
    demands: new Map((world.demands ?? []).map((demand) => [demand.channel, demand])),
    cards: new Map(world.items.map((card) => [card.sku, card])),
    unionMembers: new Set(world.customsUnion),
    wordings: readyWordings(world.wordings ?? []),
    servicesOf,
    presets,
    pack: packingMemory(presets),
    isRemote: (country, postcode) =>
      remote.get(country)?.some((prefix) => postcodeKey(postcode).startsWith(prefix)) ?? false,
  }
}
