import type { Role } from '@/core/people'

/** Where somebody begins who has just signed in. */
export const homeOf = (role: Role): string => {
  if (role === 'packer') return '/bench'
  if (role === 'accountant') return '/ledger'
  return role === 'partner' ? '/orders' : '/desk'
}

/** An address of Gharry's own to go on to; instead of any other one, `otherwise`. */
export const ownAddress = (to: string | undefined, otherwise: string): string =>
  to && /^\/(?![/\\])[^\\\u0000-\u001f]{0,2000}$/.test(to) && !/^\/(?:api|sign-in|welcome)\b/.test(to) ? to : otherwise
