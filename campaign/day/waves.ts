/**
 * When the orders of a day come in: three waves, as mornings, noons and evenings have them, and a letter to all customers
 * that brings a seventh of the day within a twentieth of its time. Gives how many of `total` have come by a share of the
 * day, from 0 to 1.
 */
export function arrivedBy(share: number, total: number): number {
  const at = Math.min(1, Math.max(0, share))
  const three = at - (0.8 / (6 * Math.PI)) * Math.sin(6 * Math.PI * at)
  const letter = Math.min(1, Math.max(0, (at - 0.7) / 0.05))
  return Math.round(total * ((6 / 7) * three + letter / 7))
}
