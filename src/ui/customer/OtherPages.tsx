/** @jsxImportSource preact */
import type { Face, Language } from '@/core/telling'
import { Foot } from './CustomerPage'
import { sayIn } from './words'

interface Seller {
  readonly face: Face
  readonly seller: string
  readonly sellerMail: string
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
      <Name view={view} />
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

/** Said where a link leads nowhere (any more). */
export function DeadLinkPage({ view, language }: Props) {
  const say = sayIn(language)
  return (
    <main>
      <Name view={view} />
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
      <Name view={view} />
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

const Name = ({ view }: { view: Seller }) =>
  view.face.logo ? (
    <p>
      <img src={`/logo/${view.face.logo}`} alt={view.seller} />
    </p>
  ) : (
    <p class="soft">{view.seller}</p>
  )
