/** The face of the arrival that will be: what other rooms may use. */
export { arrivalBook, type ArrivalBook, type LaneArrivals } from './arrivalBook'
