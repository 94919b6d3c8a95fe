export { grams, type Grams, millimetres, type Millimetres, minorUnits, type MinorUnits } from './brands'
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
export { ambiguity, type DecimalSign, readNumber, toNumber } from './number'
