import { openGharry, type Gharry } from '@/usecases/gharry'

/** One Gharry for the whole server process; kept across reloads of modules in development. */
const place = globalThis as { gharryOpen?: Promise<Gharry> }

export function theGharry(): Promise<Gharry> {
  place.gharryOpen ??= openGharry()
  return place.gharryOpen
}
