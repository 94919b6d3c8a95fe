/** @jsxImportSource preact */
import { DateTime } from 'luxon'
import { type Language, languageNames, languages } from '@/core/telling'
import { progressOf } from '@/core/tracking'
import type { ParcelView, TrackedParcel } from '@/usecases/tracking/trackParcel'
import { Returns, type TypedReturn } from './Returns'
import { stopsMap } from './stopsMap'
import { type Say, sayIn } from './words'

interface Props {
  readonly view: ParcelView
  readonly language: Language
  /** What became of what was just sent: a key of `said`. */
  readonly said?: string
  /** What was typed of a return that could not be asked for. */
  readonly typed?: TypedReturn | undefined
}

// English is read in many countries: day before month, as most of them write it.
const localeOf = (language: string): string => (language === 'en' ? 'en-GB' : language)
const dayIn = (language: string, day: string): string =>
  DateTime.fromISO(day, { zone: 'utc', locale: localeOf(language) }).toLocaleString({
    weekday: 'long',
    day: 'numeric',
    month: 'long',
  })
const momentIn = (language: string, at: string, zone: string): string =>
  DateTime.fromISO(at, { zone, locale: localeOf(language) }).toLocaleString({
    ...{ weekday: 'short', day: 'numeric', month: 'long', hour: '2-digit', minute: '2-digit' },
  })

/** What a customer reads on a phone: where is it, when will it come, and how to say something about it. */
export function CustomerPage({ view, language, said, typed }: Props) {
  const say = sayIn(language)
  const { face, parcels } = view
  const own = face.texts[language]
  const there = parcels.filter(({ status }) => status === 'delivered').length
  const open = parcels.some(({ status }) => status !== 'delivered' && status !== 'arrived back')
  return (
    <main>
      <SellersName view={view} say={say} />
      <p class="soft">{say('order', { numbers: view.orders.join(', ') })}</p>
      {said && (
        <p role="status" class="bad">
          {say(`said.${said}`)}
        </p>
      )}
      {parcels.length > 1 && (
        <>
          <h1>{say('title')}</h1>
          <p class="lead">{say('several', { there, of: parcels.length })}</p>
        </>
      )}
      {own?.above && <p style="white-space:pre-line">{own.above}</p>}
      {parcels.map((parcel, i) => (
        <Parcel key={parcel.number} parcel={parcel} n={i + 1} view={view} language={language} say={say} />
      ))}
      <Stops view={view} say={say} />
      {view.words.length > 0 && (
        <>
          <h2>{say('yours')}</h2>
          <ul class="list">
            {view.words.map((words) => (
              <li key={words.at}>
                {say(`${words.kind}.${words.about}`)}
                {words.day && `: ${dayIn(language, words.day)}`}
                {words.text && <p>{words.text}</p>}
                {words.answer && <p class="soft">{say('answered', { answer: words.answer })}</p>}
              </li>
            ))}
          </ul>
        </>
      )}
      {face.asks.note && open && (
        <Ask
          kind="note"
          kinds={['neighbour', 'place', 'another day', 'other']}
          token={view.token}
          language={language}
          say={say}
        />
      )}
      {face.asks.report && (
        <Ask
          kind="report"
          kinds={['not here', 'damaged', 'incomplete', 'wrong item', 'other']}
          token={view.token}
          language={language}
          say={say}
        />
      )}
      <Returns view={view} language={language} say={say} day={(text) => dayIn(language, text)} typed={typed} />
      {own?.below && <p style="white-space:pre-line">{own.below}</p>}
      <Foot view={view} language={language} say={say} />
    </main>
  )
}

/** The seller's logo, or name. */
export function SellersName({ view, say }: { view: Pick<ParcelView, 'face' | 'seller'>; say: Say }) {
  const name = view.seller || say('title')
  return view.face.logo ? (
    <p>
      <img src={`/logo/${view.face.logo}`} alt={name} />
    </p>
  ) : (
    <p class="soft">{view.seller}</p>
  )
}

const steps = ['announced', 'collected', 'way', 'driver', 'there'] as const

function Parcel({
  parcel,
  n,
  view,
  language,
  say,
}: {
  parcel: TrackedParcel
  n: number
  view: ParcelView
  language: Language
  say: Say
}) {
  const at = progressOf(parcel.status)
  const alone = view.parcels.length === 1
  const Title = alone ? 'h1' : 'h2'
  const back = parcel.status === 'returned' || parcel.status === 'arrived back'
  return (
    <section class="parcel" aria-label={say('parcel', { n, of: view.parcels.length })}>
      {!alone && <p class="soft">{say('parcel', { n, of: view.parcels.length })}</p>}
      <Title>{say(`status.${parcel.status}`)}</Title>
      <p class="lead">{whenOf(parcel, language, say)}</p>
      {!back && (
        <ol class="way" aria-label={say('progress')}>
          {steps.map((step, i) => (
            <li key={step} class={i <= at ? 'on' : ''} aria-current={i === at ? 'step' : undefined}>
              {say(`steps.${step}`)}
            </li>
          ))}
        </ol>
      )}
      <dl>
        <dt>{say('carrier')}</dt>
        <dd>{view.carrierName}</dd>
        <dt>{say('number')}</dt>
        <dd class="mono">{parcel.number}</dd>
        {view.address && (
          <>
            <dt>{say('goesTo')}</dt>
            <dd>{view.address}</dd>
          </>
        )}
        {view.face.show.items && parcel.items.length > 0 && (
          <>
            <dt>{say('contents')}</dt>
            <dd>
              {parcel.items.slice(0, 20).map(({ title, quantity }) => (
                <div key={title}>
                  {quantity} × {title}
                </div>
              ))}
              {parcel.items.length > 20 && <div>…</div>}
            </dd>
          </>
        )}
      </dl>
      {parcel.deliveredAt === null && !back && (parcel.likely || parcel.arrivesOn) && (
        <p>
          <a href={`/track/${view.token}/calendar?lang=${language}`}>{say('calendar')}</a>
        </p>
      )}
      {view.face.show.events && (
        <>
          <h2>{say('soFar')}</h2>
          {parcel.events.length === 0 && <p class="soft">{say('nothing')}</p>}
          <ul class="list">
            {[...parcel.events]
              .reverse()
              .slice(0, 40)
              .map((event) => (
                <li key={event.at + event.status}>
                  <b>{(language === 'en' && event.text) || say(`status.${event.status}`)}</b>
                  <br />
                  <small>
                    {momentIn(language, event.at, view.zone)}
                    {event.place && `, ${event.place}`}
                    {language !== 'en' && event.text && ` (${event.text})`}
                  </small>
                </li>
              ))}
          </ul>
        </>
      )}
    </section>
  )
}

