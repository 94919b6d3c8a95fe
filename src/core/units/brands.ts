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

/** The three sides of something. */
export type Size = readonly [Millimetres, Millimetres, Millimetres]

/** Whole grams; what is between is rounded. */
export const grams = (n: number): Grams => Math.round(n) as Grams
/** Whole millimetres; what is between is rounded. */
export const millimetres = (n: number): Millimetres => Math.round(n) as Millimetres
/** Whole minor units of a currency; what is between is rounded. */
export const minorUnits = (n: number): MinorUnits => Math.round(n) as MinorUnits

/** As it is written down: the same shape with plain numbers where grams, millimetres or minor units are meant. */
export type Plain<T> = T extends number
  ? number
  : T extends (...given: never[]) => unknown
    ? T
    : T extends object
      ? { [K in keyof T]: Plain<T[K]> }
      : T

/** Takes what is written down in whole grams, millimetres and minor units for what it is: tables, demo data, tests. */
export const measured = <T>(plain: NoInfer<Plain<T>>): T => plain as T
