import type { World } from '@/core/world'
import type { Answer, Application } from '../shared/application'
import { changeWorld } from '../shared/changeWorld'

/** What a channel demands whatever the rules say; nothing takes the demand away. */
export const setDemand = (
  gharry: Application,
  demand: NonNullable<World['demands']>[number],
): Promise<Answer<{ version: number }>> =>
  changeWorld(gharry, null, 'What a channel demands changed', (world) => {
    const others = (world.demands ?? []).filter(({ channel }) => channel !== demand.channel)
    const { carriers = [], ...rest } = demand
    const own = carriers.length === 0 ? rest : { ...rest, carriers }
    const asks = own.byPromise || own.protected || (own.offers ?? []).length > 0 || carriers.length > 0
    return { ...world, demands: asks ? [...others, own] : others }
  })
