/** @jsxImportSource preact */
import type { Face, Language, ReadableColours } from '@/core/telling'
import type { LetterPage } from '@/usecases/tracking/letterAnswers'
import { Foot, SellersName } from './CustomerPage'
import { sayIn } from './words'

/** Whose page it is, and how it looks. */
export interface Seller {
  readonly face: Face
  readonly seller: string
  readonly sellerMail: string
  readonly colours: ReadableColours
}
interface Props {
  readonly view: Seller
  readonly language: Language
  readonly said?: string
}

/** Where a customer without a link finds a parcel. */
export function FindPage({ view, language, said }: Props) {
  const say = sayIn(language)
  return (
    <main>
      <SellersName view={view} say={say} />
      <h1>{say('find.title')}</h1>
      {said && (
        <p role="alert" class="bad">
          {say(`find.${said}`)}
        </p>
      )}
      <form method="post" action={`/track?lang=${language}`}>
        <label>
          {say('find.number')}
          <input name="number" required maxLength={60} autocomplete="off" />
        </label>
        <label>
          {say('find.email')}
          <input name="email" type="email" required maxLength={254} autocomplete="email" />
        </label>
        <button>{say('find.send')}</button>
      </form>
      <Foot view={view} language={language} say={say} />
    </main>
  )
}

/** Where a buyer answers a letter; `said` is what became of what was just sent. */
export function LetterAnswerPage({
  view,
  language,
  said,
  letter,
  action,
}: Props & { readonly letter: LetterPage; readonly action: string }) {
  const say = sayIn(language)
  const done = said === 'thanks'
  return (
    <main>
      <SellersName view={view} say={say} />
      <p class="soft">{say('letter.order', { number: letter.order })}</p>
      <h1>{letter.subject}</h1>
      {said && (
        <p role={done ? 'status' : 'alert'} class="bad">
          {say(done || said === 'too-long' ? `letter.${said}` : `said.${said}`)}
        </p>
      )}
      <div lang={letter.language}>
        {letter.paragraphs.map((text) => (
          <p key={text} style="white-space:pre-line">
            {text}
          </p>
        ))}
      </div>
      {letter.answers.length > 0 && (
        <>
          <h2>{say('letter.yours')}</h2>
          <ul class="list">
            {letter.answers.map(({ at, text }) => (
              <li key={at} style="white-space:pre-line">
                {text}
              </li>
            ))}
          </ul>
        </>
      )}
      <form method="post" action={action}>
        <label>
          {say('letter.text')}
          <textarea name="text" rows={5} maxLength={2000} required />
        </label>
        <button>{say('letter.send')}</button>
      </form>
      <Foot view={view} language={language} say={say} />
    </main>
  )
}

/** Said where a link leads nowhere (any more). */
export function DeadLinkPage({ view, language }: Props) {
  const say = sayIn(language)
  return (
    <main>
      <SellersName view={view} say={say} />
      <h1>{say('dead.title')}</h1>
      <p>
        {say('dead.text')} <a href={`/track?lang=${language}`}>{say('dead.link')}</a>.
      </p>
      <Foot view={view} language={language} say={say} />
    </main>
  )
}

/** Where a customer ends all letters; `done` once they are. */
export function StopPage({
  view,
  language,
  done,
  action,
}: Props & { readonly done: boolean; readonly action: string }) {
  const say = sayIn(language)
  return (
    <main>
      <SellersName view={view} say={say} />
      <h1>{say('stop.title')}</h1>
      {done ? (
        <p role="status" class="bad">
          {say('stop.done')}
        </p>
      ) : (
        <form method="post" action={action}>
          <p>{say('stop.text')}</p>
          <button>{say('stop.send')}</button>
        </form>
      )}
      <Foot view={view} language={language} say={say} />
    </main>
  )
}
