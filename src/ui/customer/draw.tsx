/** @jsxImportSource preact */
import type { Language } from '@/core/telling'
import type { ParcelView } from '@/usecases/tracking/trackParcel'
import { CustomerPage } from './CustomerPage'
import { pageHtml } from './html'
import { sayIn } from './words'

/** The page of a shipment as text; `said` is what became of what its customer just sent. */
export const drawCustomerPage = (view: ParcelView, language: Language, said?: string): string =>
  pageHtml(<CustomerPage view={view} language={language} said={said} />, {
    language,
    title: sayIn(language)('title'),
    colours: view.colours,
  })
