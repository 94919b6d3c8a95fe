/** Whether a text is a GTIN of 8, 12, 13 or 14 digits with the right check digit (GS1 General Specifications, 7.9). */
export const isGtin = (text: string): boolean => /^(?:\d{8}|\d{12,14})$/.test(text) && hasCheckDigit(text)

/** Whether the last digit is the check digit of those before it (GS1 General Specifications, 7.9). */
export const hasCheckDigit = (digits: string): boolean =>
  [...digits].reverse().reduce((sum, digit, i) => sum + Number(digit) * (i % 2 === 0 ? 1 : 3), 0) % 10 === 0
