/** The face of the bench: what other rooms may use. */
export { type BenchLine, type BenchParcel, isComplete, isNear, judgeScan, type Verdict, weightTolerance } from './judge'
export { type Code, readCode } from './readCode'
