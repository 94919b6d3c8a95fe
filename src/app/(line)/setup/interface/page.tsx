import type { Metadata } from 'next'
import { OpenInterface } from '@/ui/setup/interface/OpenInterface'
import { announcements } from '@/usecases/open/announce'
import { scopes } from '@/usecases/open/scopes'
import { showTokens } from '@/usecases/open/tokens'
import { showWebhooks } from '@/usecases/open/webhooks'
import { applicationFor } from '../../../who'

export const metadata: Metadata = { title: 'Open interface' }

export default async function InterfacePage() {
  const gharry = await applicationFor('access.change')
  return (
    <OpenInterface
      scopes={Object.entries(scopes)}
      announcements={Object.entries(announcements)}
      tokens={await showTokens(gharry)}
      webhooks={await showWebhooks(gharry)}
      address={gharry.settings.publicUrl}
    />
  )
}
