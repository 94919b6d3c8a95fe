'use client'
import { useState, type FormEvent } from 'react'
import { leastPassword } from '@/core/people'
import { call, Refusal } from '../kit/api'
import { Button } from '../kit/Button'
import { Field, TextInput } from '../kit/Field'
import { useChange } from '../kit/useChange'

/** Another password; all other sign-ins end. */
export function PasswordForm({ has }: { has: boolean }) {
  const [wrong, setWrong] = useState<Readonly<Record<string, string>>>({})
  const change = useChange(['me'])
  if (!has) return <p className="text-soft">You have no password: you sign in by another way.</p>
  const submit = async (event: FormEvent<HTMLFormElement>): Promise<void> => {
    event.preventDefault()
    const form = event.currentTarget
    const { before = '', password = '', again = '' } = Object.fromEntries(new FormData(form)) as Record<string, string>
    if (password !== again) return setWrong({ again: 'The two are not the same.' })
    setWrong({})
    const done = await change(
      () =>
        call('PUT /api/people/me/password', { body: { before, password } }).catch((error: unknown) => {
          if (error instanceof Refusal) setWrong(error.fields)
          throw error
        }),
      ({ ended }) => setWrong({ done: ended > 0 ? `Changed. ${ended} other sign-ins have ended.` : 'Changed.' }),
    )
    if (done) form.reset()
  }
  return (
    <form aria-label="Password" className="grid content-start gap-2" onSubmit={(event) => void submit(event)}>
      <h2 className="text-lead">Password</h2>
      <Field label="Your password now" wrong={wrong.before}>
        <TextInput name="before" type="password" autoComplete="current-password" required className="w-80" />
      </Field>
      <Field
        label="A new one"
        hint={`At least ${leastPassword} characters: four or five words do well.`}
        wrong={wrong.password}
      >
        <TextInput name="password" type="password" autoComplete="new-password" required className="w-80" />
      </Field>
      <Field label="Once more" wrong={wrong.again}>
        <TextInput name="again" type="password" autoComplete="new-password" required className="w-80" />
      </Field>
      <p className="flex items-center gap-3">
        <Button type="submit">Change the password</Button>
        {wrong.done && (
          <span role="status" className="text-done">
            {wrong.done}
          </span>
        )}
      </p>
    </form>
  )
}
