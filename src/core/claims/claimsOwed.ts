import { type MinorUnits, minorUnits } from '@/core/units'
import { dayOf, dayText } from '@/core/calendar'
import type { Service } from '@/core/rating'

export type ClaimKind = 'late' | 'lost' | 'damaged'

/** A parcel as its carrier had it. Amounts in minor units of the home currency; days `YYYY-MM-DD`. */
export interface Consigned {
  readonly charged: MinorUnits
  /** Of a shipment of several parcels, how many; the charge is shared. */
  readonly parcels: number
  /** What is in it is worth, and for what it was insured besides the cover that comes with the service. */
  readonly value: MinorUnits
  readonly insured: MinorUnits
  readonly shippedOn: string
  readonly foreseen: string | null
  readonly deliveredOn: string | null
  /** The carrier says that it is lost. */
  readonly saidLost: boolean
  /** The last day on which the carrier saw it. */
  readonly seenOn: string
  /** The customer said that it was damaged, or that something was missing: on this day. */
  readonly damagedOn: string | null
}

export interface Claim {
  readonly kind: ClaimKind
  readonly amount: MinorUnits
  readonly claimBy: string
  /** Why, in a sentence that the carrier can check. */
  readonly reason: string
}

const after = (day: string, days: number): string => dayText(dayOf(day) + days)

/**
 * What is owed for a parcel on a day, by the terms of its service; nothing where the service has none, where its time
 * is over, or where what is owed comes to nothing.
 */
export function claimsOwed(
  { claims, cover }: Pick<Service, 'claims' | 'cover'>,
  parcel: Consigned,
  today: string,
): Claim[] {
  if (!claims) return []
  const { charged, parcels, foreseen, deliveredOn, seenOn } = parcel
  const share = Math.floor(charged / Math.max(1, parcels))
  const covered = Math.min(parcel.value, Math.max(parcel.insured, cover.included))
  const owed: Claim[] = []
  const add = (kind: ClaimKind, amount: number, claimBy: string, reason: string): void => {
    if (amount > 0 && claimBy >= today) owed.push({ kind, amount: minorUnits(amount), claimBy, reason })
  }
  if (claims.late && foreseen !== null && deliveredOn !== null && deliveredOn > foreseen)
    add(
      'late',
      Math.floor((share * claims.late.permille) / 1000),
      after(foreseen, claims.late.within),
      `guaranteed for ${foreseen}, delivered on ${deliveredOn}`,
    )
  const { lost } = claims
  const missing = lost && deliveredOn === null && after(seenOn, lost.after) <= today
  if (lost && deliveredOn === null && (parcel.saidLost || missing))
    add(
      'lost',
      covered + share,
      after(parcel.shippedOn, lost.within),
      parcel.saidLost ? `the carrier says that it is lost` : `not seen since ${seenOn}`,
    )
  if (claims.damaged && deliveredOn !== null && parcel.damagedOn !== null)
    add(
      'damaged',
      covered,
      after(deliveredOn, claims.damaged.within),
      `delivered on ${deliveredOn}, reported on ${parcel.damagedOn}`,
    )
  return owed
}
