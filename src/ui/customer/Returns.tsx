/** @jsxImportSource preact */
import { returnReasons } from '@/core/returns'
import type { Language } from '@/core/telling'
import type { ParcelView } from '@/usecases/tracking/trackParcel'
import type { Say } from './words'

type Back = ParcelView['back']

/** What a customer has typed into the form, to be shown again beside what is wrong with it. */
export interface TypedReturn {
  readonly pieces: readonly { readonly item: number; readonly quantity: number }[]
  readonly reason: string
  readonly words: string
}

/** What a customer sends back: how it stands, and the form with which they ask for it. */
export function Returns({
  view,
  language,
  say,
  day,
  typed,
}: {
  view: ParcelView
  language: Language
  say: Say
  day: (text: string) => string
  typed?: TypedReturn | undefined
}) {
  const { returns, can } = view.back
  return (
    <>
      {returns.length > 0 && (
        <>
          <h2>{say('back.yours')}</h2>
          <ul class="list">
            {returns.map((one) => (
              <Return key={one.id} one={one} token={view.token} say={say} day={day} />
            ))}
          </ul>
        </>
      )}
      {can.length > 0 && <AskBack can={can} token={view.token} language={language} say={say} typed={typed} />}
    </>
  )
}

function Return({
  one,
  token,
  say,
  day,
}: {
  one: Back['returns'][number]
  token: string
  say: Say
  day: (text: string) => string
}) {
  const { square } = one
  return (
    <li>
      <b>{say(`back.state.${one.state}`, { refund: one.refund })}</b>
      {one.items.map(({ title, quantity }) => (
        <div key={title}>
          {quantity} × {title}
        </div>
      ))}
      {one.why && <p>{one.why}</p>}
      {one.state === 'ready' && one.number === '' && (
        <>
          <p>{say('back.sendTo')}</p>
          <p>
            {one.to.map((line) => (
              <span key={line}>
                {line}
                <br />
              </span>
            ))}
          </p>
        </>
      )}
      {one.state === 'ready' && one.number !== '' && !one.label && <p>{say('back.inBox')}</p>}
      {one.label && (
        <p>
          <a href={`/track/${token}/return/${one.id}`}>{say('back.label', { carrier: one.carrier })}</a>
        </p>
      )}
      {square && (
        <>
          <p>{say('back.code', { carrier: one.carrier })}</p>
          <svg class="code" viewBox={`-4 -4 ${square.side + 8} ${square.side + 8}`} role="img" aria-label={one.code}>
            <rect x="-4" y="-4" width={square.side + 8} height={square.side + 8} fill="#fff" />
            <path d={squares(square)} fill="#000" />
          </svg>
          <p class="mono">{one.code}</p>
        </>
      )}
      {one.until && one.state === 'ready' && <small>{say('back.until', { day: day(one.until) })}</small>}
      {one.number && <div class="mono soft">{one.number}</div>}
    </li>
  )
}

/** The dark squares of a code as one path. */
const squares = ({ side, dark }: NonNullable<Back['returns'][number]['square']>): string =>
  dark.map((on, i) => (on ? `M${i % side} ${Math.floor(i / side)}h1v1h-1z` : '')).join('')

/** What is chosen by how many pieces; it works without scripts. */
function AskBack({
  can,
  token,
  language,
  say,
  typed,
}: {
  can: Back['can']
  token: string
  language: Language
  say: Say
  typed: TypedReturn | undefined
}) {
  const piecesOf = (item: number): number => typed?.pieces.find((one) => one.item === item)?.quantity ?? 0
  return (
    <details open={typed !== undefined}>
      <summary>{say('back.title')}</summary>
      <form method="post" action={`/track/${token}/return?lang=${language}`} encType="multipart/form-data">
        <fieldset>
          <legend class="soft">{say('back.what')}</legend>
          {can.map(({ item, title, quantity }) => (
            <label key={item} class="pieces">
              <input
                type="number"
                name={`item-${item}`}
                min="0"
                max={quantity}
                value={piecesOf(item)}
                inputMode="numeric"
              />
              <span>
                {say('back.of', { n: quantity })} {title}
              </span>
            </label>
          ))}
        </fieldset>
        <fieldset>
          <legend class="soft">{say('back.why')}</legend>
          {returnReasons.map((reason) => (
            <label key={reason} class="radio">
              <input type="radio" name="reason" value={reason} required checked={typed?.reason === reason} />{' '}
              {say(`back.reason.${reason}`)}
            </label>
          ))}
        </fieldset>
        <label>
          {say('back.words')}
          <textarea name="words" rows={3} maxLength={1000} value={typed?.words ?? ''} />
        </label>
        <label>
          {say('back.photo')}
          <input type="file" name="photo" accept="image/jpeg,image/png,image/webp" />
        </label>
        <button>{say('back.send')}</button>
      </form>
    </details>
  )
}
