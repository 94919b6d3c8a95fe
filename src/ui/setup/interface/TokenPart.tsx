'use client'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { z } from 'zod'
import type { AnswerOf } from '@/usecases/endpoints'
import { call, Refusal } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Confirm } from '../../kit/Confirm'
import { Field, TextInput } from '../../kit/Field'
import { Resumed } from '../../kit/Resumed'
import { Ticks } from '../../kit/Ticks'
import { useChange } from '../../kit/useChange'
import { useEditForm } from '../../kit/useEditForm'
import { When } from '../../kit/When'
import { ShownOnce } from '../../kit/ShownOnce'

const newToken = z.object({
  name: z.string().trim().min(1, 'Give it a name: who will use it, and for what.').max(80),
  scopes: z.array(z.string()).min(1, 'Choose what it may do.'),
})
type Values = z.infer<typeof newToken>
const blank: Values = { name: '', scopes: [] }

/** Who may ask: tokens with what each may do. */
export function TokenPart({
  scopes,
  initial,
}: {
  scopes: readonly (readonly [id: string, about: string])[]
  initial: AnswerOf<'GET /api/setup/tokens'>
}) {
  const { data } = useQuery({
    queryKey: ['tokens'],
    queryFn: () => call('GET /api/setup/tokens'),
    initialData: initial,
    refetchInterval: 15_000,
  })
  const change = useChange(['tokens'])
  const { form, edit } = useEditForm<Values, Values>('new token', blank, newToken)
  const [fresh, setFresh] = useState<string | null>(null)
  const [ending, setEnding] = useState<number | null>(null)
  const name = data.tokens.find(({ id }) => id === ending)?.name ?? ''
  const make = (body: Values): Promise<boolean> =>
    change(
      () =>
        call('POST /api/setup/tokens', { body }).catch((error: unknown) => {
          if (error instanceof Refusal) form.setError('name', { message: error.message })
          throw error
        }),
      ({ token }) => {
        setFresh(token)
        edit.drop()
      },
    )
  return (
    <section aria-label="Tokens" className="mt-5">
      <h2 className="mb-1 text-lead">Tokens</h2>
      {fresh && <ShownOnce what="The token of the new caller." secret={fresh} onDone={() => setFresh(null)} />}
      {data.tokens.length === 0 ? (
        <p className="text-soft">Nobody may ask yet.</p>
      ) : (
        <table className="w-full max-w-5xl border-t border-hair bg-sheet">
          <thead>
            <tr className="border-b border-hair text-small text-soft">
              <th className="px-3 py-1.5 text-left">Name</th>
              <th className="text-left">Begins with</th>
              <th className="text-left">May</th>
              <th className="text-left">Used last</th>
              <th>
                <span className="sr-only">End it</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {data.tokens.map((token) => (
              <tr key={token.id} className="border-b border-hair/70 align-top">
                <td className={`px-3 py-1.5 ${token.revokedAt ? 'text-soft line-through' : 'font-semibold'}`}>
                  {token.name}
                </td>
                <td className="py-1.5 font-mono text-small">{token.beginning}…</td>
                <td className="py-1.5 text-small">{token.scopes.join(', ')}</td>
                <td className="py-1.5">
                  <When at={token.lastUsedAt} />
                </td>
                <td className="py-1 pr-2 text-right">
                  {token.revokedAt ? (
                    <span className="text-soft">ended</span>
                  ) : (
                    <Button kind="danger" className="py-0.5" onClick={() => setEnding(token.id)}>
                      End it …
                    </Button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <form
        className="mt-3 grid max-w-3xl gap-2"
        aria-label="New token"
        noValidate
        onSubmit={(event) => void form.handleSubmit(make)(event)}
      >
        <Resumed edit={edit} />
        <Field label="Name of a new one" hint="Who uses it, and for what." wrong={form.formState.errors.name?.message}>
          <TextInput className="w-80" {...form.register('name')} />
        </Field>
        <Ticks control={form.control} name="scopes" label="It may" of={scopes} />
        {form.formState.errors.scopes && (
          <p role="alert" className="text-small text-lost">
            {form.formState.errors.scopes.message}
          </p>
        )}
        <p>
          <Button kind="plain" type="submit" disabled={form.formState.isSubmitting}>
            Make a token
          </Button>
        </p>
      </form>
      <Confirm
        open={ending !== null}
        danger
        title={`End the token of ${name}?`}
        action="End it"
        onClose={() => setEnding(null)}
        onConfirm={async () => {
          await change(() => call('DELETE /api/setup/tokens', { body: { id: ending! } }), `${name} may ask no more`)
          setEnding(null)
        }}
      >
        Whatever uses it is refused from now on. It cannot be brought back; make a new one instead.
      </Confirm>
    </section>
  )
}
