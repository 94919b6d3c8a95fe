import type { Service } from '@/core/rating'
import type { World } from '@/core/world'
import type { OfferedServices } from '@/adapters'
import { refuse, type Answer, type Application, type Refused } from '../shared/application'
import { changeWorld, currentWorld } from '../shared/changeWorld'

/** What a carrier says that an account of the seller may use, from where the seller is. */
export interface OwnServices {
  readonly ok: true
  readonly services: readonly (Pick<Service, 'id' | 'name'> & {
    /** Countries that it goes to from the seller's locations. */
    readonly to: number
    readonly priced: boolean
    /** It is set up already. */
    readonly known: boolean
  })[]
}

/** Asks a carrier for its services. */
export async function showOwnServices(gharry: Application, carrier: string): Promise<Answer<OwnServices>> {
  const asked = await ask(gharry, carrier)
  if ('code' in asked) return asked
  const { world } = await currentWorld(gharry.db)
  return {
    ok: true,
    services: fromHere(asked, world).services.map(({ id, name, zones }) => ({
      ...{ id, name },
      to: new Set(zones.map(({ to }) => to)).size,
      priced: asked.tariffs.some(({ service }) => service === id),
      known: world.services.some((service) => service.id === id),
    })),
  }
}

/** Takes services with their prices into the world, at the locations that they collect from. */
export async function takeOwnServices(
  gharry: Application,
  carrier: string,
  ids: readonly string[],
): Promise<Answer<{ version: number; taken: number }>> {
  const asked = await ask(gharry, carrier)
  if ('code' in asked) return asked
  let taken = 0
  const answer = await changeWorld(gharry, null, 'Services of a carrier were taken', (world): World | Refused => {
    const { services, tariffs } = fromHere(asked, world)
    const fresh = services.filter(({ id }) => ids.includes(id) && !world.services.some((known) => known.id === id))
    if (fresh.length === 0) return refuse('missing', 'None of these services is offered, or all are there already.')
    taken = fresh.length
    const priced = tariffs.filter(({ service }) => fresh.some(({ id }) => id === service))
    return {
      ...world,
      services: [...world.services, ...fresh.map((service) => ({ ...service, carrier }))],
      tariffs: [...world.tariffs, ...priced],
    }
  })
  return answer.ok ? { ...answer, taken } : answer
}

async function ask(gharry: Application, carrier: string): Promise<OfferedServices | Refused> {
  const client = await gharry.carrier(carrier)
  if (!client) return refuse('unknown-carrier', 'Connect an account of this carrier first.')
  if (!client.services)
    return refuse('missing', 'This carrier’s interface does not list its services: add them by hand, or from a file.')
  const result = await client.services()
  return result.ok ? result.body : refuse('not-reached', result.sentence)
}

/** What of an offer begins where the seller has a location. */
function fromHere({ services, tariffs }: OfferedServices, { locations, rates }: World): OfferedServices {
  const open = locations.filter(({ retired }) => !retired)
  const home = new Set(open.map(({ country }) => country))
  return {
    services: services
      .map((service) => ({ ...service, zones: service.zones.filter(({ from }) => home.has(from)) }))
      .filter(({ zones }) => zones.length > 0)
      .map((service) => ({
        ...service,
        locations: open.filter(({ country }) => service.zones.some(({ from }) => from === country)).map(({ id }) => id),
      })),
    tariffs: tariffs.filter(({ currency }) => currency === rates.home || (rates.micro[currency] ?? 0) > 0),
  }
}
