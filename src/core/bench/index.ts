/** The face of the bench: what other rooms may use. */
export { type BenchLine, type BenchParcel, isComplete, isNear, judgeScan, weightTolerance } from './judge'
export { readCode } from './readCode'
