import { channelKindOf } from '@/adapters'
import type { Tariff } from '@/core/rating'
import type { Outage, World } from '@/core/world'
import {
  anyOrder,
  type ConnectionRow,
  editionInForce,
  fromJson,
  listChannels,
  listConnections,
  presetsWithPicture,
  readDraft,
} from '@/data'
import type { Application } from '../shared/application'
import { currentWorld } from '../shared/changeWorld'
import { type SellerSettings, sellerOf } from './seller'

/** The parts of the way from nothing to the first label, in their order. */
export const setupSteps = ['seller', 'location', 'carrier', 'service', 'preset', 'channel', 'rule'] as const
export type SetupStep = (typeof setupSteps)[number]

export interface SetupView {
  readonly version: number
  readonly seller: SellerSettings
  readonly locations: World['locations']
  readonly carriers: World['carriers']
  readonly services: World['services']
  readonly presets: World['presets']
  readonly tariffs: readonly Tariff[]
  readonly outages: readonly Outage[]
  readonly demands: NonNullable<World['demands']>
  readonly partners: NonNullable<World['partners']>
  readonly channels: readonly {
    readonly id: string
    readonly name: string
    /** Carriers that its connection has codes for; null where it takes any. */
    readonly codes: readonly string[] | null
  }[]
  /** Presets that have a photograph. */
  readonly pictured: readonly string[]
  /** Days of the next weeks on which nothing is handed over somewhere, and why. */
  readonly closures: readonly { readonly day: string; readonly where: readonly string[]; readonly why: string }[]
  /** How many accounts each carrier has. */
  readonly accounts: Readonly<Record<string, number>>
  readonly done: Readonly<Record<SetupStep, boolean>>
}

/** All that is set up, and which steps of the way to the first label are done. */
export async function showSetup(gharry: Application): Promise<SetupView> {
  const { db } = gharry
  const { version, world } = await currentWorld(db)
  const [connections, channels, edition, draft, hasOrders, pictured] = await Promise.all([
    listConnections(db),
    listChannels(db),
    editionInForce(db, gharry.now().toISOString()),
    readDraft(db),
    anyOrder(db),
    presetsWithPicture(db),
  ])
  const accounts: Record<string, number> = {}
  for (const { role, belongsTo, on } of connections)
    if (role === 'carrier' && on) accounts[belongsTo] = (accounts[belongsTo] ?? 0) + 1
  const inUse = (list: readonly { readonly retired?: boolean }[]): boolean => list.some(({ retired }) => !retired)
  const priced = new Set(world.tariffs.map(({ service }) => service))
  return {
    version,
    seller: sellerOf(world),
    ...{ locations: world.locations, carriers: world.carriers, services: world.services, presets: world.presets },
    tariffs: world.tariffs,
    outages: world.outages ?? [],
    demands: world.demands ?? [],
    partners: world.partners ?? [],
    channels: channels.map(({ id, name }) => ({ id, name, codes: codesOf(id, connections, world) })),
    pictured,
    closures: closuresOf(world, gharry.now().toISOString().slice(0, 10)),
    accounts,
    done: {
      seller: world.seller !== undefined,
      location: inUse(world.locations),
      carrier: world.carriers.some(({ id, retired }) => !retired && (accounts[id] ?? 0) > 0),
      service: world.services.some(({ id, retired, locations }) => !retired && priced.has(id) && locations.length > 0),
      preset: inUse(world.presets),
      channel: channels.length > 0 || hasOrders,
      rule: [edition?.rulebook, draft?.rulebook].some((rulebook) => (rulebook?.rules.length ?? 0) > 0),
    },
  }
}

/** The carriers for which a channel's connection has codes, in the order of the world. */
function codesOf(
  channel: string,
  connections: readonly ConnectionRow[],
  { carriers }: World,
): readonly string[] | null {
  const row = connections.find(({ role, belongsTo }) => role === 'channel' && belongsTo === channel)
  const known = row && channelKindOf(row.kind)?.carriersKnown?.(fromJson<Record<string, string>>(row.settings))
  return known ? carriers.map(({ id }) => id).filter((id) => known.includes(id)) : null
}

const daysAhead = 45

/** Public holidays of the locations' countries, and days on which they are closed themselves. */
function closuresOf({ locations, holidays = [] }: World, today: string): SetupView['closures'] {
  const end = new Date(Date.parse(today) + daysAhead * 86_400_000).toISOString().slice(0, 10)
  const ahead = (days: readonly string[]): string[] => days.filter((day) => day >= today && day <= end)
  const open = locations.filter(({ retired }) => !retired)
  const found = [
    ...holidays.flatMap(({ country, days }) => {
      const where = open.filter((location) => location.country === country).map(({ name }) => name)
      return where.length === 0 ? [] : ahead(days).map((day) => ({ day, where, why: 'public holiday' }))
    }),
    ...open.flatMap(({ name, closedOn = [] }) => ahead(closedOn).map((day) => ({ day, where: [name], why: 'closed' }))),
  ]
  return found.sort((a, b) => (a.day < b.day ? -1 : 1))
}
