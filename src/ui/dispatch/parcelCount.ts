import { count } from '../kit/format'

/** `1 parcel`, `2,103 parcels`. */
export const parcelCount = (n: number): string => `${count(n)} ${n === 1 ? 'parcel' : 'parcels'}`
