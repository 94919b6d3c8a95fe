'use client'
import { z } from 'zod'
import { type Role, roleIds } from '@/core/people'
import { call, Refusal } from '../kit/api'
import { Button } from '../kit/Button'
import { Field, Select, TextInput } from '../kit/Field'
import { Resumed } from '../kit/Resumed'
import { useChange } from '../kit/useChange'
import { useEditForm } from '../kit/useEditForm'

const newPerson = z.object({
  name: z.string().trim().min(1, 'Give a name.').max(80),
  email: z.string().trim().min(3, 'Give an e-mail address: they sign in with it.').max(250),
  role: z.enum(roleIds),
  location: z.string(),
})
type Values = z.infer<typeof newPerson>

/** Somebody new: a name, an address and a role; they get a link to choose their password by. */
export function InviteForm({
  roles,
  locations,
  onLink,
}: {
  roles: readonly { readonly id: Role; readonly name: string; readonly about: string }[]
  locations: readonly { readonly id: string; readonly name: string }[]
  onLink: (link: { readonly for: string; readonly link: string }) => void
}) {
  const blank: Values = { name: '', email: '', role: 'dispatcher', location: locations[0]?.id ?? '' }
  const { form, edit } = useEditForm<Values, Values>('new person', blank, newPerson)
  const change = useChange(['people'])
  const { errors, isSubmitting } = form.formState
  const role = form.watch('role')
  const add = (body: Values): Promise<boolean> =>
    change(
      () =>
        call('POST /api/people', { body }).catch((error: unknown) => {
          if (error instanceof Refusal)
            for (const [field, message] of Object.entries(error.fields))
              form.setError(field as keyof Values, { message })
          throw error
        }),
      ({ link }) => {
        onLink({ for: body.name, link })
        edit.drop()
      },
    )
  return (
    <form
      className="mt-6 grid max-w-4xl gap-2"
      aria-label="New person"
      noValidate
      onSubmit={(event) => void form.handleSubmit(add)(event)}
    >
      <h2 className="text-lead">Add somebody</h2>
      <Resumed edit={edit} />
      <div className="flex flex-wrap items-start gap-4">
        <Field label="Name" wrong={errors.name?.message}>
          <TextInput className="w-52" autoComplete="off" {...form.register('name')} />
        </Field>
        <Field label="E-mail address" wrong={errors.email?.message}>
          <TextInput className="w-64" autoComplete="off" {...form.register('email')} />
        </Field>
        <Field label="Role">
          <Select {...form.register('role')}>
            {roles.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </Select>
        </Field>
        {role === 'partner' && (
          <Field label="Location" wrong={errors.location?.message}>
            <Select {...form.register('location')}>
              {locations.map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
            </Select>
          </Field>
        )}
      </div>
      <p className="text-soft">{roles.find(({ id }) => id === role)?.about}</p>
      <p>
        <Button type="submit" disabled={isSubmitting}>
          Add, and make a link
        </Button>
      </p>
    </form>
  )
}
