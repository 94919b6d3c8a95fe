/** The face of the bench: what other rooms may use. */
export { type BenchLine, type BenchParcel, isComplete, isNear, judgeScan, weightTolerance } from './judge'
export { parcelNumbers, readCode } from './readCode'
