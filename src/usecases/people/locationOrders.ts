import { deskCount, deskPage } from '@/data'
import type { Application } from '../shared/application'
import { currentWorld } from '../shared/changeWorld'
import type { Person } from './signedIn'

/** What a partner sees of an order. */
export interface LocationOrder {
  readonly id: number
  readonly number: string
  readonly state: string
  readonly placedAt: string
  readonly promisedBy: string
  readonly buyer: string
  readonly city: string
  readonly country: string
  readonly quantity: number
  readonly weight: number | null
  readonly service: string
}

/** The states that a partner can look at by themselves. */
const looked = ['ready', 'labelled', 'dispatched'] as const

const most = 200
/** Control characters are no part of what anybody looks for. */
const typed = (text: string): string =>
  text
    .replace(/[\u0000-\u001f\u007f]/g, ' ')
    .trim()
    .slice(0, 200)

/** The orders of whoever's location it is, the youngest first; of no other one, whatever is asked for. */
export async function showLocationOrders(
  { db }: Application,
  person: Person,
  asked: { readonly q: string; readonly state: string },
): Promise<{ readonly location: string; readonly total: number; readonly orders: readonly LocationOrder[] }> {
  const { world } = await currentWorld(db)
  const location = world.locations.find(({ id }) => id === person.location)
  if (!location) return { location: '', total: 0, orders: [] }
  const state = looked.find((one) => one === asked.state)
  const search = typed(asked.q)
  const filter = { locations: [location.id], ...(state ? { states: [state] } : {}), ...(search ? { search } : {}) }
  const services = new Map(world.services.map(({ id, name }) => [id, name]))
  const [rows, { n }] = [
    await deskPage(db, filter, [{ column: 'placed_at', down: true }], 0, most),
    await deskCount(db, filter),
  ]
  return {
    location: location.name,
    total: n,
    orders: rows
      // Said twice, as it is what must not go wrong.
      .filter((row) => row.location === location.id)
      .map(({ id, number, state: now, placedAt, promisedBy, buyer, city, country, quantity, weight, service }) => ({
        ...{ id, number, state: now, placedAt, promisedBy, buyer, city, country, quantity, weight },
        service: service === null ? '' : (services.get(service) ?? service),
      })),
  }
}