/** When it came, or comes. */
function whenOf(parcel: TrackedParcel, language: Language, say: Say): string {
  const day = (text: string): string => dayIn(language, text)
  if (parcel.deliveredAt) return say('on', { day: day(parcel.deliveredAt.slice(0, 10)) })
  if (parcel.status === 'returned' || parcel.status === 'arrived back' || parcel.status === 'lost') return ''
  if (parcel.status === 'out for delivery' || parcel.status === 'waiting to be fetched') return ''
  if (parcel.late) return parcel.likely ? say('late', { likely: day(parcel.likely) }) : ''
  if (parcel.likely && parcel.surely && parcel.likely !== parcel.surely)
    return say('likely', { likely: day(parcel.likely), surely: day(parcel.surely) })
  const expected = parcel.likely || parcel.arrivesOn
  return expected ? say('expected', { day: day(expected) }) : ''
}

function Stops({ view, say }: { view: ParcelView; say: Say }) {
  const map = stopsMap(view.stops)
  if (!map) return null
  const names = map.stops.map(({ name }) => name).join(' → ')
  return (
    <>
      <h2>{say('map')}</h2>
      <svg class="map" viewBox={`0 0 ${map.width} ${map.height}`} role="img" aria-label={`${say('map')}: ${names}`}>
        <path d={map.land} fill="var(--p)" stroke="var(--h)" />
        <polyline points={map.way} fill="none" stroke="var(--a)" stroke-width="2" stroke-dasharray="5 4" />
        {map.stops.map(({ name, x, y, left, named }, i) => (
          <g key={name + i}>
            <circle cx={x} cy={y} r={i === map.stops.length - 1 ? 6 : 4.5} fill="var(--a)" />
            <text
              x={left ? x - 9 : x + 9}
              y={y + 4.5}
              text-anchor={left ? 'end' : 'start'}
              font-size="14"
              fill="var(--i)"
              stroke="var(--p)"
              stroke-width="3"
              paint-order="stroke"
            >
              {named ? name : ''}
            </text>
          </g>
        ))}
      </svg>
    </>
  )
}

/** A form that works without scripts; what it asks for is chosen first. */
function Ask({
  kind,
  kinds,
  token,
  language,
  say,
}: {
  kind: 'note' | 'report'
  kinds: readonly string[]
  token: string
  language: Language
  say: Say
}) {
  return (
    <details>
      <summary>{say(`${kind}.title`)}</summary>
      <form method="post" action={`/track/${token}?lang=${language}`}>
        <input type="hidden" name="kind" value={kind} />
        <fieldset>
          <legend class="soft">{say(`${kind}.title`)}</legend>
          {kinds.map((about) => (
            <label key={about} class="radio">
              <input type="radio" name="about" value={about} required /> {say(`${kind}.${about}`)}
            </label>
          ))}
        </fieldset>
        {kind === 'note' && (
          <label>
            {say('note.day')}
            <input type="date" name="day" />
          </label>
        )}
        <label>
          {say(`${kind}.text`)}
          <textarea name="text" rows={3} maxLength={1000} />
        </label>
        {kind === 'note' && <small>{say('note.hint')}</small>}
        <button>{say(`${kind}.send`)}</button>
      </form>
    </details>
  )
}

export function Foot({
  view,
  language,
  say,
}: {
  view: Pick<ParcelView, 'face' | 'sellerMail'>
  language: Language
  say: Say
}) {
  return (
    <>
      {(view.face.links.length > 0 || view.sellerMail) && (
        <nav aria-label={say('contact')}>
          {view.sellerMail && <a href={`mailto:${view.sellerMail}`}>{say('contact')}</a>}
          {view.face.links.map(({ label, url }) => (
            <a key={url} href={url} rel="noopener noreferrer">
              {label}
            </a>
          ))}
        </nav>
      )}
      <nav aria-label={say('language')}>
        {languages.map((one) =>
          one === language ? (
            <b key={one} aria-current="true">
              {languageNames[one]}
            </b>
          ) : (
            <a key={one} href={`?lang=${one}`} lang={one}>
              {languageNames[one]}
            </a>
          ),
        )}
      </nav>
    </>
  )
}
