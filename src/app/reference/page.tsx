import type { Metadata } from 'next'
import { headers } from 'next/headers'
import { createElement } from 'react'
import { applicationFor } from '../who'

export const metadata: Metadata = { title: 'Open interface', robots: { index: false, follow: false } }

/** The description of the open interface, to be read and tried; nothing of it is fetched from elsewhere. */
export default async function ReferencePage() {
  await applicationFor('access.change')
  const nonce = (await headers()).get('x-nonce') ?? undefined
  return (
    <main className="h-dvh">
      <h1 className="sr-only">The open interface</h1>
      <script nonce={nonce} src="/reference/script" async />
      {createElement('rapi-doc', {
        'spec-url': '/api/v1/openapi.json',
        'render-style': 'read',
        'load-fonts': 'false',
        'show-header': 'false',
        'allow-server-selection': 'false',
        'allow-spec-file-load': 'false',
        'allow-spec-url-load': 'false',
        'schema-style': 'table',
        'regular-font': 'inherit',
        'primary-color': '#5b2a55',
        theme: 'light',
        style: { height: '100%', width: '100%' },
      })}
    </main>
  )
}
