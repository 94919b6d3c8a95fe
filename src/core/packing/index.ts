export { itemsVolume, itemsWeight, layOut, pack, type PackingWishes, packSmaller } from './pack'
export type { ParcelLimits } from './room'
export { mayHoldEach } from './goods'
export { packingMemory, type PackingMemory } from './packingMemory'
export {
  type PackagePreset,
  type Parcel,
  parcelOf,
  parcelsPhrase,
  type ParcelSums,
  type Size,
  sumParcels,
} from './parcel'
