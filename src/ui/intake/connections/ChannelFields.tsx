import type { UseFormRegister } from 'react-hook-form'
import type { KindView } from '@/usecases/intake/connections'
import { home } from '../../kit/locale'
import { Field, Select, TextInput } from '../../kit/Field'
import type { Values } from './values'

/** What comes in of a channel, and what it and its buyers are told. */
export function ChannelFields({ can, register }: { can: KindView['can']; register: UseFormRegister<Values> }) {
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
          <Field
            label="Its locations whose orders come in"
            hint="As the channel names them, with commas between; empty: all. Orders that name none come in."
            className="col-span-2"
          >
            <TextInput {...register('channel.places')} placeholder="Main, Outlet" />
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
      {can.mail ? (
        <label className="col-span-2 flex items-center gap-2">
          <input type="checkbox" className="accent-(--act)" {...register('channel.mailBuyers')} /> Its buyers may be
          written to
        </label>
      ) : (
        <p className="col-span-2 text-small text-soft">
          Its buyers are not written to: the marketplace tells them of their parcels.
        </p>
      )}
    </fieldset>
  )
}

const upper = (text: string): string => text.trim().toUpperCase()
