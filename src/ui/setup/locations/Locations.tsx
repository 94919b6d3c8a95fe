'use client'
import { Controller, type UseFormReturn } from 'react-hook-form'
import type { Location } from '@/core/rating'
import type { SetupView } from '@/usecases/setup/showSetup'
import { countryCodes, countryName } from '../../kit/countryName'
import { Field, Select, TextArea, TextInput } from '../../kit/Field'
import { count } from '../../kit/format'
import { Tick } from '../../kit/Tick'
import { Ticks } from '../../kit/Ticks'
import { useInBrowser } from '../../kit/useInBrowser'
import { weekdayNames } from '../../kit/weekdays'
import { ListScreen, Part } from '../ListScreen'
import type { ThingKind } from '../useThing'
import { useSetup } from '../useSetup'
import {
  type LocationForm,
  locationForm,
  locationFormOf,
  type LocationValues,
  withLocationValues,
} from './locationForm'

const countries = countryCodes
  .map((code) => [code, countryName(code)] as const)
  .sort(([, a], [, b]) => a.localeCompare(b, 'en'))
const ownZone = (): string => Intl.DateTimeFormat().resolvedOptions().timeZone

/** Where parcels are sent from. */
export function Locations({ initial }: { initial: SetupView }) {
  const view = useSetup(initial)
  const kind: ThingKind<Location, LocationForm, LocationValues> = {
    list: 'locations',
    one: 'location',
    keyOf: ({ id }) => id,
    nameOf: ({ name }) => name,
    blank: {
      ...{ id: '', name: '', country: '', timeZone: '' },
      address: { company: view.seller.seller.name, lines: [], postcode: '', city: '', phone: '' },
    },
    formOf: locationFormOf,
    schema: locationForm,
    withValues: withLocationValues,
  }
  return (
    <ListScreen
      at="locations"
      about="Where parcels are sent from"
      kind={kind}
      things={view.locations}
      services={Object.fromEntries(view.services.map(({ id, name }) => [id, name]))}
      hint={({ country }) => countryName(country)}
      below={
        view.locations.length > 1 && (
          <p className="px-4 py-3 text-small text-soft">The first one sends what no rule sends from elsewhere.</p>
        )
      }
      empty="No location yet. Add the place that your parcels leave from."
      fields={(form) => <Fields form={form} partners={view.partners} />}
      more={(location) => (
        <Part title="Services that collect here">
          <p>
            {view.services
              .filter(({ locations, retired }) => !retired && locations.includes(location.id))
              .map(({ name }) => name)
              .join(', ') || 'None yet: say so at each service.'}
          </p>
          {location.stock && (
            <p className="text-soft">Stock is counted here, of {count(Object.keys(location.stock).length)} SKUs.</p>
          )}
        </Part>
      )}
    />
  )
}

function Fields({
  form,
  partners,
}: {
  form: UseFormReturn<LocationForm, unknown, LocationValues>
  partners: SetupView['partners']
}) {
  const { errors } = form.formState
  // Lists of countries and zones, and their names, are not the same everywhere.
  const inBrowser = useInBrowser()
  const text = (key: 'name' | 'company' | 'postcode' | 'city' | 'phone', label: string, placeholder = '') => (
    <Field label={label} wrong={errors[key]?.message}>
      <TextInput className="w-full" placeholder={placeholder} {...form.register(key)} />
    </Field>
  )
  return (
    <>
      <Part title="Place">
        <div className="grid grid-cols-2 gap-3">
          {text('name', 'Name', 'Main warehouse')}
          <Field label="Country" wrong={errors.country?.message}>
            <Select
              className="w-full"
              {...form.register('country', {
                onChange: () => {
                  if (form.getValues('timeZone') === '') form.setValue('timeZone', ownZone())
                },
              })}
            >
              <option value="">Choose …</option>
              {(inBrowser ? countries : [[form.getValues('country'), ''] as const]).map(([code, name]) => (
                <option key={code} value={code}>
                  {name}
                </option>
              ))}
            </Select>
          </Field>
          {text('company', 'Sender on labels')}
          <Field label="Time zone" wrong={errors.timeZone?.message} hint="Cut-offs and days are those of its clocks.">
            <TextInput
              className="w-full"
              list="time-zones"
              placeholder="Europe/Brussels"
              {...form.register('timeZone')}
            />
            <datalist id="time-zones">
              {(inBrowser ? Intl.supportedValuesOf('timeZone') : []).map((zone) => (
                <option key={zone} value={zone} />
              ))}
            </datalist>
          </Field>
          <Field label="Street and number" wrong={errors.lines?.message}>
            <TextArea rows={2} className="w-full" {...form.register('lines')} />
          </Field>
          <div className="grid content-start gap-3">
            <div className="grid grid-cols-[8rem_1fr] gap-3">
              {text('postcode', 'Postcode')}
              {text('city', 'Town')}
            </div>
          </div>
          {text('phone', 'Telephone')}
        </div>
      </Part>
      {partners.length > 0 && (
        <Part title="Whose place it is">
          <div className="w-80">
            <Field
              label="Papers and orders are handed over to"
              hint="As soon as a label is bought. A rule can say otherwise."
            >
              <Select className="w-full" {...form.register('partner')}>
                <option value="">nobody: it is our own</option>
                {partners.map(({ id, name }) => (
                  <option key={id} value={id}>
                    {name}
                  </option>
                ))}
              </Select>
            </Field>
          </div>
        </Part>
      )}
      <Part title="At the bench">
        {(
          [
            ['checked', 'Nothing is handed over that was not checked by scan'],
            ['weighed', 'Each parcel is weighed'],
          ] as const
        ).map(([key, label]) => (
          <Controller
            key={key}
            control={form.control}
            name={key}
            render={({ field }) => <Tick label={label} on={field.value} onChange={field.onChange} />}
          />
        ))}
      </Part>
      <Part title="When parcels are handed over here">
        <Ticks control={form.control} name="openDays" label="Open on" of={weekdayNames()} />
        {errors.openDays && (
          <p role="alert" className="text-small text-lost">
            {errors.openDays.message}
          </p>
        )}
        <div className="mt-2">
          <Field
            label="Closed on these days, besides public holidays"
            wrong={errors.closedOn?.message}
            hint="Days with a semicolon between."
          >
            <TextInput className="w-full" placeholder="2026-12-24; 2026-12-31" {...form.register('closedOn')} />
          </Field>
        </div>
      </Part>
    </>
  )
}
