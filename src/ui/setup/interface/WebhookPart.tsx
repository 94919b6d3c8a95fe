'use client'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { z } from 'zod'
import type { AnswerOf, BodyOf } from '@/usecases/endpoints'
import { call, Refusal } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Confirm } from '../../kit/Confirm'
import { Field, TextInput } from '../../kit/Field'
import { Resumed } from '../../kit/Resumed'
import { StateMark } from '../../kit/StateMark'
import { Ticks } from '../../kit/Ticks'
import { useChange } from '../../kit/useChange'
import { useEditForm } from '../../kit/useEditForm'
import { When } from '../../kit/When'
import { ShownOnce } from '../../kit/ShownOnce'

const newWebhook = z.object({
  name: z.string().trim().min(1, 'Give it a name: whose it is.').max(80),
  url: z
    .string()
    .trim()
    .max(500)
    .refine(
      (text) => URL.canParse(text) && /^https?:$/.test(new URL(text).protocol),
      'Enter its whole address, such as https://hooks.example/gharry.',
    ),
  types: z.array(z.string()).min(1, 'Choose what it is told of.'),
})
type Values = z.infer<typeof newWebhook>
const blank: Values = { name: '', url: '', types: [] }
type Hook = AnswerOf<'GET /api/setup/webhooks'>['webhooks'][number]
type HookChange = BodyOf<'PUT /api/setup/webhooks'>['change']

/** Who is told: addresses that get a signed message for each thing they want to know of. */
export function WebhookPart({
  announcements,
  initial,
}: {
  announcements: readonly (readonly [id: string, about: string])[]
  initial: AnswerOf<'GET /api/setup/webhooks'>
}) {
  const { data } = useQuery({
    queryKey: ['webhooks'],
    queryFn: () => call('GET /api/setup/webhooks'),
    initialData: initial,
    refetchInterval: 5000,
  })
  const change = useChange(['webhooks'])
  const { form, edit } = useEditForm<Values, Values>('new webhook', blank, newWebhook)
  const [fresh, setFresh] = useState<string | null>(null)
  const [removing, setRemoving] = useState<Hook | null>(null)
  const put = (id: string, what: HookChange, said: string): Promise<boolean> =>
    change(() => call('PUT /api/setup/webhooks', { body: { id, change: what } }), said)
  const make = (body: Values): Promise<boolean> =>
    change(
      () =>
        call('POST /api/setup/webhooks', { body }).catch((error: unknown) => {
          if (error instanceof Refusal)
            for (const [field, message] of Object.entries(error.fields)) form.setError(field as 'name', { message })
          throw error
        }),
      ({ secret }) => {
        setFresh(secret)
        edit.drop()
      },
    )
  return (
    <section aria-label="Webhooks" className="mt-6 border-t border-hair pt-4">
      <h2 className="mb-1 text-lead">Webhooks</h2>
      {fresh && (
        <ShownOnce
          what="The secret that messages to the new webhook are signed with."
          secret={fresh}
          onDone={() => setFresh(null)}
        />
      )}
      {data.webhooks.length === 0 && <p className="text-soft">Nobody is told yet.</p>}
      {data.webhooks.map((hook) => (
        <WebhookCard key={hook.id} hook={hook} onChange={put} onRemove={() => setRemoving(hook)} />
      ))}
      <form
        className="mt-3 grid max-w-3xl gap-2"
        aria-label="New webhook"
        noValidate
        onSubmit={(event) => void form.handleSubmit(make)(event)}
      >
        <Resumed edit={edit} />
        <div className="flex flex-wrap gap-3">
          <Field label="Name of a new one" wrong={form.formState.errors.name?.message}>
            <TextInput className="w-64" {...form.register('name')} />
          </Field>
          <Field label="Address" wrong={form.formState.errors.url?.message}>
            <TextInput className="w-96" placeholder="https://hooks.example/gharry" {...form.register('url')} />
          </Field>
        </div>
        <Ticks control={form.control} name="types" label="It is told when" of={announcements} />
        {form.formState.errors.types && (
          <p role="alert" className="text-small text-lost">
            {form.formState.errors.types.message}
          </p>
        )}
        <p>
          <Button kind="plain" type="submit" disabled={form.formState.isSubmitting}>
            Add a webhook
          </Button>
        </p>
      </form>
      <Confirm
        open={removing !== null}
        danger
        title={`Take out ${removing?.name ?? ''}?`}
        action="Take it out"
        onClose={() => setRemoving(null)}
        onConfirm={async () => {
          await put(removing!.id, { remove: true }, `${removing!.name} is told no more`)
          setRemoving(null)
        }}
      >
        It is told nothing more, and what was told is forgotten here.
      </Confirm>
    </section>
  )
}

function WebhookCard({
  hook,
  onChange,
  onRemove,
}: {
  hook: Hook
  onChange: (id: string, change: HookChange, said: string) => Promise<boolean>
  onRemove: () => void
}) {
  const failed = hook.messages.some(({ state }) => state === 'failed')
  return (
    <div className="mt-2 max-w-5xl border border-hair bg-sheet">
      <p className="flex flex-wrap items-center gap-3 px-3 py-2">
        <b className="font-semibold">{hook.name}</b>
        <span className="min-w-0 truncate font-mono text-small">{hook.url}</span>
        <span className="text-small text-soft">{hook.types.join(', ')}</span>
        <span className="ml-auto flex gap-2">
          {failed && (
            <Button
              kind="quiet"
              onClick={() => onChange(hook.id, { again: 'failed' }, 'What failed is on its way again')}
            >
              Send what failed again
            </Button>
          )}
          <Button
            kind="quiet"
            onClick={() => onChange(hook.id, { on: !hook.on }, hook.on ? 'It is told nothing' : 'It is told again')}
          >
            {hook.on ? 'Switch off' : 'Switch on'}
          </Button>
          <Button kind="quiet" onClick={onRemove}>
            Take out …
          </Button>
        </span>
      </p>
      {(hook.problem ?? (hook.on ? null : 'It is switched off.')) && (
        <p className="px-3 pb-2 text-wait">{hook.problem ?? 'It is switched off.'}</p>
      )}
      <details className="border-t border-hair">
        <summary className="cursor-pointer px-3 py-1.5 text-small text-act">Its newest messages</summary>
        <ul>
          {hook.messages.length === 0 && <li className="px-3 py-2 text-soft">None yet.</li>}
          {hook.messages.map((message) => (
            <li key={message.id} className="flex flex-wrap items-center gap-3 border-t border-hair/70 px-3 py-1">
              <StateMark state={message.state} />
              <span>{message.type}</span>
              <span className="font-mono text-small text-soft">{message.message}</span>
              <span className="text-small text-wait">{message.problem}</span>
              <span className="ml-auto">
                <When at={message.sentAt ?? message.nextAt} />
              </span>
              {message.state !== 'queued' && (
                <Button kind="quiet" onClick={() => onChange(hook.id, { again: message.id }, 'It is on its way again')}>
                  Send again
                </Button>
              )}
            </li>
          ))}
        </ul>
      </details>
    </div>
  )
}
