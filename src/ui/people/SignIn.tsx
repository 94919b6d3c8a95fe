'use client'
import { startAuthentication } from '@simplewebauthn/browser'
import { Building2, KeyRound, ScanBarcode } from 'lucide-react'
import { type FormEvent, type Ref, useRef, useState } from 'react'
import { call, sentenceOf } from '../kit/api'
import { Button } from '../kit/Button'
import { Field, TextInput } from '../kit/Field'
import { Doorway } from './Doorway'

const titles = {
  first: { title: 'Sign in', about: undefined },
  second: { title: 'One more step', about: 'The code that your phone shows now, or a recovery code.' },
  badge: { title: 'Scan your badge', about: 'Then type its code. It is for the floor, and for this shift.' },
} as const

/** Signing in: a badge for the floor, a passkey, or address and password and then, for whoever has one, a code. */
export function SignIn({ to, provider, why }: { to: string; provider: string | null; why: string }) {
  const [step, setStep] = useState<'first' | 'second' | 'badge'>('first')
  const code = useRef<HTMLInputElement>(null)
  const [wrong, setWrong] = useState(why)
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
  const turn = (next: typeof step): void => {
    setWrong('')
    setStep(next)
  }
  const submit = (event: FormEvent<HTMLFormElement>): void => {
    event.preventDefault()
    const data = Object.fromEntries(new FormData(event.currentTarget)) as Record<string, string>
    // A scanner ends with Enter: the code comes next.
    if (step === 'badge' && data.code === '') return code.current?.focus()
    void go(() => {
      if (step === 'badge') return call('POST /api/people/badge', { body: { badge: data.badge!, code: data.code! } })
      return step === 'first'
        ? call('POST /api/people/sign-in', { body: { email: data.email!, password: data.password! } })
        : call('POST /api/people/second', { body: { code: data.code! } })
    })
  }
  const byPasskey = (): Promise<void> =>
    go(async () => {
      const { key, options } = await call('POST /api/people/passkey', { body: {} })
      return call('PUT /api/people/passkey', {
        body: { key, response: await startAuthentication({ optionsJSON: options }) },
      })
    })
  return (
    <Doorway title={titles[step].title} about={titles[step].about}>
      <form className="mt-4 grid gap-3" onSubmit={submit}>
        {/* Each step has fields of its own: what was typed in one is not in the next. */}
        {step === 'first' && <Account key="first" />}
        {step === 'second' && <Second key="second" />}
        {step === 'badge' && <Badge key="badge" code={code} />}
        {wrong && (
          <p role="alert" className="bg-lost-soft px-3 py-2 text-lost">
            {wrong}
          </p>
        )}
        <div className="flex flex-wrap items-center gap-3">
          <Button kind="filled" type="submit" disabled={busy}>
            {step === 'second' ? 'Go on' : 'Sign in'}
          </Button>
          {step !== 'first' && (
            <Button kind="quiet" onClick={() => turn('first')}>
              Begin again
            </Button>
          )}
        </div>
        {step === 'first' && (
          <div className="-ml-1.5 flex flex-wrap gap-x-4">
            <Button kind="quiet" onClick={byPasskey}>
              <KeyRound className="size-4" aria-hidden /> With a passkey
            </Button>
            <Button kind="quiet" onClick={() => turn('badge')}>
              <ScanBarcode className="size-4" aria-hidden /> With a badge
            </Button>
          </div>
        )}
      </form>
      {step === 'first' && provider !== null && (
        <p className="mt-4">
          <a
            className="inline-flex items-center gap-1.5 rounded-[3px] border border-act px-3 py-1 text-act hover:bg-act-soft"
            href={`/api/people/provider?${new URLSearchParams({ to }).toString()}`}
          >
            <Building2 className="size-4" aria-hidden /> With your {provider}
          </a>
        </p>
      )}
      {step === 'first' && (
        <p className="mt-5 border-t border-hair pt-3 text-small text-soft">
          Forgotten, or no account yet? The owner of this Gharry makes you a link.
        </p>
      )}
    </Doorway>
  )
}

const Account = () => (
  <>
    <Field label="E-mail address">
      <TextInput name="email" type="email" autoComplete="username" required autoFocus />
    </Field>
    <Field label="Password">
      <TextInput name="password" type="password" autoComplete="current-password" required />
    </Field>
  </>
)

const Second = () => (
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
)

const Badge = ({ code }: { code: Ref<HTMLInputElement> }) => (
  <>
    <Field label="Badge">
      <TextInput name="badge" className="font-mono" autoComplete="off" required autoFocus />
    </Field>
    <Field label="Code">
      <TextInput
        ref={code}
        name="code"
        type="password"
        className="font-mono tracking-widest"
        inputMode="numeric"
        autoComplete="off"
      />
    </Field>
  </>
)
