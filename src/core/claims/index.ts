/** The face of claims: what other rooms may use. */
export { type Claim, claimKinds, type ClaimKind, claimsOwed, type Consigned } from './claimsOwed'
