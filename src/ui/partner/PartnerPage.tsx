'use client'
import { useActionState } from 'react'
import type { HandOverView } from '@/usecases/dispatch/showHandOver'

/** What became of an answer: done, or what is wrong with it. */
export interface Said {
  readonly done?: 'acknowledged' | 'refused' | 'despatched'
  readonly wrong?: string
  /** What was typed, where it was wrong: it stays in the form. */
  readonly typed?: { readonly numbers: string; readonly carrier: string; readonly text: string }
}

interface Props {
  readonly view: HandOverView
  readonly token: string
  readonly answer: (before: Said, data: FormData) => Promise<Said>
}

const answered = {
  acknowledged: 'You have said that you have it.',
  refused: 'You have said that you cannot send it.',
  despatched: 'You have said that it left.',
}
const field = 'mt-1 w-full rounded-[3px] border border-hair bg-sheet px-3 py-2'
const button = 'rounded-[3px] bg-act px-4 py-2 font-semibold text-on-act'

/** What people of a partner are to send, and where they answer; works without scripts. */
export function PartnerPage({ view, token, answer }: Props) {
  const [said, act, busy] = useActionState(answer, {})
  const given = said.done ?? (view.answer === '' ? undefined : view.answer)
  return (
    <main className="mx-auto min-h-dvh max-w-2xl bg-sheet px-5 py-8">
      <p className="text-soft">
        {view.seller} for {view.partner}, {view.reference}
      </p>
      <h1 className="mt-2 text-title">{view.cancelled ? 'Do not send this' : `Please send order ${view.order}`}</h1>
      {view.cancelled ? (
        <p className="mt-2 bg-lost-soft p-3">Its label was taken back. Destroy it, and keep the goods.</p>
      ) : (
        <p className="mt-2">
          With {view.carrier}, to leave on {view.shipOn}.{' '}
          <a className="text-act underline" href={`/partner/${token}/papers`}>
            Label, slip and customs papers (PDF)
          </a>
        </p>
      )}
      <div className="mt-5 grid grid-cols-[1fr_14rem] gap-6 max-[639px]:grid-cols-1">
        <div>
          {view.parcels.map(({ number, items }, i) => (
            <section key={number} aria-label={`Parcel ${i + 1}`}>
              <h2 className="text-lead">
                Parcel {i + 1} of {view.parcels.length} <span className="font-mono text-small">{number}</span>
              </h2>
              <ul className="mb-3">
                {items.map(({ sku, title, quantity }, line) => (
                  <li key={line} className="flex gap-3 border-b border-hair/70 py-1">
                    <b className="w-10 text-right">{quantity} ×</b>
                    <span>
                      {title} <span className="font-mono text-small text-soft">{sku}</span>
                    </span>
                  </li>
                ))}
              </ul>
            </section>
          ))}
        </div>
        <address className="whitespace-pre-line not-italic">{view.to.join('\n')}</address>
      </div>
      {given && (
        <p role="status" className="mt-5 bg-done-soft p-3">
          {answered[given]} {said.done ? '' : view.answerText}
        </p>
      )}
      {said.wrong && (
        <p role="alert" className="mt-5 bg-lost-soft p-3">
          {said.wrong}
        </p>
      )}
      {!view.cancelled && given !== 'despatched' && (
        <div className="mt-6 grid gap-6 border-t border-hair pt-5">
          {given !== 'acknowledged' && (
            <form action={act}>
              <input type="hidden" name="token" value={token} />
              <button className={button} name="kind" value="acknowledged" aria-busy={busy}>
                We have it
              </button>
            </form>
          )}
          <form action={act} className="grid gap-3">
            <h2 className="text-lead">It has left</h2>
            <input type="hidden" name="token" value={token} />
            <label>
              Tracking numbers, one a line
              <textarea
                name="numbers"
                required
                rows={2}
                className={`${field} font-mono`}
                defaultValue={said.typed?.numbers ?? view.parcels.map(({ number }) => number).join('\n')}
              />
            </label>
            <label>
              Carrier
              <select
                key={said.typed?.carrier}
                name="carrier"
                className={field}
                defaultValue={said.typed?.carrier ?? ''}
              >
                <option value="">as the number says</option>
                {view.carriers.map((name) => (
                  <option key={name}>{name}</option>
                ))}
              </select>
            </label>
            <p>
              <button className={button} name="kind" value="despatched" aria-busy={busy}>
                It has left
              </button>
            </p>
          </form>
          <form action={act} className="grid gap-3">
            <h2 className="text-lead">We cannot send it</h2>
            <input type="hidden" name="token" value={token} />
            <label>
              Why
              <input name="text" required maxLength={500} className={field} defaultValue={said.typed?.text ?? ''} />
            </label>
            <p>
              <button
                className="rounded-[3px] border border-lost px-4 py-2 font-semibold text-lost"
                name="kind"
                value="refused"
                aria-busy={busy}
              >
                We cannot send it
              </button>
            </p>
          </form>
        </div>
      )}
    </main>
  )
}
