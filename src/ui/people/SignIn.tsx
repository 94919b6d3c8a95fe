'use client'
import { startAuthentication } from '@simplewebauthn/browser'
import { KeyRound } from 'lucide-react'
import { useState, type FormEvent } from 'react'
import { call, sentenceOf } from '../kit/api'
import { Button } from '../kit/Button'
import { Field, TextInput } from '../kit/Field'
import { Doorway } from './Doorway'

/** Signing in: a passkey, or address and password and then, for whoever has one, a code. */
export function SignIn({ to }: { to: string }) {
  const [step, setStep] = useState<'first' | 'second'>('first')
  const [wrong, setWrong] = useState('')
  const [busy, setBusy] = useState(false)
  const go = async (work: () => Promise<{ readonly next: 'second' | 'done' }>): Promise<void> => {
    setBusy(true)
    setWrong('')
    try {
      const { next } = await work()
      // All anew: nothing of whoever was here before is kept.
      if (next === 'done') return window.location.assign(to)
      setStep('second')
    } catch (error) {
      setWrong(
        error instanceof DOMException || (error as Error).name === 'NotAllowedError'
          ? 'No passkey was given. Try again, or use your password.'
          : sentenceOf(error),
      )
    }
    setBusy(false)
  }
  const submit = (event: FormEvent<HTMLFormElement>): void => {
    event.preventDefault()
    const data = Object.fromEntries(new FormData(event.currentTarget)) as Record<string, string>
    void go(() =>
      step === 'first'
        ? call('POST /api/people/sign-in', { body: { email: data.email!, password: data.password! } })
        : call('POST /api/people/second', { body: { code: data.code! } }),
    )
  }
  const byPasskey = (): Promise<void> =>
    go(async () => {
      const { key, options } = await call('POST /api/people/passkey', { body: {} })
      return call('PUT /api/people/passkey', {
        body: { key, response: await startAuthentication({ optionsJSON: options }) },
      })
    })
  return (
    <Doorway
      title={step === 'first' ? 'Sign in' : 'One more step'}
      about={step === 'first' ? undefined : 'The code that your phone shows now, or a recovery code.'}
    >
      <form className="mt-4 grid gap-3" onSubmit={submit}>
        {step === 'first' ? (
          <>
            <Field label="E-mail address">
              <TextInput name="email" type="email" autoComplete="username" required autoFocus />
            </Field>
            <Field label="Password">
              <TextInput name="password" type="password" autoComplete="current-password" required />
            </Field>
          </>
        ) : (
          <Field label="Code">
            <TextInput
              name="code"
              className="font-mono text-lead tracking-widest"
              inputMode="numeric"
              autoComplete="one-time-code"
              required
              autoFocus
            />
          </Field>
        )}
        {wrong && (
          <p role="alert" className="bg-lost-soft px-3 py-2 text-lost">
            {wrong}
          </p>
        )}
        <div className="flex flex-wrap items-center gap-3">
          <Button kind="filled" type="submit" disabled={busy}>
            {step === 'first' ? 'Sign in' : 'Go on'}
          </Button>
          {step === 'first' ? (
            <Button kind="quiet" onClick={byPasskey}>
              <KeyRound className="size-4" aria-hidden /> With a passkey
            </Button>
          ) : (
            <Button
              kind="quiet"
              onClick={() => {
                setWrong('')
                setStep('first')
              }}
            >
              Begin again
            </Button>
          )}
        </div>
      </form>
      {step === 'first' && (
        <p className="mt-5 border-t border-hair pt-3 text-small text-soft">
          Forgotten, or no account yet? The owner of this Gharry makes you a link.
        </p>
      )}
    </Doorway>
  )
}
