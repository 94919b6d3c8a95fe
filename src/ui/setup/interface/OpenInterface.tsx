'use client'
import type { AnswerOf } from '@/usecases/endpoints'
import { SetupSheet } from '../SetupSheet'
import { TokenPart } from './TokenPart'
import { CalendarPart } from './CalendarPart'
import { WebhookPart } from './WebhookPart'

type Named = readonly (readonly [id: string, about: string])[]

/** Programs that ask Gharry, and programs that Gharry tells. */
export function OpenInterface({
  scopes,
  announcements,
  tokens,
  webhooks,
  address,
}: {
  scopes: Named
  announcements: Named
  tokens: AnswerOf<'GET /api/setup/tokens'>
  webhooks: AnswerOf<'GET /api/setup/webhooks'>
  address: string
}) {
  return (
    <SetupSheet at="interface" about="Programs that ask, or are told" label="Open interface">
      <p className="max-w-3xl">
        <span className="font-mono text-small">{address}/api/v1</span> answers to tokens.{' '}
        <a className="text-act underline decoration-hair underline-offset-4" href="/reference" target="_blank">
          What can be asked, and tried
        </a>
      </p>
      <TokenPart scopes={scopes} initial={tokens} />
      <WebhookPart announcements={announcements} initial={webhooks} />
      <CalendarPart />
    </SetupSheet>
  )
}
