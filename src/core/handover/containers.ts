import { gs1CheckDigit } from '@/core/papers'

/** How many units a company prefix can number with one extension digit. */
export const mostUnits = (prefix: string): number => 10 ** (16 - prefix.length)

/**
 * A Serial Shipping Container Code: extension digit 0, the GS1 company prefix (4 to 12 digits), a serial number and the
 * check digit (GS1 General Specifications, 3.3.1). 18 digits. Serials begin anew when all were used: a code is free
 * again after a year.
 * @example ssccOf('5412345', 1) // '054123450000000017'
 */
export function ssccOf(prefix: string, serial: number): string {
  if (!/^\d{4,12}$/.test(prefix)) throw new RangeError('A GS1 company prefix has 4 to 12 digits.')
  const digits = `0${prefix}${String(serial % mostUnits(prefix)).padStart(16 - prefix.length, '0')}`
  return `${digits}${gs1CheckDigit(digits)}`
}

/**
 * The code of a container where the seller has no company prefix: of its own, for this house alone.
 * @example containerCode(12, 3) // 'C12-3'
 */
export const containerCode = (manifest: number, nth: number): string => `C${manifest}-${nth}`

/** Whether a text is the code of a container as `containerCode` writes it. */
export const isContainerCode = (text: string): boolean => /^C\d{1,9}-\d{1,5}$/i.test(text)
