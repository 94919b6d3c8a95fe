import { beginAuthorisation, finishAuthorisation } from '@/usecases/intake/authoriseConnection'
import type { Application } from '@/usecases/shared/application'
import { consent } from './consent'

/** What a person does on the marketplace's page of consent. */
export async function authoriseLane(gharry: Application): Promise<void> {
  const begun = await beginAuthorisation(gharry, 'tallow-lane')
  if (!begun.ok) throw new Error(begun.sentence)
  const form = { answer: 'allow', country: 'BE', days: '365' }
  const returned = await consent(begun.url, new URL(gharry.settings.publicUrl).host, form)
  const { result } = await finishAuthorisation(gharry, returned, begun.browser)
  if (result !== 'done') throw new Error(`The marketplace was not authorised: ${result}.`)
}
