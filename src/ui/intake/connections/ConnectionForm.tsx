'use client'
import { home } from '../../kit/locale'
import { X } from 'lucide-react'
import { useState } from 'react'
import { useForm, type UseFormRegister } from 'react-hook-form'
import type { ChannelSettings } from '@/data'
import type { ConnectionInput, ConnectionView, KindView, TestView } from '@/usecases/intake/connections'
import { call, Refusal } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Confirm } from '../../kit/Confirm'
import { Field, Select, TextArea, TextInput } from '../../kit/Field'
import { useChange } from '../../kit/useChange'
import { useSay } from '../../kit/Toast'

type Values = {
  name: string
  kind: string
  carrier: string
  on: boolean
  settings: Record<string, string>
  channel: Omit<ChannelSettings, 'name' | 'retired' | 'fromDay'> & { fromDay: string }
}

const channelDefaults: Values['channel'] = {
  tellWhen: 'bought',
  everyMinutes: 5,
  fromDay: '',
  statuses: '',
  mailBuyers: true,
  currency: '',
  language: '',
}

interface Props {
  /** None when a new one is set up. */
  readonly connection: ConnectionView | undefined
  readonly role: ConnectionView['role']
  readonly kinds: readonly KindView[]
  readonly carriers: readonly { readonly id: string; readonly name: string }[]
  readonly onSaved: (id: string) => void
  readonly onClose: () => void
}

/** The settings of a connection: what its kind asks for, and how its channel is treated. */
export function ConnectionForm({ connection, role, kinds, carriers, onSaved, onClose }: Props) {
  const fitting = kinds.filter((kind) => kind.role === role)
  const change = useChange(['connections'], ['intake'], ['line'])
  const say = useSay()
  const form = useForm<Values>({ defaultValues: valuesOf(connection, fitting[0]?.id ?? '') })
  const { register, handleSubmit, setError, setValue, clearErrors, watch, reset, formState } = form
  // What the form began with stays its measure: a newer one that is fetched meanwhile is no licence to overwrite it.
  const [version, setVersion] = useState(connection?.version)
  const overtaken = connection !== undefined && version !== undefined && connection.version > version
  const [tested, setTested] = useState<TestView | null>(null)
  const [asking, setAsking] = useState(false)
  const kind = fitting.find(({ id }) => id === watch('kind'))
  const { errors } = formState

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
      aria-label={connection ? connection.name : `Connect a ${role}`}
      className="flex w-[27rem] shrink-0 flex-col overflow-auto border-l border-hair bg-sheet max-[899px]:w-full max-[899px]:border-l-0"
      onKeyDown={(event) => {
        if (event.key === 'Escape') onClose()
      }}
    >
      <header className="flex items-center px-4 pt-3 pb-1">
        <h2 className="text-lead">{connection ? connection.name : `Connect a ${role}`}</h2>
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
        <label className="flex items-center gap-2">
          <input type="checkbox" className="accent-(--act)" {...register('on')} /> It is used
        </label>
        <p className="flex flex-wrap gap-2">
          <Button kind="filled" type="submit" disabled={formState.isSubmitting}>
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
          <p>
            {role === 'channel'
              ? 'It is not asked for orders and not told of parcels any more. Its orders stay. Its credentials are forgotten.'
              : 'Nothing is bought with this account any more. Its credentials are forgotten.'}
          </p>
        </Confirm>
      )}
    </aside>
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
  const hint = kept ? 'It is kept, and never shown. Leave it empty to keep it.' : (field.help ?? '')
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
      {field.input === 'lines' && <TextArea rows={3} {...register(name)} />}
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

