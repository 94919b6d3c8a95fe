/**
 * A carrier of the simulated world: `carrier.ts` puts its counters together, the other files have one of them each. What
 * is plain data or computing (`price`, `habits`, `depots`) is taken from its file, without the server.
 */
export { carrierStandIn } from './carrier'
export type { CarrierLabel } from './label'
export type { CarrierReturn } from './returns'
export { carrierSettings } from './settings'
