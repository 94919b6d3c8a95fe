'use client'
import { useState, type FormEvent } from 'react'
import { call } from '../kit/api'
import { Button } from '../kit/Button'
import { Field, TextInput } from '../kit/Field'
import { shortTime } from '../kit/format'
import { useChange } from '../kit/useChange'

interface Proposed {
  readonly secret: string
  readonly picture: string
}

/** A second factor: a phone that shows a code, and codes on paper for the day it is lost. */
export function SecondFactor({ since, left }: { since: string | null; left: number }) {
  const [proposed, setProposed] = useState<Proposed | null>(null)
  const [recovery, setRecovery] = useState<readonly string[] | null>(null)
  const [asked, setAsked] = useState(false)
  const change = useChange(['me'])
  const codeOf = (event: FormEvent<HTMLFormElement>): string => {
    event.preventDefault()
    return new FormData(event.currentTarget).get('code') as string
  }
  const confirm = (code: string): Promise<boolean> =>
    change(
      () => call('PUT /api/people/me/second', { body: { code } }),
      (answer) => {
        setProposed(null)
        setRecovery(answer.recovery)
      },
    )
  const remove = (code: string): Promise<boolean> =>
    change(() => call('DELETE /api/people/me/second', { body: { code } }), 'The second factor is off').then((done) => {
      if (done) setAsked(false)
      return done
    })
  return (
    <section aria-label="Second factor" className="grid content-start gap-2">
      <h2 className="text-lead">Second factor</h2>
      {since ? (
        <p>
          On since {shortTime(since)}. {left} recovery {left === 1 ? 'code is' : 'codes are'} left.
        </p>
      ) : (
        <p className="text-soft">
          Besides the password, a code that your phone shows. Who has your password has nothing yet.
        </p>
      )}
      {recovery && (
        <div role="status" className="bg-wait-soft p-3">
          <p>For the day your phone is lost: each of these works once. They are shown this once.</p>
          <ul className="mt-2 grid grid-cols-2 gap-x-6 font-mono text-small select-all">
            {recovery.map((code) => (
              <li key={code}>{code}</li>
            ))}
          </ul>
          <p className="mt-2 flex gap-3">
            <Button onClick={() => navigator.clipboard.writeText(recovery.join('\n'))}>Copy</Button>
            <Button kind="quiet" onClick={() => setRecovery(null)}>
              I have them
            </Button>
          </p>
        </div>
      )}
      {!since && !proposed && (
        <p>
          <Button
            onClick={() =>
              change(
                () => call('POST /api/people/me/second', { body: {} }),
                (answer) => setProposed(answer),
              )
            }
          >
            Set one up …
          </Button>
        </p>
      )}
      {proposed && (
        <form className="grid gap-2" onSubmit={(event) => void confirm(codeOf(event))}>
          <p>Scan this with the program on your phone that shows codes, and give the code that it shows.</p>
          <img src={proposed.picture} alt="The secret of your second factor" className="size-44 bg-white p-2" />
          <p className="text-small">
            Or type it: <code className="font-mono break-all select-all">{proposed.secret}</code>
          </p>
          <CodeField />
          <p className="flex gap-3">
            <Button type="submit">Switch it on</Button>
            <Button kind="quiet" onClick={() => setProposed(null)}>
              Not now
            </Button>
          </p>
        </form>
      )}
      {since && !asked && (
        <p>
          <Button kind="quiet" onClick={() => setAsked(true)}>
            Take it off …
          </Button>
        </p>
      )}
      {since && asked && (
        <form className="grid gap-2" onSubmit={(event) => void remove(codeOf(event))}>
          <CodeField />
          <p className="flex gap-3">
            <Button kind="danger" type="submit">
              Take it off
            </Button>
            <Button kind="quiet" onClick={() => setAsked(false)}>
              Not now
            </Button>
          </p>
        </form>
      )}
    </section>
  )
}

const CodeField = () => (
  <Field label="Code">
    <TextInput
      name="code"
      className="w-44 font-mono tracking-widest"
      inputMode="numeric"
      autoComplete="one-time-code"
      required
      autoFocus
    />
  </Field>
)
