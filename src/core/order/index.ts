export { combineKey, combineOrders, type Member, memberLine } from './combineKey'
export { continentOf, countryCode, countryName } from './country'
export { glob } from './glob'
export { itemKey, listKey } from './itemKey'
export { emptyCard, itemColumns, type ItemProblem, type ItemRow, readItemTable, writeItemTable } from './itemTable'
export { type LearnedWeight, learnWeights } from './learnItems'
export { type ItemCard, normaliseOrder, type RawItem, type RawOrder, type Wishes, withCards } from './normalise'
export {
  type Address,
  closedAs,
  type ComesBack,
  type Handling,
  handlings,
  isHandled,
  type Item,
  type Order,
  type OrderProblem,
  type OrderState,
  overStates,
  unNumbers,
  unshippedStates,
  waitingStates,
} from './order'
export { orderSchema } from './schema'
export { hasCheckDigit, isGtin } from './gtin'
export { takenOut, withoutBuyer } from './withoutBuyer'
export { cleanText, cutText, foldText, isBlank, plainText, postcodeKey, trimSigns } from './text'
