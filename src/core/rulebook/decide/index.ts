export { type Settled, settledCase } from './caseOfOutcome'
export { expectedOf, type PinnedOrder, type PinnedResult, runPinned } from './pinnedOrders'
export { matchMask, route } from './route'
export {
  amountToInsure,
  cheapestPacking,
  heldBy,
  leavesAt,
  lacks,
  locationBy,
  missingForCustoms,
  neededOffers,
  offersReturn,
  shipFrom,
  shipmentOf,
  type Way,
  wayBetween,
} from './settle'
export { reasonFrom, reasonInBrief } from './reasonInBrief'
