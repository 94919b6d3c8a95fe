import { createTranslator } from 'use-intl/core'
import type { Language } from '@/core/telling'
import { de } from './de'
import { en, type CustomerTexts } from './en'
import { fr } from './fr'
import { nl } from './nl'
import { pl } from './pl'

const texts: Readonly<Record<Language, CustomerTexts>> = { en, nl, de, fr, pl }
const made = new Map<Language, Say>()

/** Says something by its key: `say('order', { numbers })`. */
export type Say = (key: string, values?: Readonly<Record<string, string | number>>) => string

/** What says the texts of a language. */
export function sayIn(language: Language): Say {
  const known = made.get(language)
  if (known) return known
  const say = createTranslator({ locale: language, messages: texts[language] }) as unknown as Say
  made.set(language, say)
  return say
}
