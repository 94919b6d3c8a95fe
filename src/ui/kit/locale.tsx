'use client'
import { createContext, use, type ReactNode } from 'react'
import { english, type Notation, notationOf, signIn, usualHome } from '@/core/units'

/*
 * The locale of the reader: what their browser asks for first (Accept-Language). The page's root carries it, so that the
 * first drawing on the server and those in the browser write the same numbers.
 */
const Locale = createContext(english.locale)

export function LocaleProvider({ locale, children }: { locale: string; children: ReactNode }) {
  return <Locale value={locale}>{children}</Locale>
}

/** In the browser there is one reader; on the server, one for each page that is being drawn. */
export const locale = (): string =>
  typeof document === 'undefined'
    ? // eslint-disable-next-line react-hooks/rules-of-hooks -- A context may be read anywhere in a drawing.
      use(Locale)
    : (document.documentElement.dataset.locale ?? english.locale)

/** How the reader writes numbers, amounts and measures. */
export const notation = (): Notation => notationOf(locale())

/*
 * The home currency of the seller, in which all books are kept. The line around the screens carries it, for the same
 * reason.
 */
const Home = createContext(usualHome)

export function HomeProvider({ currency, children }: { currency: string; children: ReactNode }) {
  return (
    <Home value={currency}>
      <div data-home={currency} className="contents">
        {children}
      </div>
    </Home>
  )
}

/** The code of the home currency (ISO 4217). */
export const home = (): string =>
  typeof document === 'undefined'
    ? // eslint-disable-next-line react-hooks/rules-of-hooks -- A context may be read anywhere in a drawing.
      use(Home)
    : (document.querySelector<HTMLElement>('[data-home]')?.dataset.home ?? usualHome)

/** How the reader writes the home currency: `€`, `£`, `PLN`. */
export const homeSign = (): string => signIn(locale(), home())
