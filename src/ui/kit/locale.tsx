'use client'
import { createContext, use, useMemo, type ReactNode } from 'react'
import { english, type Notation, notationOf, signIn, type UnitSystem, usualHome } from '@/core/units'

/*
 * The locale of the reader: what their browser asks for first (Accept-Language). The page's root carries it, so that
 * the first drawing on the server and those in the browser write the same numbers.
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
export const notation = (): Notation => notationOf(locale(), units())

/*
 * What of the seller is on every screen: the home currency, in which all books are kept, and the units of weights and
 * lengths. The line around the screens carries it, for the same reason.
 */
interface House {
  readonly home: string
  readonly units: UnitSystem
  /** What is in the printers. */
  readonly paper: 'A4' | 'Letter'
}
const usualHouse: House = { home: usualHome, units: 'metric', paper: 'A4' }
const TheHouse = createContext(usualHouse)

export function HouseProvider({ home, units, paper, children }: House & { children: ReactNode }) {
  const house = useMemo(() => ({ home, units, paper }), [home, units, paper])
  return (
    <TheHouse value={house}>
      <div data-home={home} data-units={units} data-paper={paper} className="contents">
        {children}
      </div>
    </TheHouse>
  )
}

const onPage = (name: keyof House): string | undefined =>
  document.querySelector<HTMLElement>('[data-home]')?.dataset[name]

/** The code of the home currency (ISO 4217). */
export const home = (): string =>
  typeof document === 'undefined'
    ? // eslint-disable-next-line react-hooks/rules-of-hooks -- A context may be read anywhere in a drawing.
      use(TheHouse).home
    : (onPage('home') ?? usualHouse.home)

/** In which units weights and lengths are shown and, without one, read. */
export const units = (): UnitSystem =>
  typeof document === 'undefined'
    ? // eslint-disable-next-line react-hooks/rules-of-hooks -- A context may be read anywhere in a drawing.
      use(TheHouse).units
    : ((onPage('units') as UnitSystem | undefined) ?? usualHouse.units)

/** The paper of the seller's printers. */
export const paper = (): House['paper'] =>
  typeof document === 'undefined'
    ? // eslint-disable-next-line react-hooks/rules-of-hooks -- A context may be read anywhere in a drawing.
      use(TheHouse).paper
    : ((onPage('paper') as House['paper'] | undefined) ?? usualHouse.paper)

/** How the reader writes the home currency: `€`, `£`, `PLN`. */
export const homeSign = (): string => signIn(locale(), home())
