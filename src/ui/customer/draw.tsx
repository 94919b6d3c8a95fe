/** @jsxImportSource preact */
import type { Language } from '@/core/telling'
import type { LetterPage } from '@/usecases/tracking/letterAnswers'
import type { ParcelView } from '@/usecases/tracking/trackParcel'
import { CustomerPage } from './CustomerPage'
import { pageHtml } from './html'
import { DeadLinkPage, FindPage, LetterAnswerPage, type Seller, StopPage } from './OtherPages'
import type { TypedReturn } from './Returns'
import { sayIn } from './words'

/**
 * The page of a shipment as text; `said` is what became of what its customer just sent, `typed` what was wrong of it.
 */
export const drawCustomerPage = (view: ParcelView, language: Language, said?: string, typed?: TypedReturn): string =>
  pageHtml(<CustomerPage view={view} language={language} said={said} typed={typed} />, {
    language,
    title: sayIn(language)('title'),
    colours: view.colours,
  })

/**
 * The pages about no parcel: where one is found, where a letter is answered, a link that leads nowhere, and the end of
 * all letters.
 */
export type SellersPage =
  | { readonly page: 'find'; readonly said?: string }
  | { readonly page: 'letter'; readonly letter: LetterPage; readonly said?: string; readonly path: string }
  | { readonly page: 'dead' }
  | { readonly page: 'stop'; readonly done: boolean; readonly path: string }

/** Such a page as text. */
export const drawSellersPage = (view: Seller, language: Language, page: SellersPage): string =>
  pageHtml(bodyOf(view, language, page), {
    language,
    title: sayIn(language)(`${page.page}.title`),
    colours: view.colours,
  })

function bodyOf(view: Seller, language: Language, page: SellersPage) {
  switch (page.page) {
    case 'find':
      return <FindPage view={view} language={language} said={page.said} />
    case 'letter': {
      const action = `${page.path}?lang=${language}`
      return <LetterAnswerPage view={view} language={language} said={page.said} letter={page.letter} action={action} />
    }
    case 'dead':
      return <DeadLinkPage view={view} language={language} />
    case 'stop':
      return <StopPage view={view} language={language} done={page.done} action={`${page.path}?lang=${language}`} />
  }
}
