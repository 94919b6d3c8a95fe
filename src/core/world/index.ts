export { fetchedServices, isCounter } from './counters'
export {
  isMapped,
  readyWordings,
  rowGoesTo,
  rowsAbout,
  rowWeighs,
  type WordingMeaning,
  wordingRow,
  type WordingRow,
  type WordingTable,
} from './wordings'
export { emptyWorld, firstLocation, firstZone, readyWorld, type ReadyWorld, withoutRetired, type World } from './world'
export { type Outage, type OutageKind, outagesNow, worldAt } from './outages'
export { papers, usualSeller } from './seller'
export {
  carrierSchema,
  locationSchema,
  outageSchema,
  presetSchema,
  sellerSchema,
  serviceSchema,
  slipSchema,
  tariffSchema,
  wordingTables,
  worldSchema,
} from './worldSchema'
export { printedLocation } from './printedLocation'
