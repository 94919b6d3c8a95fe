import { demoCarriers, demoServices, demoTariffs } from '../../demo/carriers'
import { thistledownServices, thistledownTariffs } from '../../demo/thistledown'
import { demoWorld } from '../../demo/world'
import type { CarrierSettings } from './office'
import { carrierHabits } from './habits'

/** A carrier of the demo's world, by its own services, tariffs and habits. */
export const carrierSettings = (id: string, file: string, token: string): CarrierSettings => ({
  id,
  file,
  token,
  name: demoCarriers.find((carrier) => carrier.id === id)?.name ?? id,
  habits: carrierHabits[id]!,
  services: [...demoServices, ...thistledownServices].filter((service) => service.carrier === id),
  tariffs: [...demoTariffs, ...thistledownTariffs],
  homePerUnit: (currency) => (currency === demoWorld.rates.home ? 1 : (demoWorld.rates.micro[currency] ?? NaN) / 1e6),
})
