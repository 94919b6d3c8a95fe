/** GS1 check digit, modulo 10 with weights 3 and 1 from the right (GS1 General Specifications, section 7.9). */
export function gs1CheckDigit(digits: string): number {
  let sum = 0
  for (let i = 0; i < digits.length; i++) sum += Number(digits[digits.length - 1 - i]) * (i % 2 === 0 ? 3 : 1)
  return (10 - (sum % 10)) % 10
}

/** Check digit of a postal item number, modulo 11 with weights 8 6 4 2 3 5 9 7 (UPU standard S10). */
export function s10CheckDigit(serial: string): number {
  const weights = [8, 6, 4, 2, 3, 5, 9, 7]
  const sum = weights.reduce((total, weight, i) => total + weight * Number(serial[i]), 0)
  const digit = 11 - (sum % 11)
  if (digit === 10) return 0
  return digit === 11 ? 5 : digit
}
