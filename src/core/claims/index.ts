/** The face of claims: what other rooms may use. */
export { claimsOwed, type Consigned } from './claimsOwed'
