export type { Placement } from './fill'
export * from './pack'
export * from './parcel'
