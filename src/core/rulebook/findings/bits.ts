/** A set of classes: a bit for each, in words of 32. */
export type Bits = Int32Array

/** A set of numbers below `size`, empty. */
export const noBits = (size: number): Bits => new Int32Array(Math.ceil(size / 32))

/** A set of all numbers below `size`. */
export function allBits(size: number): Bits {
  const bits = noBits(size).fill(-1)
  if (size & 31) bits[bits.length - 1] = (1 << (size & 31)) - 1
  return bits
}

/** Puts a number into a set, in place. */
export function addBit(bits: Bits, index: number): void {
  bits[index >>> 5]! |= 1 << (index & 31)
}

/** Whether a number is in a set. */
export const hasBit = (bits: Bits, index: number): boolean => (bits[index >>> 5]! & (1 << (index & 31))) !== 0

/** What is in both sets, as a new one. */
export function and(a: Bits, b: Bits): Bits {
  const out = new Int32Array(a.length)
  for (let i = 0; i < a.length; i++) out[i] = a[i]! & b[i]!
  return out
}

/** What is in either set, as a new one. */
export function or(a: Bits, b: Bits): Bits {
  const out = new Int32Array(a.length)
  for (let i = 0; i < a.length; i++) out[i] = a[i]! | b[i]!
  return out
}

/** What is in the first set and not in the second, as a new one. */
export function without(a: Bits, b: Bits): Bits {
  const out = new Int32Array(a.length)
  for (let i = 0; i < a.length; i++) out[i] = a[i]! & ~b[i]!
  return out
}

/** Whether nothing is in a set. */
export function isEmpty(bits: Bits): boolean {
  for (let i = 0; i < bits.length; i++) if (bits[i] !== 0) return false
  return true
}

/** Whether two sets have a member in common. */
export function meet(a: Bits, b: Bits): boolean {
  for (let i = 0; i < a.length; i++) if ((a[i]! & b[i]!) !== 0) return true
  return false
}

/** Whether every member of `a` is one of `b`. */
export function within(a: Bits, b: Bits): boolean {
  for (let i = 0; i < a.length; i++) if ((a[i]! & ~b[i]!) !== 0) return false
  return true
}

/** The first member; -1 when there is none. */
export function firstBit(bits: Bits): number {
  for (let i = 0; i < bits.length; i++) if (bits[i] !== 0) return (i << 5) + 31 - Math.clz32(bits[i]! & -bits[i]!)
  return -1
}
