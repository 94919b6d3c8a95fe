import { isHandled } from '@/core/order'
import type { Goods } from './goods'
import { type PackagePreset, type Parcel, parcelOf } from './parcel'

/**
 * Grams that corrections and inserts add to packed parcels. What is added goes into the first parcel with room for all
 * of it, else as much as fits into each from the first on; what is taken off comes off the goods of each parcel in
 * proportion. So the parcels together weigh what the order weighs, and none weighs nothing. Null when there is no room
 * for it. `roomIn` says how many grams a parcel may still take, `tareOf` what its packaging weighs.
 */
export function withAdded(
  parcels: readonly Parcel[],
  added: number,
  roomIn: (parcel: Parcel) => number,
  tareOf: (parcel: Parcel) => number,
): readonly Parcel[] | null {
  if (added === 0 || parcels.length === 0) return parcels
  return added > 0 ? loaded(parcels, added, roomIn) : lightened(parcels, -added, tareOf)
}

function loaded(
  parcels: readonly Parcel[],
  added: number,
  roomIn: (parcel: Parcel) => number,
): readonly Parcel[] | null {
  const rooms = parcels.map((parcel) => Math.max(0, roomIn(parcel)))
  const whole = rooms.findIndex((room) => room >= added)
  if (whole >= 0) return parcels.map((parcel, i) => (i === whole ? heavier(parcel, added) : parcel))
  if (rooms.reduce((sum, room) => sum + room, 0) < added) return null
  let left = added
  return parcels.map((parcel, i) => {
    const part = Math.min(left, rooms[i]!)
    left -= part
    return part === 0 ? parcel : heavier(parcel, part)
  })
}

function lightened(parcels: readonly Parcel[], off: number, tareOf: (parcel: Parcel) => number): readonly Parcel[] {
  const goods = parcels.map((parcel) => Math.max(0, parcel.weight - tareOf(parcel)))
  const before = goods.reduce((sum, weight) => sum + weight, 0)
  if (before === 0) return parcels
  const after = Math.max(0, before - off)
  const shares = goods.map((weight) => Math.floor((weight * after) / before))
  let dust = after - shares.reduce((sum, share) => sum + share, 0)
  return parcels.map((parcel, i) => {
    const share = shares[i]! + (dust-- > 0 ? 1 : 0)
    return heavier(parcel, Math.max(1, tareOf(parcel) + share) - parcel.weight)
  })
}

const heavier = (parcel: Parcel, by: number): Parcel =>
  parcelOf(parcel.preset, parcel.size, parcel.weight + by, parcel.contents)

/** What carriers ask of each parcel by its goods; parcels of orders without such goods stay as they are. */
export function marked(parcels: readonly Parcel[], items: readonly Goods[]): readonly Parcel[] {
  if (!items.some((item) => item.dangerousGoods !== '' || isHandled(item, 'not stackable'))) return parcels
  return parcels.map((parcel) => {
    const inside = parcel.contents.map(({ item }) => items[item]!)
    return {
      ...parcel,
      dangerousGoods: [...new Set(inside.map(({ dangerousGoods }) => dangerousGoods).filter(Boolean))],
      notStackable: inside.some((item) => isHandled(item, 'not stackable')),
    }
  })
}

/** The own weight of the preset that a parcel is packed in, grams; 0 where it is in none. */
export const tareIn =
  (presets: readonly PackagePreset[]) =>
  (parcel: Parcel): number =>
    presets.find(({ id }) => id === parcel.preset)?.tare ?? 0
