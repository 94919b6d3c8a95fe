/**
 * Branded integers, so that grams, millimetres and minor units of money cannot be mixed.
 * They are plain numbers at run time.
 */
declare const unit: unique symbol

/** Whole grams. */
export type Grams = number & { readonly [unit]: 'g' }
/** Whole millimetres. */
export type Millimetres = number & { readonly [unit]: 'mm' }
/** Whole minor units of some currency (cents for EUR, yen for JPY). */
export type MinorUnits = number & { readonly [unit]: 'minor' }

/** Whole grams; what is between is rounded. */
export const grams = (n: number): Grams => Math.round(n) as Grams
/** Whole millimetres; what is between is rounded. */
export const millimetres = (n: number): Millimetres => Math.round(n) as Millimetres
/** Whole minor units of a currency; what is between is rounded. */
export const minorUnits = (n: number): MinorUnits => Math.round(n) as MinorUnits
