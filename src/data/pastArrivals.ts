import type { Knex } from 'knex'
import type { Database } from './database'
import { daysAfter, weekdayOfDay } from './engine'

/** What became of shipments bought since a moment, by service; `today` is the day that lateness is counted from. */
export async function arrivalsByService(
  db: Database,
  since: string,
  today: string,
): Promise<
  { service: string; shipments: number; onTheWay: number; late: number; delivered: number; onTime: number }[]
> {
  const sum = (when: string, name: string, ...given: string[]): Knex.Raw =>
    db.raw(`SUM(CASE WHEN ${when} THEN 1 ELSE 0 END) AS ${name}`, given)
  const rows = (await db('labels')
    .select('service')
    .count({ shipments: '*' })
    .select(
      sum('delivered_at IS NULL', 'on_the_way'),
      sum('delivered_at IS NULL AND arrives_on < ?', 'late', today),
      sum('delivered_at IS NOT NULL', 'delivered'),
      sum('SUBSTR(delivered_at, 1, 10) <= arrives_on', 'on_time'),
    )
    .where({ state: 'bought' })
    .where('bought_at', '>=', since)
    .groupBy('service')) as Record<string, string | number>[]
  return rows.map((row) => ({
    service: String(row.service),
    shipments: Number(row.shipments),
    onTheWay: Number(row.onTheWay),
    late: Number(row.late),
    delivered: Number(row.delivered),
    onTime: Number(row.onTime),
  }))
}

/**
 * Of delivered shipments since a moment: how many there were by service and zone, and how many came by the foreseen
 * day.
 */
export async function punctualityOf(
  db: Database,
  since: string,
): Promise<{ service: string; zone: string; shipments: number; onTime: number }[]> {
  const rows = (await db('labels')
    .select('service', 'zone')
    .count({ shipments: '*' })
    .select({ onTime: db.raw('SUM(CASE WHEN SUBSTR(delivered_at, 1, 10) <= arrives_on THEN 1 ELSE 0 END)') })
    .where('bought_at', '>=', since)
    .whereNotNull('delivered_at')
    .whereNotNull('arrives_on')
    .groupBy('service', 'zone')
    .orderBy(['service', 'zone'])) as { service: string; zone: string; shipments: number; onTime: number }[]
  return rows.map((row) => ({ ...row, shipments: Number(row.shipments), onTime: Number(row.onTime) }))
}

/** How delivered shipments since a moment came against the day that was foreseen, by lane and weekday. */
export async function arrivalsByLane(
  db: Database,
  since: string,
): Promise<
  {
    service: string
    location: string
    zone: string
    country: string
    weekday: number
    came: [days: number, parcels: number][]
  }[]
> {
  const rows = (await db('labels')
    .join('orders', 'orders.id', 'labels.order_id')
    .select('labels.service', 'labels.location', 'labels.zone', 'orders.country')
    .select({ weekday: db.raw(weekdayOfDay(db, 'labels.arrives_on')) })
    .select({ days: db.raw(daysAfter(db, 'labels.delivered_at', 'labels.arrives_on')) })
    .count({ parcels: '*' })
    .where('labels.bought_at', '>=', since)
    .whereNotNull('labels.delivered_at')
    .whereNotNull('labels.arrives_on')
    .groupByRaw('1, 2, 3, 4, 5, 6')
    .orderByRaw('1, 2, 3, 4, 5, 6')) as {
    service: string
    location: string
    zone: string
    country: string
    weekday: number
    days: number
    parcels: number
  }[]
  const lanes: Awaited<ReturnType<typeof arrivalsByLane>> = []
  for (const { days, parcels, weekday: sundayFirst, ...way } of rows) {
    const weekday = sundayFirst || 7
    const last = lanes.at(-1)
    const came: [number, number] = [Math.max(-60, Math.min(366, Number(days))), Number(parcels)]
    const same =
      last?.weekday === weekday &&
      last.service === way.service &&
      last.location === way.location &&
      last.zone === way.zone &&
      last.country === way.country
    if (same) last.came.push(came)
    else lanes.push({ ...way, country: way.country ?? '', weekday, came: [came] })
  }
  return lanes
}
