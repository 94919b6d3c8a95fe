import { notationOf } from '@/core/units'

/** The locale that a browser asks for first (Accept-Language, RFC 9110), where numbers can be written in it. */
export const wantedLocale = (header: string | null): string =>
  notationOf(/^[\w-]{2,35}/.exec(header?.trim() ?? '')?.[0] ?? '').locale
