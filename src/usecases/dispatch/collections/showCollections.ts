import { grams } from '@/core/units'
import { type Agreement, daysOf, fitOf, type Load } from '@/core/collections'
import { dayOf, dayText, isDay, weekday } from '@/core/calendar'
import type { World } from '@/core/world'
import { type CollectionRow, collectionsBetween, standingLoads } from '@/data'
import type { Application } from '../../shared/application'
import { carrierCan } from '../../shared/carrierCan'
import { currentWorld } from '../../shared/changeWorld'
import { sellersDay } from '../../shared/sellersDay'
import { agreementsOf, closedDays } from './agreements'

/** A day of a carrier at a location. */
export interface CollectionCell {
  readonly day: string
  /** The place is closed, or it is a holiday. */
  readonly closed: boolean
  /** Services of the carrier collect here on this weekday. */
  readonly usual: boolean
  readonly collections: readonly CollectionRow[]
  /** The driver comes unasked. */
  readonly agreed: readonly Agreement[]
  /** What is to leave on that day and stands here; today with what is older. */
  readonly there: Load
  /** What does not fit; null where nothing is wrong. */
  readonly warning: string | null
}
export interface CollectionLane {
  readonly location: string
  readonly carrier: string
  /** The carrier takes bookings in messages. */
  readonly electronic: boolean
  readonly cells: readonly CollectionCell[]
}
export interface CollectionsView {
  readonly today: string
  readonly days: readonly string[]
  readonly lanes: readonly CollectionLane[]
  readonly agreements: readonly Agreement[]
  readonly version: number
}

const daysShown = 7

/** The collections of a week from a day on (today without one): who comes where, and what does not fit. */
export async function showCollections(gharry: Application, from?: string): Promise<CollectionsView> {
  const { db } = gharry
  const { world } = await currentWorld(db)
  const today = await sellersDay(gharry, db)
  const first = dayOf(from !== undefined && isDay(from) ? from : today)
  const days = Array.from({ length: daysShown }, (_, i) => dayText(first + i))
  const rows = await collectionsBetween(db, days[0]!, days.at(-1)!)
  const loads = await standingLoads(db)
  const { version, agreements } = await agreementsOf(db)
  const lanes: CollectionLane[] = []
  for (const { location, carrier } of lanesOf(world, agreements, rows)) {
    const own = { agreements: agreements.filter((one) => one.location === location && one.carrier === carrier), world }
    const closed = closedDays(world, location)
    const cells = days.map((day): CollectionCell => {
      const agreed = own.agreements.filter(
        (one) => one.unasked && daysOf(one, dayOf(day), dayOf(day), closed).length === 1,
      )
      const collections = rows.filter((row) => row.location === location && row.carrier === carrier && row.day === day)
      const there = loadOf(
        loads.filter(
          (load) =>
            load.location === location &&
            load.carrier === carrier &&
            (load.shipOn === day || (day === today && load.shipOn < today)),
        ),
      )
      return {
        ...{
          day,
          collections,
          agreed,
          there,
          closed: closed.has(dayOf(day)),
          usual: isUsual(world, location, carrier, day),
        },
        warning: day < today ? null : warningOf(collections, agreed, there, day === today),
      }
    })
    lanes.push({ location, carrier, electronic: (await carrierCan(db, carrier, location)).collections, cells })
  }
  return { today, days, lanes, agreements, version }
}

function loadOf(loads: readonly Load[]): Load {
  return {
    parcels: loads.reduce((sum, { parcels }) => sum + parcels, 0),
    weight: grams(loads.reduce((sum, { weight }) => sum + weight, 0)),
  }
}

const comes = ({ state }: CollectionRow): boolean => state !== 'cancelled' && state !== 'failed'

function warningOf(
  collections: readonly CollectionRow[],
  agreed: readonly Agreement[],
  there: Load,
  isToday: boolean,
): string | null {
  const failed = collections.find(({ state }) => state === 'failed')
  const coming = collections.filter(comes)
  if (coming.length === 0 && agreed.length === 0) {
    if (failed) return `Nobody comes: ${failed.problem ?? 'it was refused.'}`
    return isToday && there.parcels > 0
      ? `Nobody is booked for ${there.parcels} ${there.parcels === 1 ? 'parcel' : 'parcels'}.`
      : null
  }
  const note = coming.find((row) => row.note !== '' || row.problem !== null)
  if (note) return note.problem ?? note.note
  // What comes unasked takes what is there; and what does not stand there yet is no mistake before its day.
  if (agreed.length > 0 || !isToday) return null
  return fitOf(loadOf(coming.map(({ wish }) => ({ parcels: wish.parcels + wish.pallets, weight: wish.weight }))), there)
}

/** Where a carrier collects by any of its services, by agreement, or as it was booked. */
function lanesOf(
  world: World,
  agreements: readonly Agreement[],
  rows: readonly CollectionRow[],
): readonly { readonly location: string; readonly carrier: string }[] {
  const lanes = new Map<string, { location: string; carrier: string }>()
  const put = (location: string, carrier: string): void =>
    void lanes.set(`${location} ${carrier}`, { location, carrier })
  for (const { id: location, retired } of world.locations)
    for (const { id: carrier } of world.carriers)
      if (!retired && world.services.some((service) => collects(service, location, carrier))) put(location, carrier)
  for (const { location, carrier } of [...agreements, ...rows]) put(location, carrier)
  return [...lanes.values()]
}

const collects = (service: World['services'][number], location: string, carrier: string): boolean =>
  service.carrier === carrier && !service.retired && !service.fetched && service.locations.includes(location)

function isUsual(world: World, location: string, carrier: string, day: string): boolean {
  const on = weekday(dayOf(day))
  return world.services.some(
    (service) =>
      collects(service, location, carrier) &&
      (service.collections?.find((one) => one.location === location)?.collects ?? service.collects).includes(on),
  )
}
