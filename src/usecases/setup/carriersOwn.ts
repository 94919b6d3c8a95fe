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
    /** The currency of its prices, where there is no exchange rate of it: they cannot be taken yet. */
    readonly noRate: string | null
    /** It is set up already, with all that can be taken. */
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
    services: fromHere(asked, world).services.map((service) => {
      const { id, name, zones } = service
      const currencies = asked.tariffs.filter((tariff) => tariff.service === id).map(({ currency }) => currency)
      return {
        ...{ id, name, to: new Set(zones.map(({ to }) => to)).size, priced: currencies.length > 0 },
        noRate: currencies.find((currency) => !hasRate(world, currency)) ?? null,
        known: isWhole(service, asked, world),
      }
    }),
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
    const wanted = services.filter((service) => ids.includes(service.id) && !isWhole(service, asked, world))
    if (wanted.length === 0) return refuse('missing', 'None of these services is offered, or all are there already.')
    taken = wanted.length
    const fresh = wanted.filter(({ id }) => !world.services.some((known) => known.id === id))
    const priced = tariffs.filter(
      ({ service }) => wanted.some(({ id }) => id === service) && !hasPrices(world, service),
    )
    return {
      ...world,
      services: [...world.services, ...fresh.map((service) => ({ ...service, carrier }))],
      tariffs: [...world.tariffs, ...priced],
    }
  })
  return answer.ok ? { ...answer, taken } : answer
}

const hasRate = ({ rates }: World, currency: string): boolean =>
  currency === rates.home || (rates.micro[currency] ?? 0) > 0
const hasPrices = ({ tariffs }: World, service: string): boolean => tariffs.some((tariff) => tariff.service === service)

/** Whether a service is set up with its prices, where these can be taken. */
const isWhole = ({ id }: Service, offered: OfferedServices, world: World): boolean =>
  world.services.some((known) => known.id === id) &&
  (hasPrices(world, id) || !fromHere(offered, world).tariffs.some(({ service }) => service === id))

async function ask(gharry: Application, carrier: string): Promise<OfferedServices | Refused> {
  const client = await gharry.carrier(carrier)
  if (!client) return refuse('unknown-carrier', 'Connect an account of this carrier first.')
  if (!client.services)
    return refuse('missing', 'This carrier’s interface does not list its services: add them by hand, or from a file.')
  const result = await client.services()
  return result.ok ? result.body : refuse('not-reached', result.sentence)
}

/** What of an offer begins where the seller has a location. */
function fromHere({ services, tariffs }: OfferedServices, world: World): OfferedServices {
  const { locations } = world
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
    tariffs: tariffs.filter(({ currency }) => hasRate(world, currency)),
  }
}
