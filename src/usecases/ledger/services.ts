import type { Service } from '@/core/rating'
import { serviceSchema, type World } from '@/core/world'
import { listChannels, newestWorld } from '@/data'
import { changeWorld } from '../shared/changeWorld'
import { refuse, type Answer, type Application } from '../shared/application'

export interface ServicesView {
  readonly version: number
  readonly carriers: World['carriers']
  readonly services: readonly Service[]
  readonly locations: readonly { readonly id: string; readonly name: string }[]
  readonly channels: readonly { readonly id: string; readonly name: string }[]
  readonly demands: NonNullable<World['demands']>
}

/** What services take, offer and when they collect; and what channels demand of every service. */
export async function showServices(gharry: Application): Promise<ServicesView | null> {
  const newest = await newestWorld(gharry.db)
  if (!newest) return null
  const { world, version } = newest
  return {
    version,
    carriers: world.carriers,
    services: world.services,
    locations: world.locations.map(({ id, name }) => ({ id, name })),
    channels: (await listChannels(gharry.db)).map(({ id, name }) => ({ id, name })),
    demands: world.demands ?? [],
  }
}

/** Takes a changed service; the waiting orders are routed again. */
export async function saveService(
  gharry: Application,
  given: unknown,
  version: number,
): Promise<Answer<{ version: number }>> {
  const parsed = serviceSchema.safeParse(given)
  if (!parsed.success) {
    const issue = parsed.error.issues[0]!
    return refuse('bad-service', `${issue.path.join(' › ')} ${issue.message}.`)
  }
  const service = parsed.data as Service
  return changeWorld(gharry, version, `The service ${service.name} changed`, (world) => {
    if (!world.services.some(({ id }) => id === service.id))
      return refuse('unknown-service', `There is no service "${service.id}".`)
    const unknown = [...service.locations, ...(service.collections ?? []).map(({ location }) => location)].find(
      (id) => !world.locations.some((location) => location.id === id),
    )
    if (unknown) return refuse('unknown-location', `There is no location "${unknown}".`)
    if (service.cover.included > service.cover.upTo)
      return refuse('bad-cover', 'The cover that is included is more than the most that can be had.')
    return { ...world, services: world.services.map((other) => (other.id === service.id ? service : other)) }
  })
}

/** What a channel demands whatever the rules say; nothing takes the demand away. */
export const setDemand = (
  gharry: Application,
  demand: NonNullable<World['demands']>[number],
  version: number,
): Promise<Answer<{ version: number }>> =>
  changeWorld(gharry, version, 'What a channel demands changed', (world) => {
    const others = (world.demands ?? []).filter(({ channel }) => channel !== demand.channel)
    return { ...world, demands: demand.byPromise || (demand.offers ?? []).length > 0 ? [...others, demand] : others }
  })