/** What comes in of a channel, and what it and its buyers are told. */
function ChannelFields({ can, register }: { can: KindView['can']; register: UseFormRegister<Values> }) {
  return (
    <fieldset className="grid grid-cols-2 gap-3 border-t border-hair pt-2">
      <legend className="sr-only">The channel</legend>
      {can.fetch && (
        <>
          <Field label="Fetches orders">
            <Select {...register('channel.everyMinutes', { valueAsNumber: true })}>
              <option value={0}>only on demand</option>
              <option value={1}>every minute</option>
              {[5, 15, 60].map((n) => (
                <option key={n} value={n}>
                  every {n} minutes
                </option>
              ))}
            </Select>
          </Field>
          <Field label="Orders from this day on" hint="Empty: all.">
            <TextInput type="date" className="w-full min-w-0" {...register('channel.fromDay')} />
          </Field>
          <Field
            label="Statuses that come in"
            hint="With commas between; empty: all that are open."
            className="col-span-2"
          >
            <TextInput {...register('channel.statuses')} placeholder="open, paid" />
          </Field>
        </>
      )}
      {can.told && (
        <Field label="Is told the tracking number" className="col-span-2">
          <Select {...register('channel.tellWhen')}>
            <option value="bought">when the label is bought</option>
            <option value="dispatched">when it is handed over</option>
          </Select>
        </Field>
      )}
      <Field label="Currency" hint="For orders that name none.">
        <TextInput
          {...register('channel.currency', { setValueAs: upper })}
          maxLength={3}
          placeholder={home()}
          className="w-full min-w-0"
        />
      </Field>
      <Field label="Language of its buyers" hint="Such as nl or de-AT.">
        <TextInput {...register('channel.language')} maxLength={5} placeholder="en" className="w-full min-w-0" />
      </Field>
      <label className="col-span-2 flex items-center gap-2">
        <input type="checkbox" className="accent-(--act)" {...register('channel.mailBuyers')} /> Its buyers may be
        written to
      </label>
    </fieldset>
  )
}

const upper = (text: string): string => text.trim().toUpperCase()

/** What a test has found is seen, however long the form is. */
const intoView = (found: HTMLElement | null): void => found?.scrollIntoView({ block: 'nearest' })

function Tested({ tested }: { tested: TestView }) {
  return (
    <div role="status" ref={intoView} className={tested.works ? 'bg-done-soft p-2.5' : 'bg-lost-soft p-2.5'}>
      <p className={tested.works ? 'text-done' : 'text-lost'}>
        {tested.works ? '● ' : '◆ '}
        {tested.sentence}
      </p>
      {tested.orders.length > 0 && (
        <table className="mt-1 w-full text-small">
          <thead className="sr-only">
            <tr>
              <th>Order</th>
              <th>Buyer</th>
              <th>To</th>
            </tr>
          </thead>
          <tbody>
            {tested.orders.map((order) => (
              <tr key={order.number} className="border-t border-hair/60">
                <td className="py-0.5 pr-2 font-mono">{order.number}</td>
                <td className="pr-2">{order.buyer}</td>
                <td>{order.to}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  )
}

function valuesOf(connection: ConnectionView | undefined, kind: string): Values {
  const { fromDay, ...channel } = connection?.channel ?? { ...channelDefaults, fromDay: null }
  return {
    name: connection?.name ?? '',
    kind: connection?.kind ?? kind,
    carrier: '',
    on: connection?.on ?? true,
    settings: { ...connection?.settings },
    channel: { ...channelDefaults, ...channel, fromDay: fromDay ?? '' },
  }
}

function inputOf(values: Values, role: ConnectionView['role'], version: number | undefined): ConnectionInput {
  const { tellWhen, everyMinutes, statuses, mailBuyers, currency, language, fromDay } = values.channel
  return {
    role,
    kind: values.kind,
    name: values.name,
    settings: values.settings,
    on: values.on,
    ...(version === undefined ? {} : { version }),
    ...(role === 'carrier' && values.carrier ? { carrier: values.carrier } : {}),
    ...(role === 'channel'
      ? {
          channel: {
            ...{ tellWhen, everyMinutes, statuses, mailBuyers, currency, language },
            fromDay: fromDay === '' ? null : fromDay,
          },
        }
      : {}),
  }
}
