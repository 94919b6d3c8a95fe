import type { Metadata } from 'next'
import { headers } from 'next/headers'
import type { ReactNode } from 'react'
import '@fontsource-variable/commissioner/wght.css'
import '@fontsource/b612-mono/latin-400.css'
import '@fontsource/b612-mono/latin-700.css'
import { LocaleProvider } from '@/ui/kit/locale'
import { wantedLocale } from './wantedLocale'
import { personHere } from './who'
import './globals.css'
import { preload } from 'react-dom'
import latin from '@fontsource-variable/commissioner/files/commissioner-latin-wght-normal.woff2'

export const metadata: Metadata = {
  title: { default: 'Gharry', template: '%s · Gharry' },
  description: 'Rules that route orders, buy labels and tell the world',
}
// Every page shows what is true now, and carries a fresh nonce for its scripts.
export const dynamic = 'force-dynamic'

export default async function RootLayout({ children }: { children: ReactNode }) {
  preload(latin, { as: 'font', type: 'font/woff2', crossOrigin: 'anonymous' })
  const locale = wantedLocale((await headers()).get('accept-language'))
  // Customers' and partners' pages are there without anybody.
  const person = await personHere().catch(() => null)
  return (
    <html lang="en" data-locale={locale} data-person={person?.id}>
      <body>
        <LocaleProvider locale={locale}>{children}</LocaleProvider>
      </body>
    </html>
  )
}
