'use client'
import { Controller, type UseFormReturn } from 'react-hook-form'
import { offers, readZoneTable, type Service, type ZoneRow } from '@/core/rating'
import type { SetupView } from '@/usecases/setup/showSetup'
import { Field, Select, TextInput } from '../../kit/Field'
import { weightText } from '../../kit/format'
import { homeSign } from '../../kit/locale'
import { Tick } from '../../kit/Tick'
import { Ticks } from '../../kit/Ticks'
import { weekdayNames } from '../../kit/weekdays'
import { ListScreen, Part } from '../ListScreen'
import type { ThingKind } from '../useThing'
import { useSetup } from '../useSetup'
import { Demands } from './Demands'
import { Prices } from './Prices'
import { blankService, formOf, type ServiceForm, serviceForm, type ServiceValues, withValues } from './serviceForm'
import { ZoneFields } from './ZoneFields'

type Form = UseFormReturn<ServiceForm, unknown, ServiceValues>

/** What services take, offer, where they go and what they cost. */
export function Services({ initial }: { initial: SetupView }) {
  const view = useSetup(initial)
  const { services, carriers } = view
  const names = Object.fromEntries(services.map(({ id, name }) => [id, name]))
  const carrierOf = ({ carrier }: Service): string => carriers.find(({ id }) => id === carrier)?.name ?? carrier
  const kind: ThingKind<Service, ServiceForm, ServiceValues> = {
    list: 'services',
    one: 'service',
    keyOf: ({ id }) => id,
    nameOf: ({ name }) => name,
    blank: {
      ...blankService(view.locations.filter(({ retired }) => !retired).map(({ id }) => id)),
      carrier: carriers.length === 1 ? carriers[0]!.id : '',
    },
    formOf,
    schema: serviceForm,
    withValues,
  }
  return (
    <ListScreen
      at="services"
      about={`${services.length} services of ${carriers.length} carriers`}
      kind={kind}
      things={services}
      services={names}
      groupOf={carrierOf}
      hint={({ limits, cutOff }) => `to ${weightText(limits.weight)}, until ${cutOff}`}
      empty="No service yet. It says what a carrier takes, where it goes and when it collects."
      fields={(form, service) => <Fields form={form} service={service} view={view} />}
      more={(service) => <Prices key={service.id} service={service} view={view} />}
      below={<Demands view={view} />}
    />
  )
}

function Fields({ form, service, view }: { form: Form; service: Service; view: SetupView }) {
  const { errors } = form.formState
  const text = (
    key: Exclude<
      keyof ServiceForm,
      | 'locations'
      | 'collects'
      | 'delivers'
      | 'offers'
      | 'claimsBorneBy'
      | 'zones'
      | 'postOfficeBox'
      | 'domesticOnly'
      | 'fetched'
      | 'carrier'
    >,
    label: string,
    placeholder = '',
    hint = '',
  ) => (
    <Field label={label} wrong={errors[key]?.message} hint={hint}>
      <TextInput placeholder={placeholder} className="w-full" {...form.register(key)} />
    </Field>
  )
  const tick = (key: 'postOfficeBox' | 'domesticOnly' | 'fetched', label: string) => (
    <Controller
      control={form.control}
      name={key}
      render={({ field }) => <Tick label={label} on={field.value} onChange={field.onChange} />}
    />
  )
  const isNew = service.id === ''
  const days = weekdayNames()
  return (
    <>
      <Part title="When and from where">
        <div className={`grid gap-3 ${isNew ? 'grid-cols-[1fr_1fr_2fr_6rem]' : 'grid-cols-[2fr_6rem]'}`}>
          {isNew && (
            <Field label="Carrier" wrong={errors.carrier?.message}>
              <Select {...form.register('carrier')}>
                <option value="">Choose …</option>
                {view.carriers.map(({ id, name }) => (
                  <option key={id} value={id}>
                    {name}
                  </option>
                ))}
              </Select>
            </Field>
          )}
          {isNew && text('code', 'Code', 'ground', 'As the carrier’s interface calls it.')}
          {text('name', 'Name')}
          {text('cutOff', 'Cut-off', '16:30')}
        </div>
        {view.locations.length === 0 ? (
          <p className="mt-1 text-wait">△ There is no location yet that it could collect in: add one first.</p>
        ) : (
          <Ticks
            control={form.control}
            name="locations"
            label="Collects in"
            of={view.locations
              .filter(({ id, retired }) => !retired || service.locations.includes(id))
              .map(({ id, name }) => [id, name])}
          />
        )}
        <Ticks control={form.control} name="collects" label="Collects on" of={days} />
        <Ticks control={form.control} name="delivers" label="Delivers on" of={days} />
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
          {tick('fetched', 'the buyer fetches it where it is packed: only when it is named')}
        </p>
      </Part>
      <Part title="Offers">
        <Ticks control={form.control} name="offers" label="" of={offers.map((offer) => [offer, offer])} />
        <div className="grid w-80 grid-cols-2 gap-3">
          {text('included', `Cover included, ${homeSign()}`)}
          {text('upTo', `Cover at most, ${homeSign()}`)}
        </div>
        <div className="mt-2 grid grid-cols-2 gap-3 min-[900px]:grid-cols-5">
          {text('latePercent', 'Owed when late, % of charge', 'nothing')}
          {text('lateWithin', 'claimed within, days', '14')}
          {text('lostAfter', 'Lost when unseen for, days', 'never')}
          {text('lostWithin', 'claimed within, days', '90')}
          {text('damagedWithin', 'Damage claimed within, days', 'never')}
        </div>
        {view.channels.length > 0 && (
          <Ticks
            control={form.control}
            name="claimsBorneBy"
            label="Claims for late delivery are borne by"
            of={view.channels.map(({ id, name }) => [id, name])}
          />
        )}
      </Part>
      <Part title="Goes to">
        <Controller
          control={form.control}
          name="zones"
          render={({ field }) => (
            <ZoneFields
              rows={field.value as ZoneRow[]}
              problems={readZoneTable(field.value.map((cells, i) => ({ line: i + 1, cells }))).problems}
              wrong={
                errors.zones?.message ?? (errors.zones as { root?: { message?: string } } | undefined)?.root?.message
              }
              homes={view.locations.filter(({ retired }) => !retired).map(({ country }) => country)}
              onChange={field.onChange}
            />
          )}
        />
      </Part>
    </>
  )
}
