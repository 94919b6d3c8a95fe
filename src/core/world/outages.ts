import { DateTime } from 'luxon'
import { firstZone, type World } from './world'

/** What can be switched off for a while. */
export const outageKinds = ['service', 'carrier', 'location'] as const
export type OutageKind = (typeof outageKinds)[number]

/** A service, carrier or location that takes nothing from one moment to another (instants, UTC). */
export interface Outage {
  readonly id: string
  readonly what: OutageKind
  /** The identifier of what is switched off. */
  readonly of: string
  readonly from: string
  readonly until: string
  /** Why, for people; may be empty. */
  readonly note: string
}

const isOn = ({ from, until }: Outage, now: number): boolean => Date.parse(from) <= now && now < Date.parse(until)

/** Names the outages that hold at a moment (milliseconds since 1970): what changes with it changes what is decided. */
export const outagesNow = (world: Pick<World, 'outages'>, now: number): string =>
  (world.outages ?? [])
    .filter((outage) => isOn(outage, now))
    .map(({ id }) => id)
    .join(' ')

/**
 * The world as it is at a moment (milliseconds since 1970): what an outage switches off is marked with until when. The
 * same object when nothing is.
 */
export function worldAt(world: World, now: number): World {
  const on = (world.outages ?? []).filter((outage) => isOn(outage, now))
  if (on.length === 0) return world
  /** The outage that ends last of those of a thing; what is off for its carrier is off itself. */
  const offBy = (...names: readonly (readonly [OutageKind, string])[]): string | undefined =>
    on
      .filter(({ what, of }) => names.some(([kind, id]) => what === kind && of === id))
      .map(({ until }) => until)
      .sort()
      .at(-1)
  const zone = firstZone(world)
  return {
    ...world,
    locations: world.locations.map((location) => marked(location, offBy(['location', location.id]), location.timeZone)),
    services: world.services.map((service) =>
      marked(service, offBy(['service', service.id], ['carrier', service.carrier]), zone),
    ),
  }
}

/** A thing with until when it is off, as people at its place say it. */
const marked = <T extends object>(thing: T, until: string | undefined, zone: string): T =>
  until === undefined
    ? thing
    : { ...thing, off: DateTime.fromISO(until, { zone, locale: 'en-GB' }).toFormat('cccc d LLL, HH:mm') }
