export { checkTariffs, type TariffFinding } from './checkTariffs'
export { chooseQuote, keeps, type Pick, pickSchema, type Speed, speeds } from './chooseService'
export { compileRates, type End, type RateBook } from './compileRates'
export { type DutyEstimate, type DutyRate, estimateDuties } from './duties'
export { nextCutOff } from './nextCutOff'
export {
  arrivesAt,
  type Asked,
  askedOf,
  costOf,
  costSize,
  endFor,
  leastCost,
  noQuote,
  type Quote,
  quoteAll,
  quoteOne,
  type Refusal,
  type RefusalCode,
  type Shipment,
} from './quote'
export { quoteColumns, type ShipmentColumns } from './shipmentColumns'
export {
  type Band,
  type Carrier,
  type ChannelDemand,
  labelFormats,
  type Location,
  type Offer,
  offers,
  type Punctuality,
  type Service,
  type Surcharge,
  surchargeKinds,
  type Tariff,
  type Zone,
  type ZonePrice,
} from './tariff'
export { surchargeLines, differencesOf, mergeTariffs, type TariffDifference } from './tariffDifference'
export { readTariffTable, type TableProblem, tariffColumns, writeTariffTable } from './tariffTable'
export { readZoneTable, zoneColumns, type ZoneRow, writeZoneTable } from './zoneTable'
