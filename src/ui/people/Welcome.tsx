'use client'
import { useState, type FormEvent } from 'react'
import { leastPassword } from '@/core/people'
import { call, Refusal, sentenceOf } from '../kit/api'
import { Button } from '../kit/Button'
import { Field, TextInput } from '../kit/Field'
import { Doorway } from './Doorway'

/** What a link leads to: whoever has it chooses a password; the first owner says who they are, too. */
export function Welcome({ secret, whose }: { secret: string; whose: { name: string; email: string } | null }) {
  const [wrong, setWrong] = useState<{ readonly all: string; readonly password: string }>({ all: '', password: '' })
  const [busy, setBusy] = useState(false)
  const submit = async (event: FormEvent<HTMLFormElement>): Promise<void> => {
    event.preventDefault()
    const data = Object.fromEntries(new FormData(event.currentTarget)) as Record<string, string>
    if (data.password !== data.again) return setWrong({ all: '', password: 'The two are not the same.' })
    setBusy(true)
    try {
      await call('POST /api/people/welcome', {
        body: { secret, name: data.name ?? '', email: data.email ?? '', password: data.password! },
      })
      window.location.assign('/')
    } catch (error) {
      const password = error instanceof Refusal ? (error.fields.password ?? '') : ''
      setWrong({ all: password === '' ? sentenceOf(error) : '', password })
      setBusy(false)
    }
  }
  return (
    <Doorway
      title={whose ? `Welcome, ${whose.name}` : 'The first owner'}
      about={
        whose
          ? `Choose the password for ${whose.email}.`
          : 'Whoever you are, you may do everything here, and say who else may what.'
      }
    >
      <form className="mt-4 grid gap-3" onSubmit={(event) => void submit(event)}>
        {!whose && (
          <>
            <Field label="Your name">
              <TextInput name="name" autoComplete="name" required maxLength={80} autoFocus />
            </Field>
            <Field label="E-mail address" hint="You sign in with it.">
              <TextInput name="email" type="email" autoComplete="username" required />
            </Field>
          </>
        )}
        {whose && <input type="hidden" name="username" autoComplete="username" value={whose.email} readOnly />}
        <Field
          label="Password"
          hint={`At least ${leastPassword} characters: four or five words do well.`}
          wrong={wrong.password || undefined}
        >
          <TextInput name="password" type="password" autoComplete="new-password" required autoFocus={whose !== null} />
        </Field>
        <Field label="Once more">
          <TextInput name="again" type="password" autoComplete="new-password" required />
        </Field>
        {wrong.all && (
          <p role="alert" className="bg-lost-soft px-3 py-2 text-lost">
            {wrong.all}
          </p>
        )}
        <p>
          <Button kind="filled" type="submit" disabled={busy}>
            Go in
          </Button>
        </p>
      </form>
    </Doorway>
  )
}
