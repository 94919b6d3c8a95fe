import type { World } from './world'

/** The services that buyers fetch from. */
export const fetchedServices = ({ services }: Pick<World, 'services'>): readonly string[] =>
  services.filter(({ fetched }) => fetched).map(({ id }) => id)

/** Whether a carrier is one's own counter: all its services are fetched, so no driver comes for them. */
export const isCounter = ({ services }: Pick<World, 'services'>, carrier: string): boolean => {
  const own = services.filter((service) => service.carrier === carrier)
  return own.length > 0 && own.every(({ fetched }) => fetched)
}
