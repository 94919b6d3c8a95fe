'use client'
import { X } from 'lucide-react'
import { useState } from 'react'
import { type Control, useForm, type UseFormRegister } from 'react-hook-form'
import type { ConnectionView, KindView, TestView } from '@/usecases/intake/connections'
import { call, Refusal } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Confirm } from '../../kit/Confirm'
import { Field, Select, TextArea, TextInput } from '../../kit/Field'
import { Ticks } from '../../kit/Ticks'
import { useChange } from '../../kit/useChange'
import { useSay } from '../../kit/Toast'
import { Authorise } from './Authorise'
import { ChannelFields } from './ChannelFields'
import { MessagesOf } from './MessagesOf'
import { Tested } from './Tested'
import { inputOf, valuesOf, type Values } from './values'

interface Props {
  /** None when a new one is set up. */
  readonly connection: ConnectionView | undefined
  readonly role: ConnectionView['role']
  readonly kinds: readonly KindView[]
  readonly carriers: readonly { readonly id: string; readonly name: string }[]
  readonly locations: readonly { readonly id: string; readonly name: string }[]
  /** The carrier that an account is connected of, where that was said already. */
  readonly carrier: string
  readonly onSaved: (id: string) => void
  readonly onClose: () => void
}

/** The settings of a connection: what its kind asks for, and how its channel is treated. */
export function ConnectionForm({ connection, role, kinds, carriers, locations, carrier, onSaved, onClose }: Props) {
  const fitting = kinds.filter((kind) => kind.role === role)
  const change = useChange(['connections'], ['intake'], ['line'])
  const say = useSay()
  const form = useForm<Values>({
    defaultValues: valuesOf(connection, fitting[0]?.id ?? '', carrier),
  })
  const { register, handleSubmit, setError, setValue, clearErrors, watch, reset, formState } = form
  // What the form began with stays its measure: a newer one that is fetched meanwhile is no licence to overwrite it.
  const [version, setVersion] = useState(connection?.version)
  const overtaken = connection !== undefined && version !== undefined && connection.version > version
  const [tested, setTested] = useState<TestView | null>(null)
  const [asking, setAsking] = useState(false)
  const kind = fitting.find(({ id }) => id === watch('kind'))
  const { errors } = formState
  const title = connection?.name ?? `Connect a ${role === 'messenger' ? 'gateway for text messages' : role}`

  /** What the server says of fields is at the fields. */
  const atFields = (error: unknown): never => {
    if (error instanceof Refusal)
      for (const [field, message] of Object.entries(error.fields))
        setError((field in { name: 1, kind: 1, carrier: 1 } ? field : `settings.${field}`) as 'name', { message })
    throw error
  }
  const save = (values: Values): Promise<boolean> => {
    clearErrors()
    const body = inputOf(values, role, version)
    return change(
      () =>
        (connection
          ? call('PUT /api/intake/connections/:id', { path: { id: connection.id }, body })
          : call('POST /api/intake/connections', { body })
        ).catch(atFields),
      ({ id, version: saved }) => {
        setVersion(saved)
        // What is secret is not kept on the screen.
        for (const field of kind?.fields ?? []) if (field.secret) setValue(`settings.${field.id}`, '')
        say(connection ? 'The connection is saved' : `${values.name.trim()} is connected`)
        onSaved(id)
      },
    )
  }
  const test = (values: Values): Promise<boolean> => {
    clearErrors()
    setTested(null)
    const body = { ...inputOf(values, role, version), ...(connection ? { id: connection.id } : {}) }
    return change(() => call('POST /api/intake/connections/test', { body }).catch(atFields), setTested)
  }
  const remove = (): Promise<boolean> =>
    change(
      () =>
        call('DELETE /api/intake/connections/:id', {
          path: { id: connection!.id },
          body: { version: version ?? 0 },
        }),
      () => {
        say(`${connection!.name} is taken out`)
        onClose()
      },
    )
  return (
    <aside
      aria-label={title}
      className="flex w-[27rem] shrink-0 flex-col overflow-auto border-l border-hair bg-sheet max-[899px]:w-full max-[899px]:border-l-0"
      onKeyDown={(event) => {
        if (event.key === 'Escape') onClose()
      }}
    >
      <header className="flex items-center px-4 pt-3 pb-1">
        <h2 className="text-lead">{title}</h2>
        <button aria-label="Close" className="ml-auto grid size-6 place-items-center hover:text-act" onClick={onClose}>
          <X className="size-4" />
        </button>
      </header>
      <form className="grid gap-3 px-4 pb-6" noValidate onSubmit={(event) => void handleSubmit(save)(event)}>
        {overtaken && (
          <p role="alert" className="bg-wait-soft p-2.5">
            Somebody else has changed this connection since.{' '}
            <Button
              kind="quiet"
              onClick={() => {
                reset(valuesOf(connection, ''))
                setVersion(connection.version)
              }}
            >
              Show theirs
            </Button>
            <Button kind="quiet" onClick={() => setVersion(connection.version)}>
              Keep mine
            </Button>
          </p>
        )}
        {connection?.authorised && <Authorise connection={connection} changed={formState.isDirty} />}
        <Field label="Kind" hint={kind?.about ?? ''} wrong={errors.kind?.message}>
          <Select {...register('kind')} disabled={connection !== undefined} autoFocus={connection === undefined}>
            {fitting.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </Select>
        </Field>
        {role === 'carrier' && !connection && (
          <Field label="Carrier" wrong={errors.carrier?.message}>
            <Select {...register('carrier')}>
              <option value="">Choose …</option>
              {carriers.map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
            </Select>
          </Field>
        )}
        <Field label="Name" hint="As people here call it." wrong={errors.name?.message}>
          <TextInput {...register('name')} />
        </Field>
        {kind?.fields.map((field) => (
          <SettingInput
            key={`${kind.id} ${field.id}`}
            field={field}
            kept={connection?.kept.includes(field.id) ?? false}
            register={register}
            wrong={errors.settings?.[field.id]?.message}
          />
        ))}
        {role === 'channel' && kind && <ChannelFields can={kind.can} register={register} />}
        <PaceOf role={role} register={register} wrong={errors.perSecond} />
        <AccountOf role={role} control={form.control} locations={locations} />
        <label className="flex items-center gap-2">
          <input type="checkbox" className="accent-(--act)" {...register('on')} /> It is used
        </label>
        <p className="flex flex-wrap gap-2">
          <Button kind="filled" calls="POST /api/intake/connections" type="submit" disabled={formState.isSubmitting}>
            {connection ? 'Save' : 'Connect'}
          </Button>
          <Button onClick={() => handleSubmit(test)()}>Test</Button>
          {connection && (
            <Button kind="danger" className="ml-auto" onClick={() => setAsking(true)}>
              Take out …
            </Button>
          )}
        </p>
        {tested && <Tested tested={tested} />}
        {connection?.messages && <MessagesOf messages={connection.messages} />}
      </form>
      {connection && (
        <Confirm
          open={asking}
          danger
          title={`Take out ${connection.name}?`}
          action="Take it out"
          onClose={() => setAsking(false)}
          onConfirm={() => remove()}
        >
          <p>{takenOut[role]}</p>
        </Confirm>
      )}
    </aside>
  )
}

/** What taking a connection out means. */
const takenOut: Readonly<Record<Props['role'], string>> = {
  channel:
    'It is not asked for orders and not told of parcels any more. Its orders stay. Its credentials are forgotten.',
  carrier: 'Nothing is bought with this account any more. Its credentials are forgotten.',
  messenger:
    'No text messages are sent any more. Those that wait go by the next gateway. Its credentials are forgotten.',
  partner: 'Nothing is handed over to it any more. What it has stays there. Its credentials are forgotten.',
}

/** How many labels an account may be asked for in a second; asked of carriers. */
function PaceOf({
  role,
  register,
  wrong,
}: Pick<Props, 'role'> & { register: UseFormRegister<Values>; wrong: { readonly message?: string } | undefined }) {
  if (role !== 'carrier') return null
  return (
    <Field
      label="Labels a second, at most"
      hint="As the contract says. Empty: as fast as it answers; when it asks for fewer calls, it gets fewer."
      wrong={wrong?.message}
    >
      <TextInput
        inputMode="numeric"
        {...register('perSecond', {
          setValueAs: (text: string) => text.trim(),
          validate: (text) =>
            /^(?:[1-9]\d{0,2}|1000)?$/.test(text.trim()) || 'A whole number from 1 to 1,000, or nothing.',
        })}
      />
    </Field>
  )
}

/** Which locations buy with an account; asked of carriers where there are several. */
function AccountOf({ role, control, locations }: Pick<Props, 'role' | 'locations'> & { control: Control<Values> }) {
  if (role !== 'carrier' || locations.length < 2) return null
  return (
    <div>
      <Ticks
        control={control}
        name="locations"
        label="Used for parcels from"
        of={locations.map(({ id, name }) => [id, name])}
      />
      <p className="text-small text-soft">None ticked: from everywhere that has no account of its own.</p>
    </div>
  )
}

function SettingInput({
  field,
  kept,
  register,
  wrong,
}: {
  field: KindView['fields'][number]
  kept: boolean
  register: UseFormRegister<Values>
  wrong: string | undefined
}) {
  const name = `settings.${field.id}` as const
  const hint = kept
    ? 'It is kept, and never shown. Leave it empty to keep it; a new address needs it again.'
    : (field.help ?? '')
  return (
    <Field label={field.label} hint={hint} wrong={wrong}>
      {field.input === 'choice' && (
        <Select {...register(name)}>
          {field.choices?.map(({ id, name: said }) => (
            <option key={id} value={id}>
              {said}
            </option>
          ))}
        </Select>
      )}
      {field.input === 'lines' && <TextArea rows={6} {...register(name)} />}
      {field.input !== 'choice' && field.input !== 'lines' && (
        <TextInput
          type={typeOf(field)}
          autoComplete={field.secret ? 'new-password' : 'off'}
          spellCheck={false}
          placeholder={kept ? '••••••••' : ''}
          {...register(name)}
        />
      )}
    </Field>
  )
}

function typeOf({ secret, input }: KindView['fields'][number]): 'password' | 'url' | 'text' {
  if (secret) return 'password'
  return input === 'address' ? 'url' : 'text'
}
