'use client'
import { homeSign } from '../../kit/locale'
import type { ReactNode } from 'react'
import { type Control, Controller } from 'react-hook-form'
import { offers, type Service } from '@/core/rating'
import type { ServicesView } from '@/usecases/ledger/services'
import { Button } from '../../kit/Button'
import { Field, TextInput } from '../../kit/Field'
import { Resumed } from '../../kit/Resumed'
import { TheirChange } from '../../kit/TheirChange'
import { useEditForm } from '../../kit/useEditForm'
import { coverage, formOf, type ServiceForm, serviceForm, type ServiceValues, withValues } from './serviceForm'
import { Tick } from './Tick'

const days = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']

/** The fields of one service; what is typed is kept until it is saved or put back. */
export function ServiceEditor({
  service,
  view,
  onSave,
}: {
  service: Service
  view: ServicesView
  onSave: (service: Service) => Promise<boolean>
}) {
  const { form, edit } = useEditForm<ServiceForm, ServiceValues>(`service ${service.id}`, formOf(service), serviceForm)
  const { errors } = form.formState
  const text = (
    key:
      | 'name'
      | 'cutOff'
      | 'weight'
      | 'longestSide'
      | 'girth'
      | 'parcels'
      | 'dangerousGoods'
      | 'cash'
      | 'included'
      | 'upTo',
    label: string,
    placeholder = '',
  ) => (
    <Field label={label} wrong={errors[key]?.message}>
      <TextInput placeholder={placeholder} className="w-full" {...form.register(key)} />
    </Field>
  )
  const ticks = (
    key: 'locations' | 'collects' | 'delivers' | 'offers' | 'claimsBorneBy',
    label: string,
    of: readonly (readonly [string | number, string])[],
  ) => <Ticks key={key} control={form.control} name={key} label={label} of={of} />
  const tick = (key: 'postOfficeBox' | 'domesticOnly', label: string) => (
    <Controller
      control={form.control}
      name={key}
      render={({ field }) => <Tick label={label} on={field.value} onChange={field.onChange} />}
    />
  )
  return (
    <form
      className="min-h-0 overflow-auto px-5 py-3"
      tabIndex={0}
      aria-label={`Service ${service.name}`}
      onSubmit={(event) =>
        void form.handleSubmit(async (values) => {
          if (await onSave(withValues(service, values))) edit.drop()
        })(event)
      }
    >
      <div className="flex min-h-9 items-center gap-3 pb-2">
        <h2 className="text-lead">{service.name}</h2>
        {edit.editing && (
          <span className="ml-auto flex gap-2">
            <Button kind="quiet" onClick={edit.drop}>
              Put back
            </Button>
            <Button kind="filled" type="submit" disabled={edit.overtaken || form.formState.isSubmitting}>
              Save and route again
            </Button>
          </span>
        )}
      </div>
      <Resumed edit={edit} />
      {edit.overtaken && (
        <TheirChange
          what={`“${service.name}”`}
          mine={formLines(edit.value)}
          theirs={formLines(formOf(service))}
          onTake={edit.drop}
          onKeep={edit.know}
        />
      )}
      <Part title="When and from where">
        <div className="grid grid-cols-[2fr_1fr] gap-3">
          {text('name', 'Name')}
          {text('cutOff', 'Cut-off', '16:30')}
        </div>
        {ticks(
          'locations',
          'Collects in',
          view.locations.map(({ id, name }) => [id, name] as const),
        )}
        {ticks(
          'collects',
          'Collects on',
          days.map((name, i) => [i + 1, name] as const),
        )}
        {ticks(
          'delivers',
          'Delivers on',
          days.map((name, i) => [i + 1, name] as const),
        )}
        {service.collections?.map((own) => (
          <p key={own.location} className="text-small text-soft">
            In {view.locations.find(({ id }) => id === own.location)?.name ?? own.location} until {own.cutOff}.
          </p>
        ))}
      </Part>
      <Part title="Takes">
        <div className="grid grid-cols-2 gap-3 min-[900px]:grid-cols-4">
          {text('weight', 'Weight of a parcel')}
          {text('longestSide', 'Longest side')}
          {text('girth', 'Length plus girth')}
          {text('parcels', 'Parcels in a shipment', 'any number')}
        </div>
        <div className="mt-2 grid grid-cols-2 gap-3">
          {text('dangerousGoods', 'Dangerous goods', 'none')}
          {text('cash', `Collects on delivery at most, ${homeSign()}`, 'no limit')}
        </div>
        <p className="flex gap-5">
          {tick('postOfficeBox', 'delivers to post-office boxes')}
          {tick('domesticOnly', 'stays within the country')}
        </p>
      </Part>
      <Part title="Offers">
        {ticks(
          'offers',
          '',
          offers.map((offer) => [offer, offer] as const),
        )}
        <div className="grid w-80 grid-cols-2 gap-3">
          {text('included', `Cover included, ${homeSign()}`)}
          {text('upTo', `Cover at most, ${homeSign()}`)}
        </div>
        {ticks(
          'claimsBorneBy',
          'Claims for late delivery are borne by',
          view.channels.map(({ id, name }) => [id, name] as const),
        )}
      </Part>
      <Part title="Goes to">
        <ul className="text-small">
          {coverage(service).map((line) => (
            <li key={line} className="py-0.5">
              {line}
            </li>
          ))}
        </ul>
      </Part>
    </form>
  )
}

/** What is typed, one line a field, for people. */
const formLines = (form: ServiceForm): string[] =>
  Object.entries(form).map(([key, value]) => `${key}: ${Array.isArray(value) ? value.join(', ') : String(value)}`)

const Part = ({ title, children }: { title: string; children: ReactNode }) => (
  <section className="border-t border-hair py-2.5">
    <h3 className="pb-1.5 text-small text-soft">{title}</h3>
    {children}
  </section>
)

/** Which of a list hold. */
function Ticks({
  control,
  name,
  label,
  of,
}: {
  control: Control<ServiceForm, unknown, ServiceValues>
  name: 'locations' | 'collects' | 'delivers' | 'offers' | 'claimsBorneBy'
  label: string
  of: readonly (readonly [string | number, string])[]
}) {
  return (
    <Controller
      control={control}
      name={name}
      render={({ field }) => {
        const on: readonly (string | number)[] = field.value
        return (
          <fieldset className="mt-1 flex flex-wrap items-center gap-x-4">
            {label && <legend className="float-left mr-3 text-small text-soft">{label}</legend>}
            {of.map(([id, text]) => (
              <Tick
                key={id}
                label={text}
                on={on.includes(id)}
                onChange={() =>
                  // In the order of the list, so that what is ticked and unticked is as it was.
                  field.onChange(of.map(([one]) => one).filter((one) => on.includes(one) !== (one === id)))
                }
              />
            ))}
          </fieldset>
        )
      }}
    />
  )
}
