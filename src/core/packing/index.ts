export { itemsVolume, itemsWeight, layOut, pack, type PackingWishes, packSmaller, type ParcelLimits } from './pack'
export { mayHoldEach } from './goods'
export { packedWays, packingMemory, type PackingMemory } from './packingMemory'
export {
  type PackagePreset,
  type Parcel,
  parcelOf,
  parcelsPhrase,
  type ParcelSums,
  type Size,
  sumParcels,
} from './parcel'
