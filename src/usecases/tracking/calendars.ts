import ical, { ICalCalendarMethod } from 'ical-generator'
import { nextCutOff } from '@/core/rating'
import { readyWorld, type World } from '@/core/world'
import { documentBy, editionsToCome, saveDocument } from '@/data'
import { freshToken } from '../shared/freshId'
import type { Application } from '../shared/application'
import { currentWorld } from '../shared/changeWorld'
import type { ParcelView } from './trackParcel'

const dayMs = 86_400_000
const day = (text: string): Date => new Date(`${text}T00:00:00Z`)

/** The day on which the next parcel of a shipment comes, as a calendar entry; null when all have come. */
export function arrivalEntry(
  { settings, now }: Pick<Application, 'settings' | 'now'>,
  view: ParcelView,
  summary: string,
): string | null {
  const open = view.parcels.find(({ deliveredAt, status }) => deliveredAt === null && status !== 'returned')
  const on = open && (open.likely || open.arrivesOn)
  if (!on) return null
  const calendar = ical({ prodId: { company: 'Gharry', product: 'Gharry' }, method: ICalCalendarMethod.PUBLISH })
  calendar.createEvent({
    id: `${view.token}@gharry.example`,
    start: day(on),
    end: new Date(day(on).getTime() + dayMs),
    allDay: true,
    stamp: now(),
    summary: [view.seller, summary].filter(Boolean).join(': '),
    url: `${settings.publicUrl}/track/${view.token}`,
  })
  return calendar.toString()
}

const daysAhead = 14
const minuteMs = 60_000

/** When carriers collect in the next days: at each moment once, however many of a carrier's services end then. */
function collectionsAhead(world: World, now: number): Map<string, { carrier: string; location: string; at: number }> {
  const { rateBook } = readyWorld(world)
  const found = new Map<string, { carrier: string; location: string; at: number }>()
  for (const service of world.services)
    for (const location of world.locations) {
      if (service.retired || location.retired) continue
      let at = nextCutOff(rateBook, service.id, location, now)
      for (let n = 0; at !== null && at < now + daysAhead * dayMs && n < daysAhead; n++) {
        found.set(`${service.carrier}-${location.id}-${at}`, { carrier: service.carrier, location: location.name, at })
        at = nextCutOff(rateBook, service.id, location, at + minuteMs)
      }
    }
  return found
}

/**
 * What is to come at one's locations, to be subscribed to: collections of the next two weeks, and editions that begin.
 */
export async function calendarFeed(gharry: Application, secret: string): Promise<string | null> {
  const kept = (await documentBy<{ secret: string }>(gharry.db, feed))?.draft
  if (!kept || secret.length !== kept.secret.length || secret !== kept.secret) return null
  const { world } = await currentWorld(gharry.db)
  const now = gharry.now()
  const calendar = ical({ prodId: { company: 'Gharry', product: 'Gharry' }, name: 'Gharry', ttl: 3600 })
  const nameOf = (id: string): string => world.carriers.find((carrier) => carrier.id === id)?.name ?? id
  for (const [id, { carrier, location, at }] of collectionsAhead(world, now.getTime()))
    calendar.createEvent({
      id: `${id}@gharry.example`,
      start: new Date(at),
      end: new Date(at + 15 * minuteMs),
      stamp: now,
      summary: `${nameOf(carrier)} collects in ${location}`,
    })
  for (const { number, inForceAt, note } of await editionsToCome(gharry.db, now.toISOString()))
    calendar.createEvent({
      id: `edition-${number}@gharry.example`,
      start: new Date(inForceAt),
      end: new Date(Date.parse(inForceAt) + 15 * minuteMs),
      stamp: now,
      summary: `Edition ${number} comes into force`,
      ...(note ? { description: note } : {}),
    })
  return calendar.toString()
}

const feed = 'calendar feed'

/** The link of the calendar; empty before it was made. Who has it reads it, without signing in. */
export async function showFeed({ db, settings }: Application): Promise<{ readonly url: string }> {
  const kept = (await documentBy<{ secret: string }>(db, feed))?.draft
  return { url: kept ? `${settings.publicUrl}/calendar/${kept.secret}` : '' }
}

/** Makes a link of the calendar in place of the one before, which leads nowhere from then on. */
export async function makeFeed(gharry: Application): Promise<{ readonly ok: true; readonly url: string }> {
  const before = await documentBy(gharry.db, feed)
  await saveDocument(gharry.db, feed, before?.version ?? 0, { secret: freshToken() }, false, gharry.now().toISOString())
  return { ok: true, ...(await showFeed(gharry)) }
}
