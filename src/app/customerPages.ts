import { LRUCache } from 'lru-cache'
import type { Language } from '@/core/telling'
import { drawCustomerPage } from '@/ui/customer/draw'
import { type ParcelView, trackByLink } from '@/usecases/tracking/trackParcel'
import { theApplication } from './application'

/*
 * A letter that says “your parcel is on its way” is opened by many at once, and again and again, by programs too. A
 * page that was drawn is kept for some seconds: that is how late news may be. What its customer writes is on it at
 * once.
 */
interface Drawn {
  readonly view: ParcelView
  readonly pages: Map<Language, string>
}
const keptMs = 5000
const kept = new LRUCache<string, Drawn>({ max: 1000, ttl: keptMs })

/**
 * The page behind a link, in the language that `languageOf` chooses where its customer's own is so; null where it leads
 * nowhere.
 */
export async function drawnPage(
  token: string,
  languageOf: (usual: Language) => Language,
): Promise<{ readonly html: string; readonly language: Language } | null> {
  let drawn = kept.get(token)
  if (!drawn) {
    const view = await trackByLink(await theApplication(), token)
    if (!view) return null
    drawn = { view, pages: new Map() }
    kept.set(token, drawn)
  }
  const language = languageOf(drawn.view.language)
  const html = drawn.pages.get(language) ?? drawCustomerPage(drawn.view, language)
  drawn.pages.set(language, html)
  return { html, language }
}

/** Its customer has written: the page is drawn anew. */
export const drawAnew = (token: string): void => void kept.delete(token)
