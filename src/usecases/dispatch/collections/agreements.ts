import { grams } from '@/core/units'
import { type Agreement, agreementsSchema, daysOf } from '@/core/collections'
import { type Day, dayOf, dayText } from '@/core/calendar'
import type { World } from '@/core/world'
import { addCollection, type CollectionPlan, type Database, documentBy, saveDocument, standingLoads } from '@/data'
import { type Answer, type Application, refuse } from '../../shared/application'
import { carrierCan } from '../../shared/carrierCan'
import { currentWorld } from '../../shared/changeWorld'
import { dayAt } from '../door/doorView'

const name = 'collections'

/** The agreements with their version, which a change says that it began from. */
export async function agreementsOf(db: Database): Promise<{ version: number; agreements: readonly Agreement[] }> {
  const kept = await documentBy<readonly Agreement[]>(db, name)
  return { version: kept?.version ?? 0, agreements: kept?.published ?? [] }
}

/** Says which collections come again and again. */
export async function saveAgreements(
  gharry: Application,
  { version, agreements }: { readonly version: number; readonly agreements: unknown },
): Promise<Answer<{ version: number }>> {
  const parsed = agreementsSchema.safeParse(agreements)
  if (!parsed.success) {
    const { path, message } = parsed.error.issues[0]!
    const at = Number(path[0])
    return refuse(
      'bad-value',
      `${Number.isNaN(at) ? 'Collections' : `Collection ${at + 1}`}: ${[path[1], message].filter(Boolean).join(' ')}.`,
    )
  }
  const saved = await saveDocument(gharry.db, name, version, parsed.data, true, gharry.now().toISOString())
  return saved
    ? { ok: true, version: version + 1 }
    : refuse('world-changed', 'Somebody else has changed the collections meanwhile: look at theirs first.')
}

/** The days on which nobody works at a location: holidays of its country, and its own. */
export function closedDays(world: World, location: string): ReadonlySet<Day> {
  const from = world.locations.find(({ id }) => id === location)
  const holidays = (world.holidays ?? []).find(({ country }) => country === from?.country)?.days ?? []
  return new Set([...holidays, ...(from?.closedOn ?? [])].map(dayOf))
}

/** How many days ahead agreed collections are asked for. */
const daysAhead = 3

/** Books what was agreed to be booked for each day: today and the next days. Each day is asked for once. */
export async function bookAgreed(gharry: Application): Promise<void> {
  const { db } = gharry
  const asked = (await agreementsOf(db)).agreements.filter(({ unasked }) => !unasked)
  if (asked.length === 0) return
  const { world } = await currentWorld(db)
  const loads = await standingLoads(db)
  for (const agreement of asked) {
    const { id, carrier, location, from, until, place, notes } = agreement
    const today = dayOf(dayAt(world, location, gharry.now()))
    const state = (await carrierCan(db, carrier, location)).collections ? 'queued' : 'own'
    for (const day of daysOf(agreement, today, today + daysAhead, closedDays(world, location))) {
      const there = loads.filter(
        (load) => load.carrier === carrier && load.location === location && load.shipOn <= dayText(day),
      )
      const wish: CollectionPlan = {
        ...{ from, until, place, notes, pallets: 0 },
        parcels: Math.max(
          1,
          there.reduce((sum, { parcels }) => sum + parcels, 0),
        ),
        weight: grams(there.reduce((sum, { weight }) => sum + weight, 0)),
      }
      await addCollection(
        db,
        {
          ...{ carrier, location, day: dayText(day), key: `agreed-${id}-${dayText(day)}`, agreement: id, state, wish },
          ...{ confirmation: '', author: 'Gharry' },
        },
        gharry.now().toISOString(),
      )
    }
  }
}
