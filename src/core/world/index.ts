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
export { emptyWorld, firstZone, readyWorld, type ReadyWorld, type World } from './world'
export { serviceSchema, slipSchema, wordingTables, worldSchema } from './worldSchema'
