/** @jsxImportSource preact */
import type { VNode } from 'preact'
import { renderToString } from 'preact-render-to-string'
import type { Language, ReadableColours } from '@/core/telling'
import { styleOf } from './styles'

/** A whole page as text: no script, its style within, nothing that is fetched but a logo. */
export const pageHtml = (
  body: VNode,
  {
    language,
    title,
    colours,
  }: { readonly language: Language; readonly title: string; readonly colours: ReadableColours },
): string =>
  `<!doctype html>${renderToString(
    <html lang={language}>
      <head>
        <meta charset="utf-8" />
        <meta name="viewport" content="width=device-width,initial-scale=1" />
        <meta name="robots" content="noindex,nofollow" />
        <title>{title}</title>
        <link rel="icon" href="/icon.svg" />
        <style dangerouslySetInnerHTML={{ __html: styleOf(colours) }} />
      </head>
      <body>{body}</body>
    </html>,
  )}`
