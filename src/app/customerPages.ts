import { LRUCache } from 'lru-cache'
import type { Language } from '@/core/telling'
import { drawCustomerPage } from '@/ui/customer/draw'
import { type ParcelView, stateBehind, trackByLink } from '@/usecases/tracking/trackParcel'
import { theApplication } from './application'

/*
 * A letter that says “your parcel is on its way” is opened by many at once, and again and again, by programs too. A
 * page that was drawn is kept for a minute while nothing has changed that it shows, which is asked for in one question;
 * one with what its customer sends back for some seconds only. What they write is on it at once.
 */
interface Drawn {
  readonly view: ParcelView
  readonly state: string
  /** When it was last known to show what is so. */
  readonly at: number
  readonly pages: Map<Language, string>
}
const keptMs = 60_000
const keptShortlyMs = 5000
/** Within so many milliseconds nobody asks again. */
const askedMs = 1000
const kept = new LRUCache<string, Drawn>({ max: 2000 })

/**
 * The page behind a link, in the language that `languageOf` chooses where its customer's own is so; null where it leads
 * nowhere.
 */
export async function drawnPage(
  token: string,
  languageOf: (usual: Language) => Language,
): Promise<{ readonly html: string; readonly language: Language } | null> {
  const drawn = await current(token)
  if (!drawn) return null
  const language = languageOf(drawn.view.language)
  const html = drawn.pages.get(language) ?? drawCustomerPage(drawn.view, language)
  drawn.pages.set(language, html)
  return { html, language }
}

/** What was drawn of a page, where it is still so; else it is looked at anew. */
async function current(token: string): Promise<Drawn | null> {
  const before = kept.get(token)
  const now = performance.now()
  if (before && now - before.at < askedMs) return before
  const gharry = await theApplication()
  // Read before the page: what changes meanwhile is seen the next time.
  const state = await stateBehind(gharry, token)
  if (before?.state === state) {
    const still = { ...before, at: now }
    kept.set(token, still, { noUpdateTTL: true })
    return still
  }
  const view = await trackByLink(gharry, token)
  kept.delete(token)
  if (!view) return null
  const fresh = { view, state, at: now, pages: new Map<Language, string>() }
  kept.set(token, fresh, { ttl: view.back.returns.length > 0 ? keptShortlyMs : keptMs })
  return fresh
}

/** Its customer has written: the page is drawn anew. */
export const drawAnew = (token: string): void => void kept.delete(token)
