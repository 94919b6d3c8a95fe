export {
  grams,
  type Grams,
  measured,
  millimetres,
  type Millimetres,
  minorUnits,
  type MinorUnits,
  type Plain,
  type Size,
} from './brands'
export {
  formatLength,
  formatWeight,
  parseLength,
  parseSize,
  parseWeight,
  plainLength,
  plainWeight,
  toGrams,
  toMillimetres,
} from './measure'
export {
  type Conversion,
  conversionTo,
  convert,
  currencySign,
  formatMoney,
  leastBefore,
  minorDigits,
  money,
  type Money,
  parseAmount,
  plainAmount,
  type Rates,
  toHome,
  usualHome,
} from './money'
export { english, type Notation, notationOf, signIn, type UnitSystem, unitSystems } from './notation'
export { schemaOf } from './schema'
export { ambiguity, type DecimalSign, readNumber, toNumber } from './number'
